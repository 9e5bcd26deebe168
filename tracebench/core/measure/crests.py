"""Crests of a wave: local maxima that stand high enough and stand out far enough."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.samples import Samples


def crests(wave: Samples, height: float, prominence: float, apart: int = 1) -> NDArray[np.int64]:
    """Samples at local maxima of at least `height`, `apart` samples from any higher one, that stand out.

    A crest's prominence is how far one must come down from it, on the side where that is less, before the wave rises
    higher or ends. One that is flat on top stands in its middle. The definitions are those of SciPy's `find_peaks`,
    which takes a second to load.
    """
    found = _maxima(wave)
    found = found[wave[found] >= height]
    if apart > 1:
        found = _apart(found, wave[found], apart)
    # None stands out by more than it stands over the deepest trough.
    found = found[wave[found] - wave.min(initial=np.inf) >= prominence]
    return np.array([at for at in found.tolist() if _prominence(wave, at) >= prominence], dtype=np.int64)


def _maxima(wave: Samples) -> NDArray[np.int64]:
    """Middles of the stretches of equal samples that both neighbours lie below."""
    if wave.size < 3:
        return np.empty(0, dtype=np.int64)
    begins = np.concatenate(([0], np.flatnonzero(np.diff(wave)) + 1))
    ends = np.append(begins[1:], wave.size) - 1
    level = wave[begins]
    higher = (level[1:-1] > level[:-2]) & (level[1:-1] > level[2:])
    return np.asarray((begins[1:-1][higher] + ends[1:-1][higher]) // 2)


def _apart(found: NDArray[np.int64], heights: Samples, apart: int) -> NDArray[np.int64]:
    """Those left when each, the highest first, takes away what is nearer to it than `apart`."""
    kept = np.ones(found.size, dtype=bool)
    for k in np.argsort(heights, kind="stable")[::-1]:
        if kept[k]:
            near = np.abs(found - found[k]) < apart
            near[k] = False
            kept[near] = False
    return found[kept]


def _prominence(wave: Samples, at: int) -> float:
    higher = wave > wave[at]
    ahead, behind = higher[at:], higher[at::-1]
    right, left = int(ahead.argmax()), int(behind.argmax())
    # Nothing is higher on a side whose first place, the crest's own, is what is found.
    before = wave[at - left + 1 if left else 0 : at + 1].min()
    after = wave[at : at + right if right else None].min()
    return float(wave[at] - max(before, after))
