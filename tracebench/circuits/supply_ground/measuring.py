"""Supply and ground: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Limit
from tracebench.core.circuits import lane_levels, probe, record_checks, thinning
from tracebench.core.circuits.threshold import Threshold, reach
from tracebench.core.circuits.work import Span, Work
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.noise import detrended, percentile_range
from tracebench.core.robust.series import joined, runs

GROUND_V = Threshold(0.1, "V", "Ground under load (common practice, no published source)")
GRID_S = Threshold(0.02, "s", "Medians of so much follow a loose joint and not what switches on it (from memory)")
LIFTED_S = Threshold(0.2, "s", "So long a lift is a joint, and no current that is switched on (from memory)")
JOINED_S = Threshold(0.05, "s", "A shorter return is the same lift")

OF_A_SINE = 0.9877
"""Part of a sine's peak to peak that lies between its 5th and 95th percentile: sin(0.45 pi)."""

RUNNING_FROM_V = Threshold(13.1, "V", "A battery over this is being charged (common practice, no published source)")
KEY_ON = reach(12.4, 12.8, "V", "Battery with the key on (common practice, no published source)")
ENGINE_RUNNING = reach(13.5, 14.7, "V", "Battery with the engine running (common practice, no published source)")

_REACH = {"supply": (8.0, 17.0), "battery": (8.0, 17.0), "reference": (3.5, 5.8), "ground": (-0.5, 1.5)}


def measure(work: Work) -> Work:
    """Levels of the lanes there are, the drop from battery to supply, and ripple."""
    work.settle_phases([])
    away = _slips(work)
    levels = {}
    for name in _REACH:
        if name in work.capture.lanes:
            if _is_dead(work, name):
                continue
            levels[name] = lane_levels.level_in(work, name, _there(work, away), 0.0)
    for name in ("supply", "reference", "ground"):
        if name in levels:
            work.add(f"{name}_v", levels[name].value, "V", levels[name].uncertainty, work.whole, name)
        else:
            absent = "carries nothing" if name in work.capture.lanes else "is not in this capture"
            work.miss(f"{name}_v", f"the {name} lane {absent}")
    if "supply" in levels and "battery" in levels:
        drop = levels["battery"].value - levels["supply"].value
        doubt = float(np.hypot(levels["battery"].uncertainty, levels["supply"].uncertainty))
        work.add("supply_drop_v", drop, "V", doubt, work.whole, "supply")
    else:
        work.miss("supply_drop_v", "both the battery and the supply lane are needed")
        if "supply" in levels:
            low, high = ENGINE_RUNNING if _is_running(work, levels["supply"].value) else KEY_ON
            work.limits.append(Limit("supply_v", low - 0.5, high, marginal=0.1))
    if "ground" in levels:
        _lifted_ground(work, levels["ground"].value)
    _ripple(work, away)
    return work


def _slips(work: Work) -> list[tuple[int, int]]:
    """Stretches in which a fed lane vanishes to zero at once and returns: a probe, or the ground lead of them all."""
    out: list[tuple[int, int]] = []
    for name in ("supply", "reference", "battery"):
        if name in work.capture.lanes:
            out += probe.take_slips(work, name)
    return out


def _there(work: Work, away: list[tuple[int, int]]) -> Span:
    """The longest part of the record in which no probe was away."""
    size = work.samples(next(iter(work.capture.lanes))).size
    begins = [0, *(end for _, end in sorted(away))]
    ends = [*(begin for begin, _ in sorted(away)), size]
    begin, end = max(zip(begins, ends, strict=True), key=lambda ab: ab[1] - ab[0])
    return work.whole if not away else work.span(begin, end)


def _lifted_ground(work: Work, level: float) -> None:
    """A ground whose level is good and that lies over its limit for a part of the record is high there."""
    grid = thinning.on_grid(work, work.samples("ground"), GRID_S)
    over = [
        (a, b)
        for a, b in joined(runs(grid.values > GROUND_V), round(JOINED_S / grid.interval_s))
        if (b - a) * grid.interval_s >= LIFTED_S
    ]
    if level > GROUND_V or not over:
        return
    places = [(grid.time_s(a), grid.time_s(b)) for a, b in over]
    peak = max(float(median(grid.values[a:b])) for a, b in over)
    lasts = sum(b - a for a, b in places)
    text = f"ground lies at {peak:.2f} V for {lasts:.2g} s of the record, over {GROUND_V:g} V"
    work.fault("ground_high", text, places[0], "ground", peak, "V", places=places)


def _is_dead(work: Work, name: str) -> bool:
    """A lane that carries nothing while no other one proves that anything is powered: a flat line, not a level."""
    record_checks.check_clipped(work, name)
    if name == "ground" or work.told.phases or _top(work, name) >= 0.05:
        return False
    if any(_top(work, other) > 1.0 for other in _REACH if other != name and other in work.capture.lanes):
        return False
    work.setup("flat_line", f"the {name} lane carries nothing: probe, key or fuse first", name, hides=True)
    return True


def _top(work: Work, name: str) -> float:
    return percentile(np.abs(thinning.thin(work.samples(name))), 99)


def _is_running(work: Work, supply_v: float) -> bool:
    state = work.told.options.get("state", "auto")
    return supply_v > RUNNING_FROM_V if state == "auto" else state == "running"


def _ripple(work: Work, away: list[tuple[int, int]]) -> None:
    """Peak to peak of the supply (else the reference) without its trend, by the 5th to the 95th percentile; stretches
    in which the probe was away are left out.
    """
    name = next((n for n in ("supply", "reference") if n in work.capture.lanes), None)
    if name is None:
        work.miss("ripple_mv", "no supply or reference lane in this capture")
        return
    there = np.ones(work.samples(name).size, dtype=bool)
    for begin, end in away:
        there[begin:end] = False
    samples = detrended(work.samples(name)[there])
    ripple, doubt = percentile_range(samples[: 1 << 18], 5.0, 95.0, work.code(name))
    scale = 1000 / OF_A_SINE
    work.add("ripple_mv", scale * ripple, "mV", scale * doubt, work.whole, name)
