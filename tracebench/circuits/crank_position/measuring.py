"""Readings and findings of a crank wheel and its cam."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits import probe, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.toothed.teeth import (
    amplitude_of,
    check_teeth,
    jitter,
    judge_teeth,
    judge_weak,
    read_two_levels,
)
from tracebench.core.circuits.toothed.wheel import Wheel, digital, own_share, polarity, read_wheel, teeth_of
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import find_edges, swing_thresholds
from tracebench.core.measure.levels import level_of
from tracebench.core.robust.median import median, percentiles
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.spectrum import strongest_line
from tracebench.core.samples import Samples

FEWEST_IN_NOISE = Count(12, "teeth", "A wheel of fewer teeth than this is not believed in noise")

MOST_V = Threshold(150.0, "V", "Peak to peak over which no inductive sensor gives at any speed (from memory)")

NOISE_SPREADS = Threshold(6.0, "spreads", "From the 1st to the 99th percentile white noise reaches over 4.7 of its own")
LEAST_LINE = Threshold(
    0.05, "", "Part of its power in one line from which a lane has a frequency: white noise 0.003, teeth over 0.1"
)
LOOKED_AT = Count(4096, "samples", "So many tell whether a movement has a frequency")

FLAT_V = Threshold(0.08, "V", "Swing under which the lane carries no teeth (from memory)")
WEAK_V_PER_1000 = Threshold(
    0.5, "V at 1,000 rpm", "An inductive sensor gives at least this per 1,000 rpm, peak to peak (from memory)"
)


def measure(work: Work) -> Work:
    """Teeth, gap, speed, amplitude, spread and cam phase; faults by their place in the turn."""
    work.settle_phases([])
    _unswap(work)
    samples = work.samples("signal")
    hall = digital(samples)
    low, high = percentiles(thinning.thin(samples), 1, 99)
    if high - low < FLAT_V or _only_noise(samples, high - low):
        level = level_of(thinning.thin(samples))
        text = f"stays at {level.value:.2f} V: no teeth pass, or probe and plug first"
        work.setup("flat_line", text, "signal", hides=True)
        return work
    setup.put_scale_right(work, "signal", *((3.0, 14.5) if hall else (0.05, MOST_V / 2)))
    samples = work.samples("signal")
    wheel = _oriented(work, samples, hall)
    samples = work.samples("signal")
    check_teeth(work, samples, wheel, hall)
    if wheel.at.size >= 3 and wheel.teeth == 0 and not work.has("undersampled"):
        work.setup("too_short", "less than one turn from gap to gap in this capture", "signal", hides=True)
    # Teeth lost in noise come back often enough to look like the gap of a wheel of very few.
    lost = work.has("noisy") and wheel.teeth < FEWEST_IN_NOISE
    if wheel.at.size >= 3 and not lost:
        _read(work, samples, wheel, hall)
        judge_teeth(work, samples, wheel, hall)
        _cam(work, wheel)
    if not hall:
        for reading_id in ("level_low_v", "level_high_v"):
            work.miss(reading_id, "an inductive signal has no levels")
    if "cam" not in work.capture.lanes:
        work.miss("cam_phase_deg", "no cam lane in this capture")
    return work


def _only_noise(samples: Samples, swing: float) -> bool:
    """True for a lane that moves no further than noise does and has no frequency of its own."""
    return swing < NOISE_SPREADS * sample_noise(samples) and strongest_line(samples[:LOOKED_AT]) < LEAST_LINE


def _unswap(work: Work) -> None:
    cam = work.lane("cam")
    if cam is None:
        return
    counts = [find_edges(x, *swing_thresholds(x, 0.35)).rising.size for x in (work.samples("signal"), cam)]
    if counts[1] > 8 * max(counts[0], 1) and counts[0] > 0:
        probe.exchange(work, "signal", "cam", "the cam lane has the teeth and the signal has not: read exchanged")


def _oriented(work: Work, samples: Samples, hall: bool) -> Wheel:
    """The wheel by the crossings that stand at the teeth; reversed leads are put right, with the finding."""
    interval = work.capture.interval_s
    teeth = teeth_of(samples, interval, hall)
    falling = read_wheel(teeth.falling)
    if hall or falling.teeth == 0:
        return falling
    rising = read_wheel(teeth.rising)
    if rising.teeth == 0:
        return falling
    # Wired right, falling crossings stand in the middle of the teeth and the gap is a whole number of them.
    # The other sense cuts each gap in two wherever noise crosses in it, and leaves few whole ones to vote.
    right = polarity(samples, falling, interval)
    cut_up = own_share(falling) < 0.5 and own_share(rising) > 0.9
    inverted = not ((right >= 0 and not cut_up) or polarity(-samples, rising, interval) <= 0)
    # An inductive sensor may be wired either way: only one that was told can be the wrong way round.
    told = work.told.options.get("sense", "either")
    found = rising if inverted else falling
    if told != "either" and inverted != (told == "rising"):
        gap = work.span(round(found.at[found.gaps[0]]), round(found.at[found.gaps[0] + 1]))
        text = f"the crossings in the middle of the teeth are not {told}: leads reversed; read inverted"
        work.setup("reversed_polarity", text, "signal", gap)
    if not inverted:
        return falling
    work.capture = work.capture.with_lane(work.capture.lanes["signal"].scaled(-1.0))
    # Falling crossings of what is turned over are the rising ones as they were.
    return rising


def _read(work: Work, samples: Samples, wheel: Wheel, hall: bool) -> None:
    interval = work.capture.interval_s
    span = work.span(round(wheel.at[0]), round(wheel.at[-1]))
    if wheel.teeth:
        work.add("teeth_per_rev", wheel.teeth, "", 0.0, span, "signal")
        work.add(
            "gap_teeth",
            wheel.gap,
            "",
            0.0,
            work.span(round(wheel.at[wheel.gaps[0]]), round(wheel.at[wheel.gaps[0] + 1])),
            "signal",
        )
        turns = np.diff(wheel.at[wheel.gaps]) * interval
        whole = turns[np.abs(turns / np.median(turns) - 1) < 0.3]
        if whole.size:
            period = float(np.mean(whole))
            # Of turns in a row only the first and the last gap's edge count.
            doubt = max(jitter(wheel), 0.002) * interval * np.sqrt(2) / whole.size
            work.add("rpm", 60 / period, "rpm", 60 / period**2 * doubt, span, "signal")
        else:
            work.miss("rpm", "no two turns of this capture are alike")
    if hall:
        read_two_levels(work, samples)
    amplitude = amplitude_of(samples, wheel)
    if amplitude is not None:
        work.add("amplitude_v", amplitude[0], "V", amplitude[1], span, "signal")
    rpm = work.value("rpm")
    if not hall and rpm is not None:
        judge_weak(work, WEAK_V_PER_1000 * rpm / 1000, f"{rpm:.0f} rpm")


def _cam(work: Work, wheel: Wheel) -> None:
    """Crank degrees from the first tooth after the gap to the next rising cam edge, mean of the turns."""
    cam = work.lane("cam")
    if cam is None or wheel.teeth == 0:
        if cam is not None:
            work.miss("cam_phase_deg", "less than one turn from gap to gap in this capture")
        return
    if setup.is_flat(cam, 0.3):
        work.setup("flat_line", "the cam lane carries no edges: probe first", "cam")
        work.miss("cam_phase_deg", "the cam lane carries no edges")
        return
    edges = find_edges(cam, *swing_thresholds(cam, 0.3)).rising
    starts = wheel.at[wheel.gaps + 1]
    degrees: list[float] = []
    span = work.whole
    for edge in edges:
        before = np.flatnonzero(starts <= edge)
        if before.size == 0:
            continue
        k = int(before[-1])
        usual = median(np.diff(starts))
        turn = float(starts[k + 1] - starts[k]) if k + 1 < starts.size else usual
        turn = turn if abs(turn / usual - 1) < 0.2 else usual
        if edge - starts[k] > 1.2 * turn:
            continue
        if not degrees:
            span = work.span(round(starts[k]), round(edge))
        degrees.append(360 * float(edge - starts[k]) / turn)
    if not degrees:
        work.miss("cam_phase_deg", "no cam edge after a gap in this capture")
        return
    # A cam wheel may have several edges a turn: the first after the gap is the one that is followed.
    values = np.array(degrees)
    first = values[values <= values.min() + 20.0]
    # A cam edge quicker than a sample lies anywhere in it; what turns differ by is seen on top.
    edge = 360 / median(np.diff(starts)) * float(np.hypot(1 / np.sqrt(12.0), jitter(wheel)))
    seen = float(np.std(first, ddof=1)) if first.size > 2 else 0.0
    # Turns of nearly whole samples put it in the same place again: a third does not average out.
    doubt = seen / np.sqrt(first.size) if seen > 1.5 * edge else float(np.hypot(edge / np.sqrt(first.size), 0.3 * edge))
    work.add("cam_phase_deg", float(np.mean(first)), "°", doubt, span, "cam")
