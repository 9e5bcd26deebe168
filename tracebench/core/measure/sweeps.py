"""A to-and-fro movement between a low and a high rest: visits, rests and reversals."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from tracebench.core.robust.median import median
from tracebench.core.robust.noise import detrended, robust_sigma
from tracebench.core.robust.series import running_mean
from tracebench.core.samples import Samples

Side = Literal["low", "high"]

_LEAVE_LOW, _LEAVE_HIGH = 0.25, 0.70
"""Parts of the swing: above the second a visit to the high side begins, below the first one to the low side."""

_BAND = 0.04
"""A rest is the stretch within this part of the swing of the visit's furthest level."""

_CREEP, _GOES_ON = 0.004, 0.2
"""At a record's end a foot or hand at rest moves by less than the first part of the swing, and slower than the second
part of the pace at which it came (both from memory)."""


@dataclass(frozen=True, slots=True)
class Rest:
    """Samples [start, stop) of `grid` at rest on one side."""

    side: Side
    start: int
    stop: int
    level: float


def find_rests(grid: Samples, interval_s: float, smallest_swing: float) -> list[Rest]:
    """Rests at either end of each movement, in order and alternating; empty if nothing moves.

    `grid` is free of excursions. Where the record begins or ends in the middle of a movement is no rest, however far it
    had come. A visit that only goes part of the way (its rest is further than 10 % of the
    swing short of the low end, or 30 % short of the high end) is part of the neighbouring movement: a pause.
    """
    smooth = running_mean(grid, max(1, round(0.03 / interval_s)))
    low, high = float(smooth.min()), float(smooth.max())
    swing = high - low
    sigma = robust_sigma(np.diff(grid)) / np.sqrt(2.0)
    if swing < max(smallest_swing, 6 * sigma):
        return []
    rests: list[Rest] = []
    for side, start, stop in _visits(smooth, low + _LEAVE_LOW * swing, low + _LEAVE_HIGH * swing):
        towards = smooth if side == "high" else -smooth
        if stop == smooth.size and _still_moving(towards, start, swing):
            continue
        if start == 0 and _still_moving(towards[::-1], smooth.size - stop, swing):
            continue
        rest = _rest(grid, smooth, side, start, stop, swing)
        far = rest.level - low if side == "low" else high - rest.level
        if far > (0.10 if side == "low" else 0.30) * swing:
            continue
        if rests and rests[-1].side == side:
            continue
        rests.append(rest)
    return rests


def _visits(smooth: Samples, leave_low: float, leave_high: float) -> list[tuple[Side, int, int]]:
    state = np.zeros(smooth.size, dtype=np.int8)
    state[smooth < leave_low] = -1
    state[smooth > leave_high] = 1
    known = np.flatnonzero(state)
    signs = state[known]
    turns = np.flatnonzero(np.diff(signs)) + 1
    out: list[tuple[Side, int, int]] = []
    for group in np.split(np.arange(known.size), turns):
        side: Side = "low" if signs[group[0]] < 0 else "high"
        out.append((side, int(known[group[0]]), int(known[group[-1]]) + 1))
    return out


def _still_moving(towards: Samples, start: int, swing: float) -> bool:
    """True if a visit that the record's end cuts off goes on at a good part of the pace at which it came.

    `towards` rises to the visit's side, which is reached at `start`, and ends with the record.
    """
    top = float(towards[start:].max())
    near = _last_below(towards, top - _BAND * swing)
    coming = near - _last_below(towards[:near], top - 5 * _BAND * swing)
    end = towards[max(start, (near + towards.size) // 2) :]
    third = end.size // 3
    if third == 0 or coming <= 0:
        return False
    gained = float(np.mean(end[-third:]) - np.mean(end[:third]))
    pace, pace_at_end = 4 * _BAND * swing / coming, gained / (end.size - third)
    return gained > _CREEP * swing and pace_at_end > _GOES_ON * pace


def _last_below(towards: Samples, level: float) -> int:
    """Where the last stretch above a level begins."""
    below = np.flatnonzero(towards < level)
    return int(below[-1]) + 1 if below.size else 0


def _rest(grid: Samples, smooth: Samples, side: Side, start: int, stop: int, swing: float) -> Rest:
    sign = -1.0 if side == "low" else 1.0
    part = sign * smooth[start:stop]
    raw = sign * grid[start:stop]
    furthest = float(part.max())
    sigma = robust_sigma(detrended(raw[part >= furthest - _BAND * swing]))
    near = np.flatnonzero(part >= furthest - max(_BAND * swing, 3 * sigma))
    level = median(raw[near])
    tight = np.flatnonzero(np.abs(part - level) <= max(0.01 * swing, 2 * sigma))
    inside = tight if tight.size else near
    return Rest(side, start + int(inside[0]), start + int(inside[-1]) + 1, sign * level)


def largest_reversal(smooth: Samples, start: int, stop: int, rising: bool) -> tuple[float, int]:
    """Largest movement against the direction of travel inside [start, stop), and the index where it ends."""
    part = smooth[start:stop] if rising else -smooth[start:stop]
    if part.size == 0:
        return 0.0, start
    back = np.maximum.accumulate(part) - part
    at = int(np.argmax(back))
    return float(back[at]), start + at
