"""Engine states of an airflow record: key on, crank, idle, steady speeds and snaps, found on a trend of the output."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits.thinning import Grid
from tracebench.core.measure.plateaus import Plateau, find_plateaus
from tracebench.core.robust.series import running_median
from tracebench.core.samples import Samples


@dataclass(frozen=True, slots=True)
class Steps:
    """What parts the states: tolerance of a rest, and the levels that only a key-on or a steady speed can have."""

    tolerance: float
    key_on_below: float
    steady_4000_above: float
    least_rise: float
    """A jump over this, over the idle level and within 0.4 s, is a snap."""


@dataclass(frozen=True, slots=True, eq=False)
class Surge:
    """The three parts of a snap, as indices and values of its grid; None where there is no surge before the climb."""

    start: int
    peak: int | None
    dip: int | None
    top: int


def find_states(grid: Grid, steps: Steps) -> tuple[list[Phase], list[tuple[int, int]]]:
    """Phases in order of time, and the snaps as grid intervals."""
    smooth = running_median(grid.values, max(3, round(0.03 / grid.interval_s)))
    rests = find_plateaus(grid.values, grid.interval_s, steps.tolerance, 0.6)
    out: list[Phase] = []
    key_on = _key_on(rests, steps)
    first = 0
    if key_on is not None:
        out.append(grid.phase("key_on", key_on.start, key_on.stop))
        first = key_on.stop
    live = [p for p in rests if p.start >= first and p.level > 0]
    idle = _idle(live, grid, steps.tolerance)
    if idle is None:
        return out, []
    if first and idle.start > first:
        out.append(grid.phase("crank", first, _settled(smooth, first, idle, steps)))
    snaps = [
        s
        for s in _snaps(smooth, grid, idle.level, max(idle.start, first), steps)
        if not any(_held(p, grid, idle.level + 2 * steps.tolerance) and _in_any(p, [s]) for p in live)
    ]
    # What rests before the first idle is cranking, not a load.
    live = [p for p in live if p.start >= idle.start]
    loads = [p.level for p in live if p.level > idle.level + 2 * steps.tolerance and not _in_any(p, snaps)]
    # Two distinct loads are told apart by each other; a single one by its level.
    several = bool(loads) and max(loads) - min(loads) > 2 * steps.tolerance
    apart = 0.5 * (max(loads) + min(loads)) if several else steps.steady_4000_above
    for p in live:
        if abs(p.level - idle.level) <= 2 * steps.tolerance:
            name = "idle"
        elif p.level < idle.level or _in_any(p, snaps):
            continue
        elif p.level >= apart:
            name = "steady_4000"
        else:
            name = "steady_2500"
        out.append(grid.phase(name, p.start, p.stop))
    out += [grid.phase("snap", a, b) for a, b in snaps]
    return sorted(out, key=lambda p: p.from_s), snaps


def _held(p: Plateau, grid: Grid, above: float) -> bool:
    """A steady load, which a snap does not have."""
    return p.level > above and (p.stop - p.start) * grid.interval_s >= 1.0


def _in_any(p: Plateau, snaps: list[tuple[int, int]]) -> bool:
    return any(a <= p.start and p.stop <= b for a, b in snaps)


def _key_on(rests: list[Plateau], steps: Steps) -> Plateau | None:
    """A low rest at the very beginning, clearly under every later one."""
    if not rests or rests[0].level >= steps.key_on_below:
        return None
    later = [p.level for p in rests[1:]]
    return rests[0] if not later or min(later) > rests[0].level + steps.tolerance else None


def _idle(live: list[Plateau], grid: Grid, tolerance: float) -> Plateau | None:
    """The lowest rest of nearly a second (the engine never breathes less), the first of its level."""
    long = [p for p in live if (p.stop - p.start) * grid.interval_s >= 0.8] or live
    lowest = min((p.level for p in long), default=0.0)
    return next((p for p in long if p.level <= lowest + 2 * tolerance), None)


def _settled(smooth: Samples, first: int, idle: Plateau, steps: Steps) -> int:
    """Where cranking ends: the run-up leaves the crank level for good."""
    part = smooth[first : idle.start + 1]
    highest = float(part.max())
    # Its last touch: a flat course has its largest value anywhere.
    top = first + int(np.flatnonzero(part >= highest - 0.5 * steps.tolerance)[-1])
    return top if highest > idle.level + steps.tolerance else idle.start


def _snaps(smooth: Samples, grid: Grid, idle: float, first: int, steps: Steps) -> list[tuple[int, int]]:
    """From where the output leaves idle in a jump to where it is back, in grid points."""
    reach = max(1, round(0.4 / grid.interval_s))
    out: list[tuple[int, int]] = []
    k = first
    while k < smooth.size - reach:
        ahead = smooth[k : k + reach]
        if abs(smooth[k] - idle) <= 2 * steps.tolerance and float(ahead.max()) - smooth[k] > steps.least_rise:
            near = np.flatnonzero(ahead <= idle + 2 * steps.tolerance)
            start = k + int(near[-1]) if near.size else k
            back = np.flatnonzero(smooth[start + reach :] <= idle + 2 * steps.tolerance)
            stop = start + reach + (int(back[0]) if back.size else smooth.size - start - reach)
            out.append((start, stop))
            k = stop
        else:
            k += max(1, reach // 4)
    return out


def find_surge(smooth: Samples, interval_s: float, start: int, stop: int, least: float) -> Surge:
    """First surge, dip and top of a snap in smoothed samples [start, stop); a surge stands `least` over its dip."""
    part = smooth[start:stop]
    top = int(np.argmax(part))
    early = part[: min(part.size, round(0.6 / interval_s))]
    peak = dip = None
    best = least
    tops = np.flatnonzero((early[1:-1] >= early[:-2]) & (early[1:-1] > early[2:])) + 1
    for k in map(int, tops):
        after = part[k : min(part.size, k + round(0.8 / interval_s))]
        # The dip is over once the output has climbed out of it again.
        climbing = np.flatnonzero(after - np.minimum.accumulate(after) > least)
        if climbing.size == 0:
            continue
        low = k + int(np.argmin(after[: int(climbing[0]) + 1]))
        rise = float(part[k] - part[low])
        if rise > best:
            best, peak, dip = rise, start + k, start + low
    if dip is not None:
        top = dip - start + int(np.argmax(part[dip - start :]))
    return Surge(start, peak, dip, start + top)
