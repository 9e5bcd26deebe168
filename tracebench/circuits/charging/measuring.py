"""Charging: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits import extremes, thinning
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import Edges, find_edges, high_shares, swing_thresholds
from tracebench.core.measure.levels import level_of
from tracebench.core.robust.codes import distinct_levels, resolution
from tracebench.core.robust.median import median, percentile, percentiles
from tracebench.core.robust.noise import percentile_range, sample_noise
from tracebench.core.robust.series import joined, running_mean, runs
from tracebench.core.robust.spectrum import strongest_line
from tracebench.core.samples import Samples

OVER_V = Threshold(15.0, "V", "System voltage that no sound regulator holds (common practice, no published source)")
OVER_FROM_S = Threshold(0.2, "s", "A load dump dies away sooner than this (from memory)")
PULSES_FROM_HZ = Threshold(20.0, "Hz", "A command slower than this is no duty-cycle command (from memory)")
FEWEST_OF_DUTY = Count(2, "periods", "Whole periods from which a part of the record has a duty of its own")
COURSE = Count(10, "parts", "Equal parts of the record in which the course of the command is read")

DUTY_RISE_PCT = Threshold(
    10.0, "%", "Less than this is the regulator following the road, not a load being met (from memory)"
)
RIPPLE_RATE_HZ = Threshold(
    500.0,
    "Hz",
    "Ripple of an idling alternator lies at some hundred hertz: a slower recording has none to read (from memory)",
)


RESOLVED_HZ = Threshold(5000.0, "Hz", "Under this rate a ripple folds over itself, and its line with it")

LEAST_LINE = Threshold(
    0.2,
    "",
    "Part of its power that a ripple has in its strongest line: sound ones 0.4, with a diode open 0.6 (by simulation)",
)

LEAST_FOLDED = Threshold(
    0.02, "", "The same of a ripple that folds over itself: of 4096 white samples a line has a 250th"
)

AC_WITHIN_V = Threshold(3.0, "V", "About zero: what a sense wire cannot lie at while it is charged (from memory)")
AC_LEAST_V = Threshold(0.03, "V", "Less ripple than any alternator leaves on its battery (from memory)")
LOOKED_AT = Count(4096, "samples", "So many tell whether a movement has a frequency")

QUIET_V = Threshold(0.3, "V", "Ripple up to which it does not matter what made it")


def measure(work: Work) -> Work:
    """Sense voltage, case ground, command and ripple; what explains an overcharge and what does not."""
    work.settle_phases([])
    sense = work.samples("sense")
    if _without_its_level(sense):
        work.setup("missing_phase", "coupled by AC: the ripple is there, the level is not", "sense", hides=True)
        for reading_id in ("sense_v", "sense_max_v", "time_over_15_s"):
            work.miss(reading_id, "the sense lane is coupled by AC")
        _command(work)
        _case_ground(work)
        _ripple(work, sense)
        return work
    if percentile(np.abs(thinning.thin(sense)), 99) < 0.5:
        work.setup("flat_line", "nothing comes from the sense wire: probe or fuse first", "sense", hides=True)
        return work
    level = level_of(thinning.thin(sense), work.code("sense"))
    work.add("sense_v", level.value, "V", level.uncertainty, work.whole, "sense")
    grid = thinning.on_grid(work, sense, 0.020)
    extremes.read_extreme(work, "sense_max_v", sense, "sense", 0.020, largest=True)
    duty = _command(work)
    _case_ground(work)
    _over(work, grid, duty)
    _ripple(work, sense)
    return work


def _without_its_level(sense: Samples) -> bool:
    """True for a ripple about zero: it moves far out of its noise and has a frequency, where a dead wire has none."""
    low, high = percentiles(thinning.thin(sense), 1.0, 99.0)
    return (
        max(abs(low), abs(high)) < AC_WITHIN_V
        and low < 0 < high
        and high - low > AC_LEAST_V
        and strongest_line(sense[:LOOKED_AT]) > LEAST_LINE
    )


def _command(work: Work) -> Grid | None:
    """Duty in percent on a grid: the lane's own figure, or worked out from its pulses."""
    samples = work.lane("command")
    if samples is None:
        work.miss("command_duty_pct", "no command lane in this capture")
        return None
    grid = thinning.on_grid(work, samples, 0.050)
    edges = find_edges(samples, *swing_thresholds(samples, 0.3))
    rate = edges.rising.size / work.capture.duration_s
    # Noise about a duty in percent crosses any threshold of its own swing: pulses stand far out of the noise.
    low, high = percentiles(thinning.thin(samples), 1.0, 99.0)
    # So do the codes of a duty that is told in few of them; the two of a bare train are no such codes.
    code = work.code("command") if distinct_levels(samples) > FEWEST_OF_DUTY else 0.0
    pulses = high - low > 10 * max(sample_noise(samples), code)
    if pulses and rate > PULSES_FROM_HZ and edges.falling.size > 2 and edges.rising.size > 2:
        grid = _from_pulses(work, edges, grid)
    parts = np.array_split(grid.values, COURSE)
    edge_s = np.linspace(*work.whole, COURSE + 1)
    for k, part in enumerate(parts):
        if part.size:
            span = (float(edge_s[k]), float(edge_s[k + 1]))
            level = level_of(part)
            work.add("command_duty_pct", level.value, "%", level.uncertainty, span, "command", cycle=k + 1)
    level = level_of(grid.values)
    work.add("command_duty_pct", level.value, "%", level.uncertainty, work.whole, "command")
    return grid


