"""Plateaus: stretches in which a slow signal rests at one level, whatever level that is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tracebench.core.robust.median import median
from tracebench.core.robust.noise import robust_sigma
from tracebench.core.robust.series import joined, running_max, running_median, running_min, runs
from tracebench.core.samples import Samples


@dataclass(frozen=True, slots=True)
class Plateau:
    """Points [start, stop) of a grid that rest at `level`, in the grid's unit."""

    start: int
    stop: int
    level: float


def find_plateaus(grid: Samples, interval_s: float, tolerance: float, least_s: float) -> list[Plateau]:
    """Stretches of at least `least_s` in which a median over 0.1 s stays within `tolerance`, in order.

    `tolerance` is widened to six sigma of what the noise leaves in that median. Neighbours at one level that are
    parted by less than 0.2 s are one plateau. Empty if nothing rests.
    """
    width = max(3, round(0.1 / interval_s)) | 1
    smooth = running_median(grid, width)
    left = robust_sigma(np.diff(smooth[:: max(1, width)])) / np.sqrt(2.0)
    band = max(tolerance, 6 * left)
    window = max(3, round(min(least_s, 0.4) / interval_s)) | 1
    swing = running_max(smooth, window) - running_min(smooth, window)
    reach = window // 2
    found: list[Plateau] = []
    for a, b in joined([(max(0, a - reach), min(grid.size, b + reach)) for a, b in runs(swing <= band)], 0):
        found += _split(smooth, grid, a, b, band, interval_s)
    merged: list[Plateau] = []
    for p in found:
        last = merged[-1] if merged else None
        if last is not None and p.start - last.stop <= 0.2 / interval_s and abs(p.level - last.level) <= band:
            merged[-1] = _plateau(grid, last.start, p.stop)
        else:
            merged.append(p)
    return [p for p in merged if (p.stop - p.start) * interval_s >= least_s]


def _plateau(grid: Samples, start: int, stop: int) -> Plateau:
    return Plateau(start, stop, median(grid[start:stop]))


def _split(smooth: Samples, grid: Samples, a: int, b: int, band: float, interval_s: float) -> list[Plateau]:
    """A quiet stretch, cut where its level has crept further than the band from where it began."""
    out: list[Plateau] = []
    start = a
    while start < b:
        head = smooth[start : min(b, start + max(3, round(0.3 / interval_s)))]
        origin = median(head)
        off = np.flatnonzero(np.abs(smooth[start:b] - origin) > 1.5 * band)
        stop = b if off.size == 0 else start + max(1, int(off[0]))
        out.append(_plateau(grid, start, stop))
        start = stop
    return out
