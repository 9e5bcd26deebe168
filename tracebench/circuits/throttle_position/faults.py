"""Faults of the track and its wires: a signal that does not sweep, dropouts, spikes; and what cannot be read."""

from __future__ import annotations

import numpy as np

from tracebench.circuits.throttle_position.connection import (
    SLIP_SHORTEST_S,
    SLIP_ZERO_V,
    reference_falls,
    slip_finding,
)
from tracebench.circuits.throttle_position.work import SMALLEST_SWING_V, Sweep
from tracebench.core.circuits import probe
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.measure.excursions import Excursion
from tracebench.core.measure.levels import level_of
from tracebench.core.robust.median import median
from tracebench.core.samples import Samples

_SAME_TRAVEL_PCT = Threshold(4.0, "%", "Falls within this of the travel are at one place of the track")


def judge_no_sweep(work: Sweep, signal: Samples) -> None:
    """A signal that never moved: stuck where the circuit was proven live, else a flat line or no sweep."""
    level = level_of(signal[:: max(1, signal.size // 1_000_000)])
    reference = work.lane("reference")
    live_reference = reference is not None and abs(median(reference)) > 0.5 * work.reference_v
    powered = live_reference or bool(work.told.phases)
    volts = f"{level.value:.2f} V"
    if level.value > 0.9 * work.reference_v:
        text = f"the signal stays at {volts}, near the reference, whatever the throttle does"
        work.fault("stuck_high", text, None, "signal", level.value, "V")
    elif level.value < 0.05 * work.reference_v and powered:
        proof = "the reference is live" if live_reference else "the circuit was powered"
        work.fault("stuck_low", f"the signal stays at {volts} while {proof}", None, "signal", level.value, "V")
    elif level.value < 0.05 * work.reference_v:
        text = f"the signal stays at {volts}: probe, key or lead first, sensor later"
        work.setup("flat_line", text, "signal", hides=True)


def read_other_lanes(work: Sweep) -> None:
    for name in ("reference", "ground"):
        samples = work.lane(name)
        if samples is None:
            work.miss(f"{name}_v", f"no {name} lane in this capture")
            continue
        level = level_of(samples[:: max(1, samples.size // 1_000_000)])
        if name == "reference" and level.value < 0.5:
            work.setup("flat_line", "the reference lane carries nothing: probe first", name)
            work.miss("reference_v", "the reference lane carries nothing")
            continue
        work.add(f"{name}_v", level.value, "V", level.uncertainty, work.whole, name)


def judge_excursions(work: Sweep) -> None:
    """Dropouts and spikes of the track, slips of the probe, each with its place; and the readings of them."""
    closed, opened = work.value("closed_v"), work.value("open_v")
    own = probe.without_interference(work, work.samples("signal"), work.excursions, "signal")
    falls = [e for e in own if e.depth < 0]
    slipped = [e for e in falls if _is_slip(work, e, closed, opened)]
    falls = [e for e in falls if e not in slipped]
    for e in slipped:
        slip_finding(work, e.start, e.stop)
    for e in own:
        if e.depth > 0:
            span = work.span(e.start, e.stop)
            text = f"leaps {e.depth:.2f} V above its trend for {1000 * (span[1] - span[0]):.3g} ms"
            work.fault("spike", text, span, "signal", e.depth, "V")
    for e in falls:
        _dropout(work, e, falls, closed, opened)
    if work.phases_of("opening") or work.phases_of("closing"):
        span = work.span(falls[0].start, falls[-1].stop) if falls else work.whole
        work.add("dropouts_count", len(falls), "", 0.0, span, "signal")
    if not falls:
        return
    deepest = min(falls, key=lambda e: e.depth)
    span = work.span(deepest.start, deepest.stop)
    work.add("dropout_depth_v", -deepest.depth, "V", max(deepest.sigma, 1e-6), span, "signal")
    if (travel := _travel(deepest, closed, opened)) is not None and closed is not None and opened is not None:
        sigma_pct = 100 * deepest.sigma / (opened - closed)
        work.add("dropout_travel_pct", travel, "%", sigma_pct, span, "signal")


def _travel(e: Excursion, closed: float | None, opened: float | None) -> float | None:
    if closed is None or opened is None or opened - closed < SMALLEST_SWING_V:
        return None
    return 100 * (e.trend - closed) / (opened - closed)


def _is_slip(work: Sweep, e: Excursion, closed: float | None, opened: float | None) -> bool:
    """A fall to zero that is the probe's: with the reference, or 50 ms or longer and at no repeated travel."""
    if reference_falls(work, e.start, e.stop):
        return True
    if e.trend + e.depth > SLIP_ZERO_V or (e.stop - e.start) * work.capture.interval_s < SLIP_SHORTEST_S:
        return False
    return not _repeats(e, work.excursions, closed, opened)


def _repeats(e: Excursion, all_of: list[Excursion], closed: float | None, opened: float | None) -> list[Excursion]:
    here = _travel(e, closed, opened)
    if here is None:
        return []
    places = [(o, _travel(o, closed, opened)) for o in all_of if o is not e and o.depth < 0]
    return [o for o, there in places if there is not None and abs(there - here) <= _SAME_TRAVEL_PCT]


def _dropout(work: Sweep, e: Excursion, falls: list[Excursion], closed: float | None, opened: float | None) -> None:
    span = work.span(e.start, e.stop)
    text = f"falls {-e.depth:.2f} V below its trend for {1000 * (span[1] - span[0]):.3g} ms"
    travel = _travel(e, closed, opened)
    if travel is not None:
        text += f" at {travel:.0f} % of travel"
    alike = _repeats(e, falls, closed, opened)
    if others := len(alike):
        text += f", and {others} more time{'s' if others > 1 else ''} at the same travel: the track, not the probe"
    steady = [n for n in ("reference", "ground") if _steady(work, n, e)]
    if steady:
        text += f"; {' and '.join(steady)} stay{'s' if len(steady) == 1 else ''} flat meanwhile"
    places = [work.span(o.start, o.stop) for o in alike]
    work.fault("dropout", text, span, "signal", -e.depth, "V", places=places)


def _steady(work: Sweep, name: str, e: Excursion) -> bool:
    samples = work.lane(name)
    if samples is None:
        return False
    side = max(8, e.stop - e.start)
    around = np.concatenate([samples[max(0, e.start - side) : e.start], samples[e.stop : e.stop + side]])
    return bool(around.size) and abs(float(np.median(samples[e.start : e.stop]) - np.median(around))) < 0.05


def note_no_dropout(work: Sweep) -> None:
    """No dropout has no depth."""
    for reading_id in ("dropout_depth_v", "dropout_travel_pct"):
        if all(r.id != reading_id for r in work.readings):
            work.miss(reading_id, "no dropout in this capture")
