"""Thinning and smoothing that later detectors share; each is linear in the number of samples."""

from __future__ import annotations

from collections.abc import Callable

import bottleneck as bn
import numpy as np

from tracebench.core.robust.median import median, medians
from tracebench.core.samples import Samples

ENOUGH_OF_A_BLOCK = 200
"""Samples whose median is as good as that of a longer block where a course is followed, not a level read."""


def block_medians(samples: Samples, block: int, most: int | None = None) -> Samples:
    """Median of each run of `block` samples, shape (ceil(n / block),); a short last run counts too.

    With `most` about so many of each, evenly taken, are looked at.
    """
    if block <= 1:
        return samples
    whole = samples.size // block
    stride = 1 if most is None else max(1, block // most)
    found = medians(samples[: whole * block].reshape(whole, block)[:, ::stride])
    return np.append(found, median(samples[whole * block :])) if whole * block < samples.size else found


def course_medians(samples: Samples, block: int) -> Samples:
    """The same of about 200 samples a run, where a course is followed and no level read."""
    return block_medians(samples, block, ENOUGH_OF_A_BLOCK)


def running_median(samples: Samples, width: int) -> Samples:
    """Median over a centred window of `width` samples (made odd); ends repeat the end value.

    A monotone stretch passes unchanged, whatever its slope; a departure shorter than half the window vanishes.
    """
    return _moving(bn.move_median, samples, width)


def running_mean(samples: Samples, width: int) -> Samples:
    """Mean over a centred window of `width` samples (made odd); ends repeat the end value."""
    return _moving(bn.move_mean, samples, width)


def running_max(samples: Samples, width: int) -> Samples:
    """Largest of a centred window of `width` samples (made odd)."""
    return _moving(bn.move_max, samples, width)


def running_min(samples: Samples, width: int) -> Samples:
    """Smallest of a centred window of `width` samples (made odd)."""
    return _moving(bn.move_min, samples, width)


def _moving(over: Callable[[Samples, int], Samples], samples: Samples, width: int) -> Samples:
    """A window's figure at its middle; Bottleneck gives it at the window's end, and loads faster than SciPy."""
    width = min(width | 1, (samples.size - 1) | 1)
    if width < 3:
        return samples
    half = width // 2
    padded = np.concatenate([np.full(half, samples[0]), samples, np.full(half, samples[-1])])
    return np.asarray(over(padded, width)[width - 1 :])


def rank_correlation(one: Samples, other: Samples) -> float:
    """Spearman's rank correlation, ties sharing their mean rank, -1 to 1; 0 where one of the two never changes."""
    if np.ptp(one) == 0 or np.ptp(other) == 0:
        return 0.0
    return float(np.corrcoef(bn.rankdata(one), bn.rankdata(other))[0, 1])


def runs(mask: np.ndarray) -> list[tuple[int, int]]:
    """Half-open index pairs [start, stop) of each run of True."""
    turns = (np.flatnonzero(mask[1:] != mask[:-1]) + 1).tolist()
    if mask.size and mask[0]:
        turns.insert(0, 0)
    if mask.size and mask[-1]:
        turns.append(int(mask.size))
    return list(zip(turns[::2], turns[1::2], strict=True))


def joined(intervals: list[tuple[int, int]], gap: int) -> list[tuple[int, int]]:
    """Intervals in order, those closer than `gap` made one."""
    out: list[tuple[int, int]] = []
    for start, stop in sorted(intervals):
        if out and start - out[-1][1] <= gap:
            out[-1] = (out[-1][0], max(out[-1][1], stop))
        else:
            out.append((start, stop))
    return out


def bridged(samples: Samples, intervals: list[tuple[int, int]]) -> Samples:
    """Samples with each interval a straight line between its neighbours (flat at the record's ends); never written to.

    Without intervals the samples themselves, else a copy.
    """
    if not intervals:
        return samples
    out = samples.copy()
    for start, stop in intervals:
        left = samples[start - 1] if start > 0 else samples[min(stop, samples.size - 1)]
        right = samples[stop] if stop < samples.size else left
        out[start:stop] = np.linspace(left, right, stop - start + 2)[1:-1]
    return out