def _from_pulses(work: Work, edges: Edges, grid: Grid) -> Grid:
    """Duty from the pulse train itself."""
    starts, shares = high_shares(edges)
    at = (np.arange(grid.values.size) + 0.5) * grid.interval_s / work.capture.interval_s
    return Grid(np.interp(at, starts, 100 * shares), grid.interval_s, grid.start_s)


def _case_ground(work: Work) -> None:
    samples = work.lane("case_ground")
    if samples is None:
        work.miss("case_ground_max_v", "no case ground lane in this capture")
        return
    extremes.read_extreme(work, "case_ground_max_v", samples, "case_ground", 0.020, largest=True)


def _over(work: Work, grid: Grid, duty: Grid | None) -> None:
    """Stretches over 15 V, and what of command and case ground explains them."""
    over = joined(runs(grid.values > OVER_V), round(0.2 / grid.interval_s))
    total = float(np.sum(grid.values > OVER_V)) * grid.interval_s
    span = (grid.time_s(over[0][0]), grid.time_s(over[-1][1])) if over else work.whole
    work.add("time_over_15_s", total, "s", grid.interval_s, span, "sense")
    if total < OVER_FROM_S:
        return
    a, b = max(over, key=lambda ab: ab[1] - ab[0])
    here = (grid.time_s(a), grid.time_s(b))
    places = [(grid.time_s(x), grid.time_s(y)) for x, y in over]
    peak = float(grid.values[a:b].max())
    lifted = (work.value("case_ground_max_v") or 0.0) > 0.1
    driven = duty is not None and _driven(duty, grid, over)
    text = f"{peak:.2f} V, over {OVER_V:g} V for {total:.2f} s in all"
    if driven:
        text += "; the command rises with it: look at who commands, not at the regulator"
        said = f"the command asks for the overcharge from {here[0]:.2f} s on"
        work.fault("command_driven", said, here, "command", places=places)
    elif lifted:
        text += "; the case ground lifts, which explains it"
    elif duty is not None and "case_ground" in work.capture.lanes:
        text += "; the command stays at rest and the case ground flat, which leaves only the internal regulator"
    work.fault("overcharge", text, here, "sense", peak, "V", places=places)


def _driven(duty: Grid, grid: Grid, over: list[tuple[int, int]]) -> bool:
    inside = np.zeros(duty.values.size, dtype=bool)
    for a, b in over:
        inside[duty.index(grid.time_s(a)) : duty.index(grid.time_s(b)) + 1] = True
    if inside.all():
        return median(duty.values) > 90.0
    return float(np.median(duty.values[inside]) - np.median(duty.values[~inside])) > DUTY_RISE_PCT


def _ripple(work: Work, sense: Samples) -> None:
    """Peak to peak without the trend, and its order against the alternator where the speed is told."""
    if not enough(work.capture.rate_hz, RIPPLE_RATE_HZ):
        for reading_id in ("ripple_v", "ripple_order"):
            work.miss(reading_id, f"{work.capture.rate_hz:,.0f} samples a second are too few for ripple")
        return
    # Twice: what a single mean leaves of a wave between its zeros is a fiftieth of it.
    width = max(3, round(0.05 / work.capture.interval_s))
    trend = running_mean(running_mean(sense, width), width)
    moving = sense - trend
    ripple, doubt = percentile_range(moving[: 1 << 18], 1.0, 99.0, resolution(sense))
    work.add("ripple_v", ripple, "V", doubt, work.whole, "sense")
    least = LEAST_LINE if enough(work.capture.rate_hz, RESOLVED_HZ) else LEAST_FOLDED
    if ripple > QUIET_V and strongest_line(moving[:LOOKED_AT]) < least:
        text = f"what moves by {ripple:.2g} V has no frequency: noise, not the alternator's ripple"
        work.setup("noisy", text, "sense", hides=True)
    if "engine_rpm" not in work.told.options:
        work.miss("ripple_order", "tell the engine speed (option engine_rpm) to read the order")
        return
    size = min(moving.size, 1 << 16)
    spectrum = np.abs(np.fft.rfft(moving[:size] * np.hanning(size)))
    spectrum[: max(2, int(20 * size * work.capture.interval_s))] = 0
    hertz = float(np.argmax(spectrum)) / (size * work.capture.interval_s)
    turns = work.number("engine_rpm", 800, 50, 20_000) / 60 * work.number("pulley_ratio", 2.5, 0.5, 10)
    work.add("ripple_order", hertz / turns, "", 1 / (size * work.capture.interval_s) / turns, work.whole, "sense")
