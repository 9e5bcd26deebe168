"""Measuring of a throttle sweep: what is peculiar to this circuit, on the shared detectors."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from tracebench.core.answer import Finding, Missing, Phase, Reading
from tracebench.core.capture import Capture, Lane, Samples
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.circuit import Measured, Told
from tracebench.core.errors import BadOption
from tracebench.core.measure.excursions import GRID_S, Excursion, find_excursions
from tracebench.core.measure.levels import Level, grouped_median, level_of
from tracebench.core.measure.noise import MAD_TO_SIGMA, detrended, resolution, robust_sigma
from tracebench.core.measure.series import block_medians, bridged, joined, running_mean, runs
from tracebench.core.measure.sweeps import Rest, find_rests, largest_reversal
from tracebench.core.measure.transitions import Transition, transition

LONGEST_DROPOUT_S = 0.150
DROPOUT_FLOOR_V = 0.060
SMALLEST_SWING_V = 0.25
SLOW_S = 4.0
ANY_SPEED_SAMPLES = 200
"""Samples across the travel from which a quick sweep still shows worn spots (common practice, no published source)."""

_SLIP_ZERO_V = 0.10
_SLIP_SHORTEST_S = 0.050
_SAME_TRAVEL_PCT = 4.0
_TRIM = 0.10


@dataclass
class _Sweep:
    """Everything worked out about one capture, filled step by step."""

    capture: Capture
    told: Told
    reference_v: float
    findings: list[Finding] = field(default_factory=list)
    readings: list[Reading] = field(default_factory=list)
    missing: list[Missing] = field(default_factory=list)
    phases: list[Phase] = field(default_factory=list)
    clean: Samples = field(default_factory=lambda: np.empty(0))
    excursions: list[Excursion] = field(default_factory=list)

    def span(self, start: int, stop: int) -> tuple[float, float]:
        return self.capture.time_s(start), self.capture.time_s(stop)

    def phases_of(self, name: str) -> list[Phase]:
        return [p for p in self.phases if p.name == name]

    def samples_of(self, phase: Phase, trim: float = 0.0) -> tuple[int, int]:
        edge = trim * (phase.to_s - phase.from_s)
        start = self.capture.index(phase.from_s + edge)
        return start, max(start + 1, self.capture.index(phase.to_s - edge))


def measure(capture: Capture, told: Told) -> Measured:
    """All readings and findings of one throttle capture; units in the ids, instants on the file's axis."""
    corrections: list[Finding] = []
    work = _Sweep(_corrected(capture, told, corrections), told, _reference_v(told))
    work.findings += corrections
    signal = work.capture.lanes["signal"].samples
    slips = _slips(work, signal)
    held = bridged(signal, slips)
    _check_sampling(work)
    work.excursions = find_excursions(held, work.capture.interval_s, LONGEST_DROPOUT_S, DROPOUT_FLOOR_V)
    work.clean = bridged(held, [(e.start, e.stop) for e in work.excursions])
    grid, grid_s = _grid(work.clean, work.capture.interval_s)
    rests = find_rests(grid, grid_s, SMALLEST_SWING_V)
    work.phases = _phases(work, rests, grid_s)
    if not rests and setup.is_flat(held, SMALLEST_SWING_V):
        _no_sweep(work, held)
    else:
        _sweep_readings(work)
    _other_lanes(work)
    _excursion_findings(work)
    for a, b in slips:
        work.findings.append(_slip_finding(work, a, b))
    _note_missing(work)
    return Measured(
        work.capture,
        tuple(work.phases),
        tuple(work.readings),
        tuple(sorted(work.findings, key=lambda f: f.from_s)),
        tuple(work.missing),
    )


# --- the lanes as they should have been connected ---------------------------------------------


def _reference_v(told: Told) -> float:
    text = told.options.get("reference_v", "5.0")
    try:
        value = float(text)
    except ValueError:
        raise BadOption(f"option reference_v must be a number of volts, not {text!r}") from None
    if not 1.0 <= value <= 24.0:
        raise BadOption(f"option reference_v must lie between 1 and 24 V, not {value:g}")
    return value


