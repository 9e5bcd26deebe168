"""Engine states in a manifold pressure record, from its own levels and from the throttle where that is there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.measure.plateaus import Plateau, find_plateaus
from tracebench.core.robust.median import median, percentile, percentiles
from tracebench.core.robust.series import joined, runs

LEAST_SWING_V = Threshold(0.6, "V", "From idle to a snap or key-on an engine that breathes moves by more (from memory)")
LONGEST_OVERRUN_S = Threshold(4.0, "s", "An overrun after a snap in the workshop is over within this (from memory)")
SAME_V = Threshold(0.1, "V", "Two rests at idle lie no further apart; an overrun's lies lower (from memory)")
_REST_S = Threshold(0.4, "s", "A level held for this long is a state")


@dataclass(frozen=True, slots=True)
class Found:
    phases: list[Phase]
    idle_v: float | None


def find(grid: Grid, throttle: Grid | None) -> Found:
    """Key on, crank, idle, snaps with their overrun and settling, in order of time."""
    v = grid.values
    low, high = percentiles(v, 5.0, 99.5)
    rests = find_plateaus(v, grid.interval_s, 0.12, _REST_S)
    if high - low < LEAST_SWING_V:
        return _without_swing(grid, throttle, rests)
    middle = _under_snaps(rests, low, high)
    tops = joined(runs(v > middle), round(0.05 / grid.interval_s))
    out: list[Phase] = []
    first = 0
    if tops and tops[0][0] == 0:
        start = _key_on(grid, rests, tops.pop(0), out)
        first = start
    idle = _idle_rest(rests, first, middle, grid)
    if idle is None:
        return Found(out, None)
    if first:
        _crank(grid, first, idle, out)
    snaps = tops if throttle is None else _with_throttle(tops, throttle, grid)
    _snaps(grid, snaps, idle, out, throttle)
    return Found(sorted(out, key=lambda p: p.from_s), idle.level)


def _under_snaps(rests: list[Plateau], low: float, high: float) -> float:
    """What a snap rises over: half the swing, or half-way from an idle that lies over that itself."""
    middle = low + 0.5 * (high - low)
    under = [p for p in rests if p.level < high - LEAST_SWING_V]
    idle = max(under, key=lambda p: p.stop - p.start, default=None)
    return middle if idle is None or idle.level < middle else 0.5 * (idle.level + high)


def _without_swing(grid: Grid, throttle: Grid | None, rests: list[Plateau]) -> Found:
    """A record that hardly moves: idle or key on by its level; snaps the throttle made and the pressure did not."""
    level = median(grid.values)
    name = "key_on" if level > 3.6 else "idle"
    longest = max(rests, key=lambda p: p.stop - p.start, default=Plateau(0, grid.values.size, level))
    out = [grid.phase(name, longest.start, longest.stop)]
    if throttle is not None and name == "idle":
        opened = _opened(throttle)
        if opened:
            out = [grid.phase("idle", 0, grid.index(throttle.time_s(opened[0][0])))]
            out += [Phase("snap", throttle.time_s(a), throttle.time_s(b)) for a, b in opened]
    return Found([p for p in out if p.to_s > p.from_s], level if name == "idle" else None)


def _opened(throttle: Grid) -> list[tuple[int, int]]:
    """Stretches in which the throttle stands over half of its own swing; empty if it does not move."""
    low, high = percentiles(throttle.values, 5.0, 99.7)
    if high - low < LEAST_SWING_V:
        return []
    return joined(runs(throttle.values > 0.5 * (low + high)), round(0.05 / throttle.interval_s))


def _key_on(grid: Grid, rests: list[Plateau], top: tuple[int, int], out: list[Phase]) -> int:
    """The rest before cranking as a phase; answers where it ends."""
    rest = next((p for p in rests if p.start < top[1]), None)
    stop = min(rest.stop, top[1]) if rest is not None else top[1]
    level = rest.level if rest is not None else median(grid.values[: top[1]])
    off = np.flatnonzero(np.abs(grid.values[:stop] - level) > 0.15)
    # Cranking begins where the level is left for good, not at a lone stray.
    stop = int(off[0]) if off.size > 3 and off[-1] >= stop - 2 else stop
    if stop * grid.interval_s >= 0.15:
        out.append(grid.phase("key_on", 0, stop))
    return max(stop, 1)


def _idle_rest(rests: list[Plateau], first: int, middle: float, grid: Grid) -> Plateau | None:
    """The longest low rest; an overrun's own rest, lower and shorter, is not taken for it."""
    low = [p for p in rests if p.level < middle and p.stop > first]
    if not low:
        return None
    longest = max(low, key=lambda p: p.stop - p.start)
    before_any = [p for p in low if p.start <= longest.start and (p.stop - p.start) * grid.interval_s >= 1.0]
    return before_any[0] if before_any and before_any[0].level >= longest.level - SAME_V else longest


