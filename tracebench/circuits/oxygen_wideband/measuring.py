"""Oxygen, wideband: what is peculiar to measuring it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from tracebench.core.answer import Limit, Phase
from tracebench.core.circuits import extremes, probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.errors import BadCapture
from tracebench.core.measure.transitions import Instant, crossing
from tracebench.core.robust.median import median, percentile, percentiles
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import joined, running_mean, runs

LOW_REF_V = Threshold(2.2, "V", "Reference voltages under this are no cell's (from memory)")
HIGH_REF_V = Threshold(2.8, "V", "Reference voltages over this are no cell's (from memory)")
WINDOW_MA = Threshold(
    0.25, "mA", "Pump current that still counts as lambda 1 (common practice, no published source); option window_ma"
)

WANTED_MS = Threshold(220.0, "ms", "A sound sensor answers within this (common practice, no published source)")
SLOW_MS = Threshold(300.0, "ms", "Slower than this it is failing (common practice, no published source)")
SMOOTH_S = Threshold(0.020, "s", "Shorter than any answer of the sensor")
NOTHING_V = Threshold(0.15, "V", "Swing under which a lane carries nothing (from memory)")
LONGEST_RESPONSE_S = Threshold(2.0, "s", "What answers later does not answer (from memory)")


@dataclass(frozen=True, slots=True, eq=False)
class _Cell:
    """The pump lane, smoothed, and its window: at or under `low` is rich, over `high` is lean."""

    lane: str
    unit: str
    grid: Grid
    low: float
    high: float


def measure(work: Work) -> Work:
    """Window, response to a load request, overrun and recovery, by pump current where it was recorded."""
    if not {"pump_current", "pump_voltage"} & set(work.capture.lanes):
        raise BadCapture("oxygen-wideband needs the lane 'pump_current' or 'pump_voltage'; map a column to it")
    cell = _cell(work)
    if cell.lane == "pump_voltage" and len(work.capture.lanes) == 1 and not work.told.phases:
        level = percentile(np.abs(thinning.thin(work.samples("pump_voltage"))), 99)
        if level < NOTHING_V:
            work.settle_phases([])
            probe.note_dead(work, "pump_voltage", level)
            return work
    requests = _requests(work)
    work.settle_phases(_phases(work, cell, requests))
    steady = _steady_spans(work)
    _read_steady(work, cell, steady)
    _read_response(work, cell, requests)
    _read_overrun(work, cell)
    _judge_dead(work, cell, requests)
    record_checks.check_rate(work, "a response of 200 ms", 0.200, cell.lane)
    record_checks.check_clipped(work, cell.lane, 0.1)
    setup.check_range_use(work, cell.lane, 0.1 * (cell.high - cell.low))
    left = sample_noise(work.samples(cell.lane)) * np.sqrt(min(1.0, work.capture.interval_s / SMOOTH_S))
    if left > 0.25 * (cell.high - cell.low):
        work.setup("noisy", "noise is wider than a quarter of the window: a low-pass view", cell.lane, hides=True)
    if "airflow" not in work.capture.lanes:
        work.miss("response_ms", "no airflow lane in this capture")
    return work


def _cell(work: Work) -> _Cell:
    """Current decides where it was recorded, unless a school is told that has the voltage decide."""
    there = [name for name in ("pump_current", "pump_voltage") if name in work.capture.lanes]
    decides = work.told.options.get("decides", "either")
    lane = "pump_voltage" if decides == "voltage" and "pump_voltage" in there else there[0]
    if decides == "current" and lane != "pump_current":
        work.setup("missing_phase", "only the pump current counts here, and it was not recorded", lane, hides=True)
    grid = thinning.on_grid(work, work.samples(lane), 0.002)
    smooth = Grid(running_mean(grid.values, max(1, round(SMOOTH_S / grid.interval_s))), grid.interval_s, grid.start_s)
    if lane == "pump_current":
        window = work.number("window_ma", WINDOW_MA, 0.01, 3.0)
        return _Cell(lane, "mA", smooth, -window, window)
    levels = []
    for name, usual in (("reference_low", LOW_REF_V), ("reference_high", HIGH_REF_V)):
        samples = work.lane(name)
        levels.append(usual if samples is None else median(thinning.thin(samples)))
    return _Cell(lane, "V", smooth, min(levels), max(levels))


class _Request(NamedTuple):
    """A load request: airflow leaves idle in a jump and falls back, seconds; how well its beginning is known."""

    from_s: float
    to_s: float
    doubt_s: float


def _requests(work: Work) -> list[_Request]:
    """Where airflow leaves idle in a jump, until it falls back."""
    airflow = work.lane("airflow")
    if airflow is None or setup.is_flat(airflow, 0.3):
        return []
    grid = thinning.on_grid(work, airflow, 0.005)
    v = running_mean(grid.values, max(1, round(0.015 / grid.interval_s)))
    low, high = percentiles(v, 10.0, 99.7)
    out: list[_Request] = []
    for a, b in joined(runs(v > low + 0.4 * (high - low)), round(0.5 / grid.interval_s)):
        start = max(0, a - round(0.6 / grid.interval_s))
        base = median(v[start : max(start + 1, a - round(0.2 / grid.interval_s))])
        left = np.flatnonzero(v[start : a + 1] <= base + 0.08 * (high - base))
        if a > 0 and left.size:
            first, last = (work.capture.index(grid.time_s(k)) for k in (int(left[-1]) + start - 2, a + 1))
            begin = crossing(airflow, first, last, base + 0.1 * (high - base), high - base)
            if begin is None:
                out.append(_Request(grid.time_s(start + int(left[-1])), grid.time_s(b), grid.interval_s))
            else:
                doubt = begin.uncertainty * work.capture.interval_s
                out.append(_Request(work.capture.time_s(begin.index), grid.time_s(b), doubt))
    return out


def _phases(work: Work, cell: _Cell, requests: list[_Request]) -> list[Phase]:
    """Snaps from each request, the long lean stretch after it as overrun, recovery until the window, else steady."""
    grid, v = cell.grid, cell.grid.values
    width = cell.high - cell.low
    lean = [
        (a, b)
        for a, b in joined(runs(v > cell.high + 0.25 * width), round(0.05 / grid.interval_s))
        if (b - a) * grid.interval_s > 0.4
    ]
    out: list[Phase] = []
    for k, (request, shut, _) in enumerate(requests):
        following = requests[k + 1][0] if k + 1 < len(requests) else work.whole[1]
        # Lean while the throttle is open is late fuel, not an overrun.
        after = [
            h
            for h in lean
            if shut - 0.1 < grid.time_s(h[0]) < following or grid.time_s(h[0]) < shut < grid.time_s(h[1]) - 0.3
        ]
        end = max(shut, grid.time_s(after[0][0])) if after else min(request + 2.0, following)
        out.append(Phase("snap", request, end))
        if after:
            out += _overrun(work, cell, (max(after[0][0], grid.index(end)), after[0][1]), following)
    if not requests and len(lean) == 1 and lean[0][0] > 0 and (lean[0][1] - lean[0][0]) < 0.5 * v.size:
        out += _overrun(work, cell, lean[0], work.whole[1])
    taken = sorted(out, key=lambda p: p.from_s)
    at = work.whole[0]
    steady = []
    for phase in [*taken, Phase("", work.whole[1], work.whole[1])]:
        if phase.from_s - at > 0.5:
            steady.append(Phase("steady", at, phase.from_s))
        at = max(at, phase.to_s)
    return sorted([*taken, *steady], key=lambda p: p.from_s)


def _overrun(work: Work, cell: _Cell, hold: tuple[int, int], limit_s: float) -> list[Phase]:
    grid, v = cell.grid, cell.grid.values
    raw = work.samples(cell.lane)[slice(*work.indices((grid.time_s(hold[0]), grid.time_s(hold[1]))))]
    peak = extremes.extreme_of(raw, work.capture.interval_s, 0.05, largest=True).value
    held = np.flatnonzero(v[hold[0] : hold[1]] >= cell.high + 0.9 * (peak - cell.high))
    leave = hold[0] + int(held[-1])
    stop = min(grid.index(limit_s), v.size - 1)
    inside = np.flatnonzero((v[leave:stop] <= cell.high) & (v[leave:stop] >= cell.low - (cell.high - cell.low)))
    back = leave + int(inside[0]) if inside.size else stop
    phases = [grid.phase("overrun", hold[0], leave)]
    if back > leave:
        phases.append(grid.phase("recovery", leave, back))
    return phases


def _steady_spans(work: Work) -> list[Phase]:
    return work.phases_of("steady")


def _read_steady(work: Work, cell: _Cell, steady: list[Phase]) -> None:
    if not steady:
        return
    parts = [cell.grid.values[cell.grid.index(p.from_s) : cell.grid.index(p.to_s)] for p in steady]
    values = np.concatenate(parts)
    if values.size == 0:
        return
    noise = sample_noise(values)
    inside = 100 * float(np.mean((values >= cell.low - 2 * noise) & (values <= cell.high + 2 * noise)))
    longest = max(steady, key=lambda p: p.to_s - p.from_s)
    doubt = float(np.sqrt(max(inside * (100 - inside), 1.0) / max(values.size / 20, 1)))
    span = (longest.from_s, longest.to_s)
    work.add("in_window_pct", inside, "%", doubt, span, cell.lane)
    middle = median(values)
    if inside < 95 and not cell.low <= middle <= cell.high:
        side, code = ("lean", "biased_lean") if middle > cell.high else ("rich", "biased_rich")
        text = f"rests at {middle:.2f} {cell.unit} in steady running, on the {side} side of the window"
        work.fault(code, text, span, cell.lane, middle, cell.unit)


def _read_response(work: Work, cell: _Cell, requests: list[_Request]) -> None:
    """From the start of the load request to the mixture going rich, the slowest of them."""
    work.limits.append(Limit("response_ms", None, WANTED_MS, marginal=SLOW_MS - WANTED_MS))
    slowest: tuple[float, float, float] | None = None
    level = 0.0 if cell.unit == "mA" else cell.low
    # The loop's own ripple about lambda 1 is not rich yet.
    share = 0.5 * cell.high if cell.unit == "mA" else 0.02 * (cell.high - cell.low)
    margin = share + 3 * sample_noise(cell.grid.values)
    for request, shut, doubt in requests:
        start = cell.grid.index(request)
        # What goes rich after the throttle has shut answers to something else.
        stop = cell.grid.index(min(request + LONGEST_RESPONSE_S, shut + 0.1))
        part = cell.grid.values[start:stop]
        rich = np.flatnonzero(part < level - margin)
        if rich.size == 0 or rich[0] == 0:  # never, or already before anything was asked
            continue
        before = np.flatnonzero(part[: int(rich[0]) + 1] >= level)
        at = start + (int(before[-1]) if before.size else 0)
        went = _placed(work, cell, at, level, -1)
        took = work.capture.time_s(went.index) - request
        if slowest is None or took > slowest[0]:
            # Two lanes whose instants stand on one grid of samples.
            own = float(np.hypot(went.uncertainty, 1 / np.sqrt(12.0))) * work.capture.interval_s
            slowest = (took, request, float(np.hypot(own, doubt)))
    if slowest is not None:
        span = (slowest[1], slowest[1] + slowest[0])
        work.add("response_ms", 1000 * slowest[0], "ms", 1000 * slowest[2], span, cell.lane)
    elif requests:
        work.miss("response_ms", "the mixture does not go rich after the load request")
        values = cell.grid.values[cell.grid.index(requests[0].from_s) : cell.grid.index(requests[0].to_s)]
        if values.size and float(values.max()) > cell.high:
            text = "the mixture goes lean after the load request and does not go rich before the throttle shuts"
            work.fault("slow_fuel_response", f"{text}: fuel supply first", requests[0][:2], cell.lane)


def _read_overrun(work: Work, cell: _Cell) -> None:
    overrun, recovery = work.phase("overrun"), work.phase("recovery")
    if overrun is not None:
        a, b = work.indices((overrun.from_s, overrun.to_s))
        samples = work.samples(cell.lane)[a : b + 1]
        extremes.read_extreme(work, "overrun_peak", samples, cell.lane, 0.05, largest=True, start=a)
    if recovery is not None:
        span = (recovery.from_s, recovery.to_s)
        doubt = 0.0
        peak = work.value("overrun_peak")
        if peak is not None and not work.told.phases:
            ends = (cell.high + 0.9 * (peak - cell.high), cell.high)
            marks = [_placed(work, cell, cell.grid.index(at), level, -1) for at, level in zip(span, ends, strict=True)]
            span = (work.capture.time_s(marks[0].index), work.capture.time_s(marks[1].index))
            doubt = float(np.hypot(marks[0].uncertainty, marks[1].uncertainty)) * work.capture.interval_s
        work.add("recovery_ms", 1000 * (span[1] - span[0]), "ms", 1000 * doubt, span, cell.lane)


def _placed(work: Work, cell: _Cell, at: int, level: float, sign: int) -> Instant:
    """Where the lane passes a level about point `at` of the grid: among its samples, or the grid where they are noise.

    `sign` is 1 for a rise and -1 for a fall. The index is one of samples.
    """
    width = cell.high - cell.low
    block = cell.grid.interval_s / work.capture.interval_s
    reach = max(4, round(SMOOTH_S / work.capture.interval_s))
    samples = work.samples(cell.lane)
    centre = work.capture.index(cell.grid.time_s(at))
    if sample_noise(samples[max(0, centre - 20 * reach) : centre + 20 * reach]) < 0.02 * width:
        found = crossing(samples, max(0, centre - reach), min(samples.size, centre + reach + 1), level, sign * width)
        if found is not None:
            return found
    return Instant(float(centre), block)


def _judge_dead(work: Work, cell: _Cell, requests: list[_Request]) -> None:
    values = cell.grid.values
    low, high = percentiles(values, 0.5, 99.5)
    middle = median(values)
    width = cell.high - cell.low
    still = high - low < max(0.3 * width, 6 * sample_noise(values))
    volts = work.lane("pump_voltage")
    rest = median(thinning.thin(volts)) if volts is not None and setup.is_flat(volts, 0.1) else 2.5
    if still and not 1.0 < rest < 4.5:
        text = f"the pump voltage rests at {rest:.2f} V: cell open or cold, look at the heater and its supply first"
        work.fault("heater_fault", text, None, "pump_voltage", rest, "V")
    elif requests and still and cell.low <= middle <= cell.high:
        text = f"stays at {middle:.2f} {cell.unit} through a load request: it answers to nothing"
        work.fault("stuck_in_window", text, (requests[0].from_s, work.whole[1]), cell.lane, middle, cell.unit)