def _corrected(capture: Capture, told: Told, findings: list[Finding]) -> Capture:
    """Swapped lanes, reversed polarity and wrong factors put right where that is safe, each with its finding."""
    capture = _unswapped(capture, findings)
    signal = capture.lanes["signal"]
    thin = signal.samples[:: max(1, signal.samples.size // 100_000)]
    if np.percentile(thin, 99) < 0.05 and np.percentile(thin, 1) < -0.3:
        findings.append(
            setup.whole(
                capture,
                "reversed_polarity",
                "the signal lies below zero: leads reversed; read inverted",
                "signal",
            )
        )
        capture = capture.with_lane(signal.scaled(-1.0))
    moving = not setup.is_flat(capture.lanes["signal"].samples, 0.0)
    for name, low, high in (("signal", 2.5, 5.1), ("reference", 4.5, 5.5)):
        lane = capture.lanes.get(name)
        if lane is None or (name == "signal" and not moving):
            continue
        factor = setup.scale_factor(lane, low * _reference_v(told) / 5, high * _reference_v(told) / 5)
        if factor is None:
            continue
        findings.append(
            setup.whole(
                capture,
                "scale_suspect",
                f"the {name} is {factor:g} times what it can be: probe or clamp factor; read divided by {factor:g}",
                name,
            )
        )
        capture = capture.with_lane(lane.scaled(1.0 / factor))
    return capture


def _unswapped(capture: Capture, findings: list[Finding]) -> Capture:
    signal = capture.lanes["signal"]
    if not setup.is_flat(signal.samples, SMALLEST_SWING_V):
        return capture
    for name in ("reference", "ground"):
        other = capture.lanes.get(name)
        if other is None or setup.is_flat(other.samples, 4 * SMALLEST_SWING_V):
            continue
        findings.append(
            setup.whole(capture, "lanes_swapped", f"the {name} lane sweeps and the signal does not: read exchanged")
        )
        swapped = {
            "signal": Lane("signal", other.samples, other.unit, other.column, other.factor),
            name: Lane(name, signal.samples, signal.unit, signal.column, signal.factor),
        }
        return Capture(
            {**capture.lanes, **swapped},
            capture.interval_s,
            capture.start_s,
            capture.source_samples,
            capture.notes,
        )
    return capture


# --- probe slips and sampling -------------------------------------------------------------------


def _grid(samples: Samples, interval_s: float) -> tuple[Samples, float]:
    block = max(1, round(GRID_S / interval_s))
    return block_medians(samples, block), block * interval_s


def _slips(work: _Sweep, signal: Samples) -> list[tuple[int, int]]:
    """Sample intervals of at least 50 ms that fall to zero at once and come back at once, off any travel.

    Shorter ones, and those up to 150 ms that repeat at one travel, are left to the dropouts.
    """
    grid, grid_s = _grid(signal, work.capture.interval_s)
    block = round(grid_s / work.capture.interval_s)
    zero = runs(np.abs(grid) < _SLIP_ZERO_V)
    if sum(b - a for a, b in zero) > 0.6 * grid.size:
        return []
    edge = max(1, round(0.006 / grid_s))
    out = []
    for a, b in joined(zero, round(0.01 / grid_s)):
        before = grid[max(0, a - edge)] if a > 0 else np.inf
        after = grid[min(grid.size - 1, b - 1 + edge)] if b < grid.size else np.inf
        abrupt = min(before, after) > _SLIP_ZERO_V + 0.15 and not (a == 0 and b == grid.size)
        if abrupt and (b - a) * grid_s > LONGEST_DROPOUT_S:
            out.append((max(0, (a - 1) * block), min(signal.size, (b + 1) * block)))
    return out


def _slip_finding(work: _Sweep, start: int, stop: int) -> Finding:
    from_s, to_s = work.span(start, stop)
    together = ", the reference with it" if _reference_falls(work, start, stop) else ""
    text = (
        f"the signal vanishes to 0 V at once for {1000 * (to_s - from_s):.0f} ms{together} and returns: "
        "the connection, not the part"
    )
    return Finding("probe_slip", "set-up", from_s, to_s, text, lane="signal", hides=True)


def _reference_falls(work: _Sweep, start: int, stop: int) -> bool:
    lane = work.capture.lanes.get("reference")
    if lane is None:
        return False
    stride = max(1, lane.samples.size // 100_000)
    usual = float(np.median(lane.samples[::stride]))
    return float(np.median(lane.samples[start:stop])) < 0.4 * usual


def _check_sampling(work: _Sweep) -> None:
    capture = work.capture
    per_dropout = LONGEST_DROPOUT_S / capture.interval_s
    if per_dropout < setup.FEWEST_SAMPLES:
        work.findings.append(
            setup.whole(
                capture,
                "undersampled",
                f"{capture.rate_hz:.3g} samples a second put {per_dropout:.2g} across a 150 ms dropout; "
                f"{setup.FEWEST_SAMPLES} are needed",
                hides=True,
            )
        )


# --- phases -------------------------------------------------------------------------------------


def _phases(work: _Sweep, rests: list[Rest], grid_s: float) -> list[Phase]:
    """Phases found between and at the rests; those the user told win wherever they overlap."""
    names = {"low": "closed", "high": "open"}
    origin = work.capture.start_s
    end = origin + work.capture.duration_s
    found: list[Phase] = []
    for k, rest in enumerate(rests):
        stop = min(origin + rest.stop * grid_s, end)
        found.append(Phase(names[rest.side], origin + rest.start * grid_s, stop))
        if k + 1 < len(rests):
            moving = "opening" if rest.side == "low" else "closing"
            found.append(Phase(moving, stop, origin + rests[k + 1].start * grid_s))
    kept = [part for phase in found if (part := _beside(phase, work.told.phases)) is not None]
    return _numbered(sorted([*kept, *work.told.phases], key=lambda p: p.from_s))


def _beside(phase: Phase, told: Sequence[Phase]) -> Phase | None:
    """What is left of a found phase beside the told ones; one of the same name is replaced whole."""
    start, stop = phase.from_s, phase.to_s
    for t in told:
        if t.from_s < stop and t.to_s > start:
            if t.name == phase.name or (t.from_s <= start and t.to_s >= stop):
                return None
            if t.from_s <= start:
                start = t.to_s
            else:
                stop = t.from_s
    return Phase(phase.name, start, stop)


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


# --- readings -----------------------------------------------------------------------------------


def _sweep_readings(work: _Sweep) -> None:
    closed = [(p, _phase_level(work, p)) for p in work.phases_of("closed")]
    opened = [(p, _phase_level(work, p)) for p in work.phases_of("open")]
    for phase, level in closed:
        _add(work, "closed_v", level.value, "V", level.uncertainty, _inner(phase), "signal", phase.cycle)
    for phase, level in opened:
        _add(work, "open_v", level.value, "V", level.uncertainty, _inner(phase), "signal", phase.cycle)
    if closed:
        pooled = np.concatenate([work.clean[slice(*work.samples_of(p, _TRIM))] for p, _ in closed])
        longest = max((p for p, _ in closed), key=lambda p: p.to_s - p.from_s)
        level = level_of(pooled)
        _add(work, "closed_v", level.value, "V", level.uncertainty, _inner(longest), "signal")
        _noise(work, [p for p, _ in closed], longest)
    if opened:
        _open_levels(work, opened)
    _counts(work)
    _durations(work, closed, opened)
    _reversal(work)
    _clipping(work)
    coarse = setup.low_range_use(work.capture, work.capture.lanes["signal"], hides_above=DROPOUT_FLOOR_V)
    work.findings += [coarse] if coarse is not None else []


def _phase_level(work: _Sweep, phase: Phase) -> Level:
    start, stop = work.samples_of(phase, _TRIM)
    return level_of(work.clean[start:stop])


def _inner(phase: Phase) -> tuple[float, float]:
    edge = _TRIM * (phase.to_s - phase.from_s)
    return phase.from_s + edge, phase.to_s - edge


def _add(
    work: _Sweep,
    reading_id: str,
    value: float,
    unit: str,
    uncertainty: float,
    span_s: tuple[float, float],
    lane: str | None,
    cycle: int | None = None,
) -> None:
    work.readings.append(
        Reading(reading_id, float(value), unit, float(uncertainty), span_s[0], span_s[1], lane, None, cycle)
    )


def _open_levels(work: _Sweep, opened: list[tuple[Phase, Level]]) -> None:
    values = np.array([level.value for _, level in opened])
    middle = float(np.median(values))
    nearest = int(np.argmin(np.abs(values - middle)))
    phase, level = opened[nearest]
    _add(work, "open_v", middle, "V", level.uncertainty, _inner(phase), "signal")
    low, high = int(np.argmin(values)), int(np.argmax(values))
    if len(opened) > 1:
        spread = float(np.hypot(opened[low][1].uncertainty, opened[high][1].uncertainty))
        between = sorted((opened[low][0], opened[high][0]), key=lambda p: p.from_s)
        span = (between[0].from_s, between[-1].to_s)
        _add(work, "open_spread_v", values[high] - values[low], "V", spread, span, "signal")
    else:
        work.missing.append(Missing("open_spread_v", "only one open phase in this capture"))


def _noise(work: _Sweep, closed: list[Phase], longest: Phase) -> None:
    parts = [detrended(work.clean[slice(*work.samples_of(p, _TRIM))]) for p in closed]
    pooled = np.concatenate(parts)
    step = resolution(work.capture.lanes["signal"].samples)
    sigma = MAD_TO_SIGMA * grouped_median(np.abs(pooled - grouped_median(pooled, step)), step)
    # Standard error of a MAD-based sigma of normal noise: 1.17 sigma / sqrt(n) (asymptotic efficiency 37 %).
    _add(
        work,
        "noise_mv",
        1000 * sigma,
        "mV",
        1000 * 1.17 * sigma / np.sqrt(pooled.size),
        _inner(longest),
        "signal",
    )
    if sigma > 0.021:
        text = f"noise of {1000 * sigma:.0f} mV at rest: check ground lead and connection before reading small features"
        work.findings.append(Finding("noise_high", "note", longest.from_s, longest.to_s, text, lane="signal"))


def _counts(work: _Sweep) -> None:
    order = [p for p in work.phases if p.name in ("closed", "open")]
    names = [p.name for p in order]
    complete = [k for k in range(len(names) - 2) if names[k : k + 3] == ["closed", "open", "closed"]]
    span = (order[complete[0]].from_s, order[complete[-1] + 2].to_s) if complete else _whole(work)
    _add(work, "sweeps_count", len(complete), "", 0.0, span, "signal")
    if len(complete) < 2 and work.phases_of("open"):
        text = f"{len(complete)} complete sweep{'s' if len(complete) != 1 else ''}; two or more are wanted"
        work.findings.append(setup.whole(work.capture, "too_short", text, "signal", hides=True))


def _whole(work: _Sweep) -> tuple[float, float]:
    return work.capture.start_s, work.capture.start_s + work.capture.duration_s


def _durations(work: _Sweep, closed: list[tuple[Phase, Level]], opened: list[tuple[Phase, Level]]) -> None:
    rests = sorted([*closed, *opened], key=lambda pl: pl[0].from_s)
    by_name: dict[str, list[Reading]] = {"opening_s": [], "closing_s": []}
    fastest: tuple[float, Reading] | None = None
    for (before, low), (after, high) in itertools.pairwise(rests):
        if before.name == after.name:
            continue
        reading_id = "opening_s" if before.name == "closed" else "closing_s"
        start = work.capture.index((before.from_s + before.to_s) / 2)
        stop = work.capture.index((after.from_s + after.to_s) / 2)
        moved = transition(work.clean, start, stop + 1, low.value, high.value)
        if moved is None:
            continue
        reading = _duration(work, reading_id, moved, before.cycle)
        by_name[reading_id].append(reading)
        if fastest is None or moved.samples < fastest[0]:
            fastest = (moved.samples, reading)
    for reading_id, per_cycle in by_name.items():
        work.readings += per_cycle
        if per_cycle:
            slowest = max(per_cycle, key=lambda r: r.value)
            _add(
                work,
                reading_id,
                slowest.value,
                "s",
                slowest.uncertainty,
                (slowest.from_s, slowest.to_s),
                "signal",
            )
    if fastest is not None:
        _sweep_speed(work, *fastest)


def _duration(work: _Sweep, reading_id: str, moved: Transition, cycle: int | None) -> Reading:
    a, b = sorted((moved.at_10.index, moved.at_90.index))
    interval = work.capture.interval_s
    return Reading(
        reading_id,
        float(moved.samples * interval),
        "s",
        float(moved.uncertainty * interval),
        work.capture.time_s(a),
        work.capture.time_s(b),
        "signal",
        None,
        cycle,
    )


def _sweep_speed(work: _Sweep, samples: float, fastest: Reading) -> None:
    travel_samples = samples / 0.8
    if samples < setup.FEWEST_SAMPLES:
        text = f"only {samples:.0f} samples from 10 to 90 % of the travel; {setup.FEWEST_SAMPLES} are needed"
        work.findings.append(
            Finding("undersampled", "set-up", fastest.from_s, fastest.to_s, text, lane="signal", hides=True)
        )
    dense = travel_samples >= ANY_SPEED_SAMPLES
    school = work.told.options.get("sweep", "slow")
    slowest = max(r.value for r in work.readings if r.id in ("opening_s", "closing_s"))
    if school == "slow" and slowest < SLOW_S * 0.95:
        text = f"the slowest movement takes {slowest:.2g} s from 10 to 90 %; slow sweeps of {SLOW_S:g} s are wanted" + (
            f", though {travel_samples:.0f} samples across the travel still show short faults" if dense else ""
        )
    elif school == "any" and not dense:
        text = (
            f"{travel_samples:.0f} samples across the quickest travel; at this speed "
            f"{ANY_SPEED_SAMPLES} or more are wanted"
        )
    else:
        return
    work.findings.append(
        Finding("sweep_too_fast", "set-up", fastest.from_s, fastest.to_s, text, lane="signal", hides=not dense)
    )


def _reversal(work: _Sweep) -> None:
    """Reversals on the cleaned trend, smoothed over 60 ms, inside each opening and closing."""
    grid, grid_s = _grid(work.clean, work.capture.interval_s)
    smooth = running_mean(grid, max(1, round(0.06 / grid_s)))
    worst: tuple[float, int] | None = None
    for phase in (*work.phases_of("opening"), *work.phases_of("closing")):
        start = round((phase.from_s - work.capture.start_s) / grid_s)
        stop = round((phase.to_s - work.capture.start_s) / grid_s)
        found = largest_reversal(smooth, start, stop, phase.name == "opening")
        if stop > start and (worst is None or found[0] > worst[0]):
            worst = found
    if worst is None:
        work.missing.append(Missing("reversal_v", "no movement in this capture"))
        return
    # The largest of many noisy differences is never zero: what noise alone would give is taken off.
    sigma = robust_sigma(np.diff(smooth[:: max(1, round(0.06 / grid_s))])) if worst[0] > 0 else 0.0
    at = work.capture.start_s + worst[1] * grid_s
    noise = robust_sigma(np.diff(grid)) / np.sqrt(2.0) / np.sqrt(max(1, round(0.06 / grid_s)))
    value = max(0.0, worst[0] - 4 * min(noise, sigma))
    _add(work, "reversal_v", value, "V", float(noise), (max(work.capture.start_s, at - 0.15), at), "signal")


def _clipping(work: _Sweep) -> None:
    closed = work.phases_of("closed")
    if not closed:
        return
    signal = work.capture.lanes["signal"].samples
    # Sample to sample, so that a hand that eases in does not pass for noise.
    stirring = max(robust_sigma(np.diff(signal[slice(*work.samples_of(p, _TRIM))])) for p in closed) / np.sqrt(2.0)
    stretches = setup.clipped_stretches(signal, stirring)
    inside = [(a, b) for a, b in stretches if (b - a) * work.capture.interval_s > 0.02]
    if inside:
        a, b = max(inside, key=lambda ab: ab[1] - ab[0])
        from_s, to_s = work.span(a, b)
        text = f"rests dead flat at {signal[a]:.3g} V, the end of the range; choose a larger range or shift the zero"
        work.findings.append(Finding("clipped", "set-up", from_s, to_s, text, lane="signal", hides=True))


# --- no sweep at all ----------------------------------------------------------------------------


def _no_sweep(work: _Sweep, signal: Samples) -> None:
    level = level_of(signal[:: max(1, signal.size // 1_000_000)])
    reference = work.capture.lanes.get("reference")
    live_reference = reference is not None and abs(float(np.median(reference.samples))) > 0.5 * work.reference_v
    powered = live_reference or bool(work.told.phases)
    start, stop = _whole(work)
    volts = f"{level.value:.2f} V"
    if level.value > 0.9 * work.reference_v:
        text = f"the signal stays at {volts}, near the reference, whatever the throttle does"
        work.findings.append(Finding("stuck_high", "fault", start, stop, text, "signal", None, level.value, "V"))
    elif level.value < 0.05 * work.reference_v and powered:
        proof = "the reference is live" if live_reference else "the circuit was powered"
        text = f"the signal stays at {volts} while {proof}"
        work.findings.append(Finding("stuck_low", "fault", start, stop, text, "signal", None, level.value, "V"))
    elif level.value < 0.05 * work.reference_v:
        text = f"the signal stays at {volts}: probe, key or lead first, sensor later"
        work.findings.append(setup.whole(work.capture, "flat_line", text, "signal", hides=True))
    if any(f.kind == "fault" for f in work.findings):
        return
    for name in ("closed", "opening", "open"):
        work.findings.append(
            setup.whole(
                work.capture,
                "missing_phase",
                f"the throttle was not swept: no {name} phase",
                "signal",
                hides=True,
            )
        )


# --- other lanes, excursions, leftovers -----------------------------------------------------------


def _other_lanes(work: _Sweep) -> None:
    for name in ("reference", "ground"):
        lane = work.capture.lanes.get(name)
        if lane is None:
            continue
        samples = lane.samples[:: max(1, lane.samples.size // 1_000_000)]
        level = level_of(samples)
        if name == "reference" and level.value < 0.5:
            text = "the reference lane carries nothing: probe first"
            work.findings.append(setup.whole(work.capture, "flat_line", text, name))
            continue
        _add(work, f"{name}_v", level.value, "V", level.uncertainty, _whole(work), name)


def _excursion_findings(work: _Sweep) -> None:
    closed, opened = _summary(work, "closed_v"), _summary(work, "open_v")
    falls: list[Excursion] = []
    slipped: list[Excursion] = []
    for e in work.excursions:
        if e.depth < 0:
            (slipped if _is_slip(work, e, closed, opened) else falls).append(e)
    for e in slipped:
        work.findings.append(_slip_finding(work, e.start, e.stop))
    for e in work.excursions:
        if e.depth > 0:
            from_s, to_s = work.span(e.start, e.stop)
            text = f"leaps {e.depth:.2f} V above its trend for {1000 * (to_s - from_s):.3g} ms"
            work.findings.append(Finding("spike", "fault", from_s, to_s, text, "signal", None, e.depth, "V"))
    for e in falls:
        work.findings.append(_dropout(work, e, falls, closed, opened))
    moved = bool(work.phases_of("opening") or work.phases_of("closing"))
    if moved:
        span = work.span(falls[0].start, falls[-1].stop) if falls else _whole(work)
        _add(work, "dropouts_count", len(falls), "", 0.0, span, "signal")
    if falls:
        deepest = min(falls, key=lambda e: e.depth)
        span = work.span(deepest.start, deepest.stop)
        _add(work, "dropout_depth_v", -deepest.depth, "V", max(deepest.sigma, 1e-6), span, "signal")
        if closed is not None and opened is not None:
            swing = opened - closed
            _add(
                work,
                "dropout_travel_pct",
                100 * (deepest.trend - closed) / swing,
                "%",
                100 * deepest.sigma / swing,
                span,
                "signal",
            )


def _summary(work: _Sweep, reading_id: str) -> float | None:
    return next((r.value for r in work.readings if r.id == reading_id and r.cycle is None), None)


def _travel(e: Excursion, closed: float | None, opened: float | None) -> float | None:
    if closed is None or opened is None or opened - closed < SMALLEST_SWING_V:
        return None
    return 100 * (e.trend - closed) / (opened - closed)


def _is_slip(work: _Sweep, e: Excursion, closed: float | None, opened: float | None) -> bool:
    """A fall to zero that is the probe's: with the reference, or 50 ms or longer and at no repeated travel."""
    if _reference_falls(work, e.start, e.stop):
        return True
    if e.trend + e.depth > _SLIP_ZERO_V or (e.stop - e.start) * work.capture.interval_s < _SLIP_SHORTEST_S:
        return False
    return not _repeats(e, work.excursions, closed, opened)


def _repeats(e: Excursion, all_of: list[Excursion], closed: float | None, opened: float | None) -> list[Excursion]:
    here = _travel(e, closed, opened)
    if here is None:
        return []
    places = [(o, _travel(o, closed, opened)) for o in all_of if o is not e and o.depth < 0]
    return [o for o, there in places if there is not None and abs(there - here) <= _SAME_TRAVEL_PCT]


def _dropout(work: _Sweep, e: Excursion, falls: list[Excursion], closed: float | None, opened: float | None) -> Finding:
    from_s, to_s = work.span(e.start, e.stop)
    text = f"falls {-e.depth:.2f} V below its trend for {1000 * (to_s - from_s):.3g} ms"
    travel = _travel(e, closed, opened)
    if travel is not None:
        text += f" at {travel:.0f} % of travel"
    others = len(_repeats(e, falls, closed, opened))
    if others:
        text += f", and {others} more time{'s' if others > 1 else ''} at the same travel: the track, not the probe"
    steady = [n for n in ("reference", "ground") if _steady(work, n, e)]
    if steady:
        text += f"; {' and '.join(steady)} stay{'s' if len(steady) == 1 else ''} flat meanwhile"
    return Finding("dropout", "fault", from_s, to_s, text, "signal", None, -e.depth, "V")


def _steady(work: _Sweep, name: str, e: Excursion) -> bool:
    lane = work.capture.lanes.get(name)
    if lane is None:
        return False
    side = max(8, e.stop - e.start)
    around = np.concatenate([lane.samples[max(0, e.start - side) : e.start], lane.samples[e.stop : e.stop + side]])
    return bool(around.size) and abs(float(np.median(lane.samples[e.start : e.stop]) - np.median(around))) < 0.05


def _note_missing(work: _Sweep) -> None:
    have = {p.name for p in work.phases}
    explained = {"missing_phase", "stuck_high", "stuck_low"}
    if not any(f.code in explained for f in work.findings):
        for name in ("closed", "opening", "open"):
            if name not in have:
                work.findings.append(
                    setup.whole(
                        work.capture,
                        "missing_phase",
                        f"no {name} phase in this capture",
                        "signal",
                        hides=True,
                    )
                )
    phase_of = {
        "closed_v": "closed",
        "noise_mv": "closed",
        "open_v": "open",
        "open_spread_v": "open",
        "opening_s": "opening",
        "closing_s": "closing",
        "reversal_v": "opening",
        "sweeps_count": "opening",
        "dropouts_count": "opening",
    }
    given = {r.id for r in work.readings} | {m.reading for m in work.missing}
    for reading_id, phase in phase_of.items():
        if reading_id not in given:
            why = (
                f"no {phase} phase in this capture"
                if phase not in have
                else f"the {phase} phase is not complete enough to read it"
            )
            work.missing.append(Missing(reading_id, why))
    for reading_id in ("dropout_depth_v", "dropout_travel_pct"):
        if reading_id not in given:
            work.missing.append(Missing(reading_id, "no dropout in this capture"))
    for name in ("reference", "ground"):
        if f"{name}_v" not in given:
            work.missing.append(Missing(f"{name}_v", f"no {name} lane in this capture"))