def _crank(grid: Grid, first: int, idle: Plateau, out: list[Phase]) -> None:
    band = max(0.15, 0.1 * abs(float(grid.values[:first].mean()) - idle.level))
    inside = np.flatnonzero(np.abs(grid.values[first : idle.stop] - idle.level) <= band)
    stop = first + int(inside[0]) if inside.size else idle.start
    if stop > first:
        out.append(grid.phase("crank", first, stop))


def _with_throttle(tops: list[tuple[int, int]], throttle: Grid, grid: Grid) -> list[tuple[int, int]]:
    """Snaps that the throttle made, followed or not; those of the pressure alone if the throttle is still."""
    opened = _opened(throttle)
    if not opened:
        return tops
    out = []
    for a, b in opened:
        start, stop = grid.index(throttle.time_s(a)), grid.index(throttle.time_s(b))
        beside = [t for t in tops if t[0] < stop + round(1.5 / grid.interval_s) and t[1] > start]
        out.append((min(start, beside[0][0]), max(stop, beside[0][1])) if beside else (start, stop))
    return joined(out, 1)


def _snaps(grid: Grid, snaps: list[tuple[int, int]], idle: Plateau, out: list[Phase], throttle: Grid | None) -> None:
    v = grid.values
    begin = idle.start
    band = max(0.08, 0.03 * (percentile(v, 99.5) - idle.level))
    for k, (a, b) in enumerate(snaps):
        rising = np.flatnonzero(v[begin:a] <= idle.level + band)
        start = begin + int(rising[-1]) if rising.size else a
        if start > begin and k == 0:
            out.append(grid.phase("idle", begin, start))
        peak = float(v[start : b + 1].max())
        held = np.flatnonzero(v[start : b + 1] >= idle.level + 0.9 * (peak - idle.level))
        top_end = start + int(held[-1]) + 1 if held.size else b
        out.append(grid.phase("snap", start, top_end))
        end = snaps[k + 1][0] if k + 1 < len(snaps) else v.size
        begin = _after_snap(grid, b, end, idle, band, out)
    if not snaps:
        out.append(grid.phase("idle", idle.start, idle.stop))


def _after_snap(grid: Grid, b: int, end: int, idle: Plateau, band: float, out: list[Phase]) -> int:
    """Overrun until the level is back at idle from below, then settling; answers where settling begins."""
    v = grid.values
    down = np.flatnonzero(v[b:end] <= idle.level + band)
    if down.size == 0:
        return min(b + 1, end - 1)
    start = b + int(down[0])
    limit = min(end, start + round(LONGEST_OVERRUN_S / grid.interval_s))
    lowest = start + int(np.argmin(v[start:limit])) if limit > start else start
    back = np.flatnonzero(v[lowest:end] >= idle.level - band)
    stop = lowest + int(back[0]) if back.size else limit
    stop = max(stop, min(end, start + round(0.3 / grid.interval_s)))
    if stop > start:
        out.append(grid.phase("overrun", start, stop))
    if end > stop:
        out.append(grid.phase("settle", stop, end))
    return min(stop, end - 1)
