"""Oxygen, switching: what is peculiar to measuring it."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits import extremes, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Span, Work, inner
from tracebench.core.measure.edges import Edges, find_edges
from tracebench.core.measure.levels import level_of
from tracebench.core.measure.transitions import Instant, crossing
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median, percentile, percentile_span, percentiles
from tracebench.core.robust.noise import robust_sigma, sample_noise
from tracebench.core.robust.series import block_medians, joined, running_mean, runs
from tracebench.core.samples import Samples

MIDDLE_V = Threshold(0.45, "V", "The middle of the switch (common practice, no published source)")
LOW_V = Threshold(0.30, "V", "Lower reference level of the transition (common practice, no published source)")
HIGH_V = Threshold(0.60, "V", "Upper reference level of the transition (common practice, no published source)")
RICH_V = Threshold(0.65, "V", "From here the sensor says rich (common practice, no published source)")
LEAN_V = Threshold(0.25, "V", "Up to here it says lean (common practice, no published source)")
LONG_HOLD_S = Threshold(
    1.3, "s", "Held rich or lean for this long the sensor is not switching: a snap, an overrun, or stuck"
)

SNAP_HOLD_S = Threshold(0.6, "s", "A snap holds the sensor rich at least so long (from memory)")

STUCK_S = Threshold(
    5.0,
    "s",
    "A sensor that has not switched for this long in closed loop is stuck (common practice, no published source)",
)
LEAST_SWING_V = Threshold(0.5, "V", "A sound hot sensor swings by more (common practice, no published source)")
NOISY_V = Threshold(0.05, "V", "Noise over 15 ms from which crossings of the middle are its own")

HELD_V = Threshold(0.04, "V", "A level is held where it stays this near to its highest or lowest")

SWING_V = Threshold(
    0.7, "V", "From lean to rich and back, about: how far round a level the samples belong to its crossing"
)


def measure(work: Work) -> Work:
    """Levels, switching rate and transition times in steady running; what a snap and an overrun do."""
    grid = thinning.on_grid(work, work.samples("signal"), 0.005)
    # Over 15 ms: far under the fastest switching that matters, and ignition noise is gone.
    width = max(1, round(0.015 / grid.interval_s))
    smooth = Grid(running_mean(grid.values, width), grid.interval_s, grid.start_s)
    edges = find_edges(smooth.values, 0.38, 0.52, MIDDLE_V)
    work.settle_phases(_phases(work, smooth, edges))
    _judge_unswitched(work, smooth)
    _read_steady(work, smooth)
    _read_events(work, smooth)
    if sample_noise(smooth.values) > NOISY_V:
        work.setup("noisy", "noise crosses the middle by itself: a low-pass view, another ground", "signal", hides=True)
    return work


def _phases(work: Work, grid: Grid, edges: Edges) -> list[Phase]:
    """Steady is the longest stretch of switching; a long rich hold is a snap, a long lean hold after it an overrun."""
    v = grid.values
    turns = np.sort(np.concatenate([edges.rising, edges.falling]))
    out: list[Phase] = []
    opened = _throttle_open(work)
    gap = round(0.06 / grid.interval_s)
    rich = [h for h in joined(runs(v > RICH_V - 0.1), gap) if (h[1] - h[0]) * grid.interval_s >= LONG_HOLD_S]
    lean = [h for h in joined(runs(v < LEAN_V), gap) if (h[1] - h[0]) * grid.interval_s >= LONG_HOLD_S]
    if opened is not None:
        # Where the throttle says so, a shorter hold is a snap.
        rich = [h for h in joined(runs(v > RICH_V - 0.1), gap) if (h[1] - h[0]) * grid.interval_s >= SNAP_HOLD_S]
    snaps = [h for h in rich if _beside(grid, h, opened)] if opened is not None else rich
    snaps = [h for h in snaps if turns.size]
    out += [grid.phase("snap", a, b) for a, b in snaps]
    overruns = [h for h in lean if any(0 <= h[0] - s[1] < 2.0 / grid.interval_s for s in snaps)]
    if opened is not None and not overruns:
        overruns = [h for h in lean if any(0 < grid.time_s(h[0]) - b < 2.5 for _, b in opened)]
    out += [grid.phase("overrun", a, b) for a, b in overruns]
    first = turns[0] if turns.size else v.size
    if turns.size and first * grid.interval_s > 2.0:
        out.append(grid.phase("warm_up", 0, max(1, int(first) - round(0.2 / grid.interval_s))))
    elif not turns.size and abs(median(v) - MIDDLE_V) < 0.12:
        out.append(grid.phase("warm_up", 0, v.size))
    steady = _longest_switching(turns, [*snaps, *overruns], grid)
    if steady is not None:
        out.append(grid.phase("steady", *steady))
    return out


def _throttle_open(work: Work) -> list[Span] | None:
    throttle = work.lane("throttle")
    if throttle is None or setup.is_flat(throttle, 0.6):
        return None
    grid = thinning.on_grid(work, throttle, 0.010)
    low, high = percentiles(grid.values, 5.0, 99.7)
    held = joined(runs(grid.values > low + 0.4 * (high - low)), round(0.1 / grid.interval_s))
    return [(grid.time_s(a), grid.time_s(b)) for a, b in held]


def _beside(grid: Grid, hold: tuple[int, int], opened: list[Span] | None) -> bool:
    start, stop = grid.time_s(hold[0]), grid.time_s(hold[1])
    return any(a - 1.0 < start < b and stop > a for a, b in opened or [])


def _longest_switching(turns: np.ndarray, holds: list[tuple[int, int]], grid: Grid) -> tuple[int, int] | None:
    """The longest run of crossings no further apart than two and a half seconds, outside the holds."""
    free = [t for t in turns if not any(a - 2 <= t <= b + 2 for a, b in holds)]
    best: tuple[int, int] | None = None
    start = 0
    for k in range(1, len(free) + 1):
        broken = k == len(free) or (free[k] - free[k - 1]) * grid.interval_s > 2.5
        broken = broken or any(free[k - 1] < a < free[k] for a, _ in holds)
        if broken:
            if k - start >= 4 and (best is None or free[k - 1] - free[start] > best[1] - best[0]):
                best = int(free[start]), int(free[k - 1]) + 1
            start = k
    return best


def _judge_unswitched(work: Work, grid: Grid) -> None:
    """A sensor that does not switch: stuck rich or lean, cold, or not connected at all."""
    if work.phase("steady") is not None or work.capture.duration_s < STUCK_S:
        return
    level = level_of(grid.values)
    _read_resting(work, grid)
    flat = percentile_span(grid.values, 2, 98) < 0.1
    if flat and abs(level.value) < 0.02 and not work.told.phases:
        work.setup("flat_line", "nothing comes from the sensor: probe, heater or plug first", "signal", hides=True)
        return
    for code, side, beyond in (
        ("biased_rich", "rich", level.value > RICH_V),
        ("biased_lean", "lean", level.value < LEAN_V),
    ):
        if not beyond:
            continue
        if percentile_span(grid.values, 0.5, 99.5) > 0.4:
            text = f"rests {side} at {level.value:.2f} V, though it answers to snap or overrun: the mixture"
            work.fault(code, text, None, "signal", level.value, "V")
        else:
            text = f"stays {side} at {level.value:.2f} V for {work.capture.duration_s:.0f} s and never switches"
            work.fault("stuck", text, None, "signal", level.value, "V")


RESTS_WITHIN_V = Threshold(0.15, "V", "A sensor that never switches rests within this of its level")


def _read_resting(work: Work, grid: Grid) -> None:
    """Mean and extremes of a sensor that never crosses, over the longest stretch in which it rests about its level."""
    near = np.abs(grid.values - median(grid.values)) < RESTS_WITHIN_V
    resting = joined(runs(near), round(0.1 / grid.interval_s))
    if not resting:
        return
    a, b = max(resting, key=lambda ab: ab[1] - ab[0])
    span = (grid.time_s(a), grid.time_s(b))
    raw = work.samples("signal")[slice(*work.indices(span))]
    noise = float(np.hypot(sample_noise(raw), resolution(raw) / np.sqrt(12.0)))
    excess, own = extremes.excess_of_largest(noise, raw.size)
    step = float(np.hypot(own, resolution(raw) / np.sqrt(12.0)))
    work.add("mean_v", float(raw.mean()), "V", float(np.hypot(noise / np.sqrt(raw.size), step / 10)), span, "signal")
    work.add("min_v", float(raw.min()) + excess, "V", step, span, "signal")
    work.add("max_v", float(raw.max()) - excess, "V", step, span, "signal")


def _read_steady(work: Work, grid: Grid) -> None:
    steady = work.phase("steady")
    if steady is None:
        return
    a, b = grid.index(steady.from_s), grid.index(steady.to_s)
    part = grid.values[a:b]
    edges = find_edges(part, 0.38, 0.52, MIDDLE_V)
    cycles = edges.rising
    if cycles.size >= 2:
        raw, interval = work.samples("signal"), work.capture.interval_s
        ends = [work.capture.index(grid.time_s(a + c)) for c in cycles]
        # The mean of the periods is the time from the first to the last crossing: only these two can be wrong.
        reach = round(0.25 * (ends[-1] - ends[0]) / (len(ends) - 1))
        first, last = (_placed(raw, float(at), reach, MIDDLE_V, SWING_V) for at in (ends[0], ends[-1]))
        took = (last.index - first.index) * interval
        rate = (cycles.size - 1) / took
        doubt = rate * float(np.hypot(first.uncertainty, last.uncertainty)) * interval / took
        work.add("crossings_hz", rate, "Hz", doubt, inner(steady), "signal")
        whole = raw[ends[0] : ends[-1]]
        noise = float(np.hypot(sample_noise(whole), resolution(raw) / np.sqrt(12.0)))
        # Where the whole cycles end is known to the crossing: what lies between it and the mean is added or left out.
        cut = abs(MIDDLE_V - float(whole.mean())) * np.hypot(first.uncertainty, last.uncertainty) / np.sqrt(whole.size)
        doubt = float(np.hypot(noise, cut)) / np.sqrt(whole.size)
        work.add("mean_v", float(whole.mean()), "V", doubt, inner(steady), "signal")
        own_noise = sample_noise(whole, work.code("signal"))
        lows, highs = (_of_cycles(work, ends, own_noise, largest=largest) for largest in (False, True))
        for reading_id, values in (("min_v", lows), ("max_v", highs)):
            own = median([e.uncertainty for e in values])
            value = median([e.value for e in values])
            doubt = float(np.hypot(1.2533 * own / np.sqrt(len(values)), 0.1 * own))
            work.add(reading_id, value, "V", doubt, inner(steady), "signal")
        swing = (work.value("max_v") or 0.0) - (work.value("min_v") or 0.0)
        if swing < LEAST_SWING_V:
            text = f"swings by only {swing:.2f} V: contaminated or aged"
            work.fault("contaminated_low_swing", text, (steady.from_s, steady.to_s), "signal", swing, "V")
    _transitions(work, steady)


def _placed(samples: Samples, at: float, reach: int, level: float, step: float) -> Instant:
    """A crossing found on a grid, placed among the samples round it; `step` is signed as its transition."""
    centre = round(at)
    found = crossing(samples, max(0, centre - reach), min(samples.size, centre + reach + 1), level, step)
    return found if found is not None else Instant(at, float(reach))


def _of_cycles(work: Work, edges: Sequence[int], noise: float, *, largest: bool) -> list[extremes.Extreme]:
    """The lowest or highest 15 ms of each whole cycle, between edges as sample numbers."""
    samples, interval, code = work.samples("signal"), work.capture.interval_s, work.code("signal")
    return [
        extremes.extreme_of(samples[a:b], interval, 0.015, largest, code, noise) for a, b in pairwise(edges) if b > a
    ]


def _transitions(work: Work, steady: Phase) -> None:
    """Median time between 0.3 and 0.6 V, each way, on the samples themselves where they allow it."""
    interval = work.capture.interval_s
    start, stop = work.indices((steady.from_s, steady.to_s))
    block = max(1, round(0.002 / interval))
    fine = block_medians(work.samples("signal")[start:stop], block)
    if sample_noise(fine) > 0.02:
        fine = running_mean(fine, 5)
    low, high = (
        find_edges(fine, LOW_V - 0.06, LOW_V + 0.06, LOW_V),
        find_edges(fine, HIGH_V - 0.06, HIGH_V + 0.06, HIGH_V),
    )
    raw = work.samples("signal")
    for reading_id, found, edge in (
        ("rise_ms", _spans(low.rising, high.rising), (LOW_V, HIGH_V)),
        ("fall_ms", _spans(high.falling, low.falling), (HIGH_V, LOW_V)),
    ):
        spans = [(a, b) for a, b in found if (b - a) * block * interval < 2.0]
        if not spans:
            continue
        places = [_transition(raw, start + a * block, start + b * block, edge) for a, b in spans]
        took = np.array([b.index - a.index for a, b in places])
        own = np.array([np.hypot(a.uncertainty, b.uncertainty) for a, b in places])
        # Cycles that differ by themselves make the middle one no better known than they scatter.
        one = max(median(own), robust_sigma(took) if took.size > 4 else 0.0)
        doubt = 1.2533 * one / np.sqrt(took.size) if took.size > 2 else one
        middle = places[len(places) // 2]
        span = (work.capture.time_s(middle[0].index), work.capture.time_s(middle[1].index))
        scale = 1000 * interval
        work.add(reading_id, scale * median(took), "ms", scale * doubt, span, "signal")


def _transition(samples: Samples, a: float, b: float, edge: Span) -> tuple[Instant, Instant]:
    """The passing of two levels about samples `a` and `b`, each placed within half the passage."""
    reach = max(4, round(0.6 * (b - a)))
    step = SWING_V if edge[1] > edge[0] else -SWING_V
    first, second = (_placed(samples, at, reach, level, step) for at, level in zip((a, b), edge, strict=True))
    return first, second


def _spans(first: np.ndarray, second: np.ndarray) -> list[tuple[float, float]]:
    """Each first crossing with the second that follows it before the next first."""
    out = []
    for k, a in enumerate(first):
        place = int(np.searchsorted(second, a))
        following = first[k + 1] if k + 1 < first.size else np.inf
        if place < second.size and second[place] < following:
            out.append((float(a), float(second[place])))
    return out


def _read_events(work: Work, grid: Grid) -> None:
    for reading_id, name, largest in (("snap_rich_v", "snap", True), ("overrun_v", "overrun", False)):
        phase = next(iter(work.phases_of(name)), None)
        if phase is None:
            continue
        level = level_of(_held(work, grid, phase, largest), work.code("signal"))
        work.add(reading_id, level.value, "V", level.uncertainty, inner(phase), "signal")
    opened = _throttle_open(work)
    if opened and not work.phases_of("overrun"):
        after = max(opened, key=lambda ab: ab[1] - ab[0])[1]
        a, b = grid.index(after + 0.3), grid.index(after + 1.2)
        least = float(grid.values[a:b].min()) if b > a else 0.0
        if b - a > 0.8 / grid.interval_s and least > LEAN_V - 0.05 and not work.has("contaminated_low_swing"):
            text = "does not fall to 0 V in the overrun after the throttle has shut"
            work.fault("no_overrun_drop", text, (after, min(after + 3.0, work.whole[1])), "signal")


def _held(work: Work, grid: Grid, phase: Phase, largest: bool) -> Samples:
    """Samples of the longest stretch of a phase in which the level is held near its highest or lowest."""
    begin = grid.index(phase.from_s)
    part = grid.values[begin : grid.index(phase.to_s) + 1]
    end = percentile(part, 90 if largest else 10)
    near = max(HELD_V, 4 * sample_noise(part))
    stretches = joined(runs(np.abs(part - end) <= near), round(0.03 / grid.interval_s))
    a, b = max(stretches, key=lambda ab: ab[1] - ab[0], default=(0, part.size))
    trim = round(0.15 * (b - a))
    start, stop = (work.capture.index(grid.time_s(begin + k)) for k in (a + trim, b - trim))
    return work.samples("signal")[start : max(stop, start + 1)]
