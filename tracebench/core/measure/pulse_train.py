"""Pulses of a lane by two thresholds, over records of tens of millions of samples."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.robust.codes import distinct_levels, resolution
from tracebench.core.robust.grouped import grouped_median
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import robust_sigma
from tracebench.core.samples import Samples

_THIN = 32_768
_BINS = 400


@dataclass(frozen=True, slots=True, eq=False)
class Pulses:
    """Half-open sample ranges [start[k], stop[k]) above the thresholds, in order."""

    start: NDArray[np.int64]
    stop: NDArray[np.int64]

    @property
    def count(self) -> int:
        return int(self.start.size)

    def only(self, mask: NDArray[np.bool_]) -> Pulses:
        return Pulses(self.start[mask], self.stop[mask])


def find_pulses(samples: Samples, low: float, high: float) -> Pulses:
    """Stretches that begin above `high` and end below `low`; those cut by an end of the record are left out.

    Only crossings are looked at one by one, so that time and memory hardly depend on the record's length.
    """
    above, below = samples > high, samples < low
    up = np.flatnonzero(above[1:] & ~above[:-1]) + 1
    down = np.flatnonzero(below[1:] & ~below[:-1]) + 1
    places = np.concatenate([up, down])
    order = np.argsort(places, kind="stable")
    rising = np.concatenate([np.ones(up.size, dtype=bool), np.zeros(down.size, dtype=bool)])[order]
    places = places[order]
    if places.size == 0:
        return Pulses(places, places)
    turns = np.concatenate([[True], rising[1:] != rising[:-1]])
    places, rising = places[turns], rising[turns]
    if not rising[0]:
        places, rising = places[1:], rising[1:]
    if places.size % 2:
        places = places[:-1]
    return Pulses(places[::2], places[1::2])


MOST_AVERAGED = 64


def mean_course(samples: Samples, at: Sequence[float], grid: Samples) -> tuple[Samples, int]:
    """Mean of stretches laid on each other by fractional indices `at`, on `grid` from each; and how many were used.

    What events have alike stands out of noise that hides it in any single one. At most about 64 are taken, evenly.
    """
    used = [k for k in at if int(k + grid[0]) - 2 < samples.size and k + grid[-1] >= 0]
    used = used[:: max(1, len(used) // MOST_AVERAGED)]
    if not used:
        return np.zeros(grid.size), 1
    total = np.zeros(grid.size)
    for k in used:
        a = max(0, int(k + grid[0]) - 2)
        part = samples[a : int(k + grid[-1]) + 4]
        total += np.interp(grid + k, np.arange(a, a + part.size), part)
    return total / len(used), len(used)


@dataclass(frozen=True, slots=True)
class Rest:
    """Level between the pulses, the noise about it, and how far the lane reaches over and under it."""

    level: float
    sigma: float
    over: float
    under: float

    def turned_over(self) -> Rest:
        """The same of the lane with its sign changed."""
        return Rest(-self.level, self.sigma, self.under, self.over)


def rest_of(samples: Samples) -> Rest:
    """The level at which a lane of pulses spends most of its time, with what stands out of it on either side."""
    thin = samples[:: max(1, samples.size // _THIN)]
    low, high = float(thin.min()), float(thin.max())
    if high <= low:
        return Rest(low, 0.0, 0.0, 0.0)
    bins = np.bincount(((thin - low) * (_BINS / (high - low))).astype(np.intp))
    width, at = (high - low) / _BINS, int(np.argmax(bins))
    near = thin[np.abs(thin - (low + (at + 0.5) * width)) <= 1.5 * width]
    level = median(near)
    # A coarse recorder's steps hide noise under them, and count as much.
    # Two or three levels are a switching lane without noise, not a coarse one.
    step = resolution(thin) if distinct_levels(near) > 2 or np.count_nonzero(bins) > 6 else 0.0
    fast = robust_sigma(np.diff(samples[: 1 << 14], 2), step) / np.sqrt(6.0)
    sigma = max(fast, robust_sigma(near, step) if near.size > 16 else 0.0, step / np.sqrt(12.0))
    # The busiest bin alone is off by a part of its width: all the noise about it places the level.
    about = thin[np.abs(thin - level) <= 3 * sigma]
    level = grouped_median(about, step) if about.size > near.size else level
    # A firing line is narrower than the samples that are left out.
    return Rest(level, sigma, float(samples.max()) - level, level - float(samples.min()))


def without_drift(samples: Samples, interval_s: float, rest: Rest) -> tuple[Samples, float]:
    """Samples less a rest level that wanders, as a warming clamp's does, and how far it wandered.

    The rest of each of some twenty parts is the middle of its lower samples; a steady lane comes back as it is.
    """
    parts = min(40, max(1, int(samples.size * interval_s / 0.05)), samples.size // 4)
    if parts < 4:
        return samples, 0.0
    block = samples.size // parts
    stride = max(1, block // 4000)
    thin = samples[: parts * block].reshape(parts, block)[:, ::stride]
    # Pulses stand on one side, so that the lower part of a block is its rest.
    low = np.percentile(thin, 30, axis=1)
    wander = float(np.ptp(low))
    if wander < max(4 * rest.sigma, 0.03 * rest.over):
        return samples, 0.0
    centres = (np.arange(parts) + 0.5) * block
    drift = np.interp(np.arange(samples.size), centres, low)
    return samples - drift + rest.level, wander
