"""Fuel level sender: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits import probe, thinning
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import TRIM, Work, inner
from tracebench.core.measure.excursions import find_excursions
from tracebench.core.measure.levels import Level, level_of, rest_of
from tracebench.core.measure.sweeps import Rest, find_rests
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import bridged
from tracebench.core.samples import Samples

GRID_S = Threshold(0.010, "s", "The arm is followed on medians of this length: no hand is quicker (from memory)")
SMALLEST_SWING_V = Threshold(0.4, "V", "A wire that moves by less has not been through the sender's way (from memory)")
LONGEST_LOST_S = Threshold(0.150, "s", "A contact that is lost for longer is open, and no worn spot (from memory)")
LEAP_V = Threshold(0.10, "V", "A worn spot leaps by more; the resistor's own steps are smaller (from memory)")
OPEN_PART = Threshold(0.95, "", "Part of the feed from which the wire hangs on its pull-up alone (from memory)")
SHORT_V = Threshold(0.20, "V", "Level of a few ohms on the pull-up, which no sender comes to (from memory)")
DEAD_V = Threshold(0.02, "V", "Level under which nothing feeds the wire, or the probe is off (from memory)")
NOISY_V = Threshold(0.10, "V", "Noise from which a worn spot is no longer seen (from memory)")


def measure(work: Work) -> Work:
    """Ends of the arm's way in volts and ohms, and where contact is lost between them."""
    supply = work.number("supply_v", 5.0, 1.0, 24.0)
    held = bridged(work.samples("signal"), probe.take_slips(work, "signal"))
    found = find_excursions(held, work.capture.interval_s, LONGEST_LOST_S, LEAP_V, medians_of=work.block_medians)
    lost = [e for e in probe.without_interference(work, held, found, "signal") if e.depth > 0]
    clean = bridged(held, [(e.start, e.stop) for e in found])
    grid = thinning.on_grid(work, clean, GRID_S)
    rests = find_rests(grid.values, grid.interval_s, SMALLEST_SWING_V)
    work.settle_phases(_phases(rests, grid))
    if not rests:
        _still(work, median(thinning.thin(clean)), supply)
        return work
    for e in lost:
        span = work.span(e.start, e.stop)
        text = f"leaps {e.depth:.2f} V towards the feed for {1000 * (span[1] - span[0]):.3g} ms: contact lost"
        work.fault("contact_lost", text, span, "signal", e.depth, "V")
    work.add("contacts_lost_count", len(lost), "", 0.0, work.whole, "signal")
    for name in ("empty", "full"):
        _read(work, name, clean, supply)
    if sample_noise(work.samples("signal")) > NOISY_V:
        work.setup("noisy", "noise hides worn spots: another ground, a shielded lead", "signal", hides=True)
    return work


def _phases(rests: list[Rest], grid: thinning.Grid) -> list[Phase]:
    """Empty is the end of more ohms, which lies high."""
    out: list[Phase] = []
    for k, rest in enumerate(rests):
        out.append(grid.phase("full" if rest.side == "low" else "empty", rest.start, rest.stop))
        if k + 1 < len(rests):
            moving = "emptying" if rest.side == "low" else "filling"
            out.append(grid.phase(moving, rest.stop, rests[k + 1].start))
    return out


def _still(work: Work, level: float, supply: float) -> None:
    """Nothing moves: the wire's own level says whether it is open, shorted or dead, and else what was told."""
    if level > OPEN_PART * supply:
        text = f"stays at {level:.2f} V, the feed's: sender, plug or wire open"
        work.fault("open_circuit", text, None, "signal", level, "V")
    elif level < DEAD_V:
        probe.note_dead(work, "signal", level)
    elif level < SHORT_V:
        work.fault("short_circuit", f"stays at {level:.2f} V: shorted to ground", None, "signal", level, "V")
    elif work.told.phases:
        work.fault("sticks", f"stays at {level:.2f} V while the arm is said to move", None, "signal", level, "V")
    for reading_id in ("empty_v", "full_v", "empty_ohm", "full_ohm", "contacts_lost_count"):
        work.miss(reading_id, "the arm does not move in this capture")


def _read(work: Work, name: str, clean: Samples, supply: float) -> None:
    """The level of all rests at one end, and the ohms that stand for it on the divider."""
    phases = work.phases_of(name)
    if not phases:
        return
    parts = [_rest(work, clean, phase) for phase in phases]
    level: Level = level_of(np.concatenate(parts), work.code("signal"))
    span = inner(max(phases, key=lambda p: p.to_s - p.from_s))
    work.add(f"{name}_v", level.value, "V", level.uncertainty, span, "signal")
    pull_up = work.number("pull_up_ohm", 120.0, 1.0, 1e6)
    if not 0 <= level.value < supply:
        work.miss(f"{name}_ohm", f"{level.value:.2f} V is no level of a sender fed with {supply:g} V")
        return
    ohm = pull_up * level.value / (supply - level.value)
    slope = pull_up * supply / (supply - level.value) ** 2
    work.add(f"{name}_ohm", ohm, "ohm", slope * level.uncertainty, span, "signal")


def _rest(work: Work, clean: Samples, phase: Phase) -> Samples:
    start, stop = work.indices((phase.from_s, phase.to_s), TRIM)
    return rest_of(clean[start:stop], work.code("signal"))
