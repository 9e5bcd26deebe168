"""Edges of a switching signal: crossings with hysteresis, placed between samples."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.robust.median import percentiles
from tracebench.core.samples import Samples


@dataclass(frozen=True, slots=True, eq=False)
class Edges:
    """Fractional sample indices of crossings of one level, rising and falling, each in order."""

    rising: NDArray[np.float64]
    falling: NDArray[np.float64]


def find_edges(samples: Samples, low: float, high: float, at: float | None = None) -> Edges:
    """Crossings of `at` (the middle by default) by swings that leave below `low` and arrive above `high`, or back.

    Linear interpolation at the crossing nearest to the middle of the passage. Empty if there is none.
    """
    at = 0.5 * (low + high) if at is None else at
    state = (samples > high).astype(np.int8) - (samples < low).astype(np.int8)
    known = np.flatnonzero(state)
    signs = state[known]
    turns = np.flatnonzero(signs[1:] != signs[:-1])
    before, after = known[turns], known[turns + 1]
    rising = signs[turns + 1] > 0
    places = _placed(samples, before, after, at)
    return Edges(places[rising], places[~rising])


def _placed(samples: Samples, before: NDArray[np.int64], after: NDArray[np.int64], at: float) -> NDArray[np.float64]:
    start = before.copy()
    # Nearly every passage is one sample long; the slow ones are searched for the crossing in their middle.
    slow = np.flatnonzero(after - before > 1)
    if slow.size:
        over = samples - at
        crossings = np.flatnonzero(over[:-1] * over[1:] <= 0)
        first_in, end_in = np.searchsorted(crossings, before[slow]), np.searchsorted(crossings, after[slow])
        some = end_in > first_in
        start[slow[some]] = crossings[(first_in + (end_in - first_in) // 2)[some]]
    first, second = samples[start], samples[np.minimum(start + 1, samples.size - 1)]
    step = second - first
    fraction = np.divide(at - first, step, out=np.full(start.size, 0.5), where=step != 0)
    return np.asarray(start + np.clip(fraction, 0.0, 1.0), dtype=np.float64)


def high_shares(edges: Edges) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Duty of each whole period: where it begins (a rising edge), and the part of it that is high, over 0 and under 1.

    A period that lost its falling edge is left out.
    """
    after = np.searchsorted(edges.falling, edges.rising[:-1])
    usable = after < edges.falling.size
    starts, ends = edges.rising[:-1][usable], edges.falling[after[usable]]
    shares = (ends - starts) / np.diff(edges.rising)[usable]
    good = (shares > 0) & (shares < 1)
    return starts[good], shares[good]


def swing_thresholds(samples: Samples, part: float = 0.2) -> tuple[float, float]:
    """Thresholds at `part` from either end of the swing (1st to 99th percentile), for `find_edges`."""
    thin = samples[:: max(1, samples.size // 32_768)]
    low, high = percentiles(thin, 1.0, 99.0)
    return float(low + part * (high - low)), float(high - part * (high - low))
