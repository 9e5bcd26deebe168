"""Phases of a sweep, and what is read in its rests: levels, spread, noise and the count of sweeps."""

from __future__ import annotations

import numpy as np

from tracebench.circuits.throttle_position.work import Sweep
from tracebench.core.answer import Phase
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import TRIM, inner
from tracebench.core.measure.levels import Level, level_of, rest_of
from tracebench.core.measure.sweeps import Rest
from tracebench.core.robust.grouped import grouped_median
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import PLENTY, detrended, robust_sigma
from tracebench.core.samples import Samples

Rests = list[tuple[Phase, Level]]

WORN_SPOT_V = Threshold(0.45, "V", "Depth of a worn spot that matters to a controller near idle (from memory)")


def find_phases(work: Sweep, rests: list[Rest], grid_s: float) -> None:
    """Phases at and between the rests; those the user told win wherever they overlap."""
    names = {"low": "closed", "high": "open"}
    origin, end = work.whole
    found: list[Phase] = []
    for k, rest in enumerate(rests):
        stop = min(origin + rest.stop * grid_s, end)
        found.append(Phase(names[rest.side], origin + rest.start * grid_s, stop))
        if k + 1 < len(rests):
            moving = "opening" if rest.side == "low" else "closing"
            found.append(Phase(moving, stop, origin + rests[k + 1].start * grid_s))
    work.settle_phases(found, _numbered)


def _numbered(phases: list[Phase]) -> list[Phase]:
    """Phases with their sweep: a new one begins with each closed phase after an open one."""
    out: list[Phase] = []
    cycle, opened = 1, False
    for phase in phases:
        if phase.name == "closed" and opened:
            cycle, opened = cycle + 1, False
        opened = opened or phase.name == "open"
        out.append(Phase(phase.name, phase.from_s, phase.to_s, cycle))
    return out


def read_levels(work: Sweep) -> tuple[Rests, Rests]:
    """Levels of the closed and of the open phases, noted as readings; those of the whole course for the durations."""
    closed = [(p, _level(work, p)) for p in work.phases_of("closed")]
    opened = [(p, _level(work, p)) for p in work.phases_of("open")]
    for reading_id, rests in (("closed_v", closed), ("open_v", opened)):
        for phase, level in rests:
            work.add(reading_id, level.value, "V", level.uncertainty, inner(phase), "signal", phase.cycle)
    if closed:
        _closed(work, [p for p, _ in closed])
    if opened:
        _open(work, opened)
    known = dict([*closed, *opened])
    course = [(p, known.get(p) or _level(work, p)) for p in work.course if p.name in ("closed", "open")]
    return [x for x in course if x[0].name == "closed"], [x for x in course if x[0].name == "open"]


def _level(work: Sweep, phase: Phase) -> Level:
    return level_of(_rest(work, phase), work.code("signal"))


def _rest(work: Sweep, phase: Phase) -> Samples:
    start, stop = work.indices((phase.from_s, phase.to_s), TRIM)
    return rest_of(work.clean[start:stop], work.code("signal"))


def _closed(work: Sweep, closed: list[Phase]) -> None:
    parts = [_rest(work, p) for p in closed]
    longest = max(closed, key=lambda p: p.to_s - p.from_s)
    level = level_of(np.concatenate(parts), work.code("signal"))
    work.add("closed_v", level.value, "V", level.uncertainty, inner(longest), "signal")
    some = slice(None, None, max(1, sum(p.size for p in parts) // PLENTY))
    pooled = np.concatenate([detrended(p, some) for p in parts])
    step = work.code("signal")
    sigma = robust_sigma(pooled - grouped_median(pooled, step), step)
    # Standard error of a MAD-based sigma of normal noise: 1.17 sigma / sqrt(n) (asymptotic efficiency 37 %).
    work.add("noise_mv", 1000 * sigma, "mV", 1000 * 1.17 * sigma / np.sqrt(pooled.size), inner(longest), "signal")
    if sigma > 0.021:
        text = f"noise of {1000 * sigma:.0f} mV at rest: check ground lead and connection before reading small features"
        work.find("noise_high", "note", text, (longest.from_s, longest.to_s), "signal")
    if 6 * sigma > WORN_SPOT_V:
        text = (
            f"noise of {1000 * sigma:.0f} mV hides a worn spot of {WORN_SPOT_V:g} V: nothing can be called sound on it"
        )
        work.setup("noisy", text, "signal", (longest.from_s, longest.to_s), hides=True)


def _open(work: Sweep, opened: Rests) -> None:
    values = np.array([level.value for _, level in opened])
    middle = median(values)
    phase, _ = opened[int(np.argmin(np.abs(values - middle)))]
    work.add("open_v", middle, "V", _of_median([level.uncertainty for _, level in opened]), inner(phase), "signal")
    low, high = int(np.argmin(values)), int(np.argmax(values))
    if len(opened) > 1:
        spread = float(np.hypot(opened[low][1].uncertainty, opened[high][1].uncertainty))
        between = sorted((opened[low][0], opened[high][0]), key=lambda p: p.from_s)
        span = (between[0].from_s, between[-1].to_s)
        work.add("open_spread_v", values[high] - values[low], "V", spread, span, "signal")
    else:
        work.miss("open_spread_v", "only one open phase in this capture")


def _of_median(uncertainties: list[float]) -> float:
    """Of the median of independent levels: that of their mean, times 1.2533 where it is not the mean itself
    (asymptotic efficiency 2 / pi of a median of normal values)."""
    mean = float(np.sqrt(np.sum(np.square(uncertainties)))) / len(uncertainties)
    return mean if len(uncertainties) <= 2 else 1.2533 * mean


def count_sweeps(work: Sweep) -> None:
    order = [p for p in work.course if p.name in ("closed", "open")]
    names = [p.name for p in order]
    complete = [k for k in range(len(names) - 2) if names[k : k + 3] == ["closed", "open", "closed"]]
    span = (order[complete[0]].from_s, order[complete[-1] + 2].to_s) if complete else work.whole
    work.add("sweeps_count", len(complete), "", 0.0, span, "signal")
    if len(complete) < 2 and work.phases_of("open"):
        text = f"{len(complete)} complete sweep{'s' if len(complete) != 1 else ''}; two or more are wanted"
        work.setup("too_short", text, "signal", hides=True)
