"""Readings and findings of a crank wheel and its cam."""

from __future__ import annotations

import numpy as np
import scipy

from tracebench.core.capture import Capture, Samples
from tracebench.core.circuits import running
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.circuit import Measured, Told
from tracebench.core.circuits.kinds.crank.wheel import (
    Wheel,
    amplitudes,
    digital,
    heights,
    own_share,
    polarity,
    read_wheel,
    teeth_at,
)
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import find_edges, swing_thresholds
from tracebench.core.measure.levels import level_of
from tracebench.core.measure.noise import resolution, sample_noise
from tracebench.core.measure.series import running_median

DAMAGED_PCT = 12.0
"""A tooth that is early or late by this part of a period, at one place in each turn, is damaged (from memory)."""

DAMAGED_AMPLITUDE = 0.55
RUNOUT = 0.30
NOISY = 0.08
FEWEST_IN_NOISE = 12
"""A wheel of fewer teeth than this is not believed in noise."""

MOST_V = 150.0
"""Peak to peak over which no inductive sensor gives at any speed (from memory)."""

FLAT_V = 0.08
WEAK_V_PER_1000 = 0.5
"""An inductive sensor gives at least this per 1,000 rpm, peak to peak (from memory)."""


def measure(capture: Capture, told: Told) -> Measured:
    """Teeth, gap, speed, amplitude, spread and cam phase; faults by their place in the turn."""
    work = Work(capture, told)
    work.settle_phases([])
    _unswap(work)
    samples = work.samples("signal")
    hall = digital(samples)
    low, high = np.percentile(running.thin(samples), (1, 99))
    if high - low < FLAT_V:
        level = level_of(running.thin(samples))
        text = f"stays at {level.value:.2f} V: no teeth pass, or probe and plug first"
        work.setup("flat_line", text, "signal", hides=True)
        running.note_missing(work, READING_IDS, {})
        return work.measured()
    setup.put_scale_right(work, "signal", *((3.0, 14.5) if hall else (0.05, MOST_V / 2)))
    samples = work.samples("signal")
    wheel = _oriented(work, samples, hall)
    samples = work.samples("signal")
    _check_setup(work, samples, wheel, hall)
    # Teeth lost in noise come back often enough to look like the gap of a wheel of very few.
    lost = work.has("noisy") and wheel.teeth < FEWEST_IN_NOISE
    if wheel.at.size >= 3 and not lost:
        _read(work, samples, wheel, hall)
        _judge_teeth(work, samples, wheel, hall)
        _cam(work, wheel)
    if not hall:
        for reading_id in ("level_low_v", "level_high_v"):
            work.miss(reading_id, "an inductive signal has no levels")
    if "cam" not in work.capture.lanes:
        work.miss("cam_phase_deg", "no cam lane in this capture")
    running.note_missing(work, READING_IDS, {})
    return work.measured()


READING_IDS = (
    "teeth_per_rev",
    "gap_teeth",
    "rpm",
    "amplitude_v",
    "level_low_v",
    "level_high_v",
    "tooth_spread_pct",
    "cam_phase_deg",
)


def _unswap(work: Work) -> None:
    cam = work.lane("cam")
    if cam is None:
        return
    counts = [find_edges(x, *swing_thresholds(x, 0.35)).rising.size for x in (work.samples("signal"), cam)]
    if counts[1] > 8 * max(counts[0], 1) and counts[0] > 0:
        running.exchange(work, "signal", "cam", "the cam lane has the teeth and the signal has not: read exchanged")


def _oriented(work: Work, samples: Samples, hall: bool) -> Wheel:
    """The wheel by the crossings that stand at the teeth; reversed leads are put right, with the finding."""
    interval = work.capture.interval_s
    falling = read_wheel(teeth_at(samples, interval, rising=False))
    if hall or falling.teeth == 0:
        return falling
    rising = read_wheel(teeth_at(samples, interval, rising=True))
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
    return read_wheel(teeth_at(-samples, interval, rising=False))


def _check_setup(work: Work, samples: Samples, wheel: Wheel, hall: bool) -> None:
    if wheel.at.size < 3:
        work.setup("too_short", f"only {wheel.at.size} teeth pass in this capture", "signal", hides=True)
        return
    across = float(np.percentile(np.diff(wheel.at), 5))
    if across < setup.FEWEST_SAMPLES:
        text = f"{across:.2g} samples across a tooth; {setup.FEWEST_SAMPLES} are needed"
        work.setup("undersampled", text, "signal", hides=True)
    elif wheel.teeth == 0:
        text = "less than one turn from gap to gap in this capture"
        work.setup("too_short", text, "signal", hides=True)
    if hall:
        low, high = swing_thresholds(samples, 0.1)
        passing = float(np.mean((running.thin(samples) > low) & (running.thin(samples) < high)))
        if passing > 0.4 and sample_noise(samples) < 0.01 * (high - low):
            work.setup(
                "over_filtered",
                "edges take most of a tooth and there is no noise: a filter is on",
                "signal",
                hides=True,
            )
    else:
        running.check_clipped(work, "signal", 3 * work.capture.interval_s)
    setup.check_range_use(work, "signal", 0.5)
    low, high = swing_thresholds(samples, 0.0)
    if sample_noise(samples) > NOISY * (high - low):
        text = "noise is larger than a twelfth of the teeth: another ground, a shielded lead"
        work.setup("noisy", text, "signal", hides=True)


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
        period = float(np.mean(whole))
        # Of turns in a row only the first and the last gap's edge count.
        doubt = max(_jitter(wheel), 0.002) * interval * np.sqrt(2) / whole.size
        work.add("rpm", 60 / period, "rpm", 60 / period**2 * doubt, span, "signal")
    if hall:
        low, high = swing_thresholds(samples, 0.3)
        states = {
            "level_low_v": running.state_level(samples, below=low),
            "level_high_v": running.state_level(samples, above=high),
        }
        for reading_id, level in states.items():
            work.add(reading_id, level.value, "V", level.uncertainty, work.whole, "signal")
    amplitude = _amplitude(samples, wheel)
    if amplitude is not None:
        work.add("amplitude_v", amplitude[0], "V", amplitude[1], span, "signal")
    _weak(work, hall)


def _jitter(wheel: Wheel) -> float:
    """Standard uncertainty of one tooth's place in samples, by the second differences of even teeth."""
    steps = np.diff(wheel.at)[wheel.ratio < 1.25]
    return float(np.median(np.abs(np.diff(steps)))) / (0.6745 * np.sqrt(6.0)) if steps.size > 2 else 0.0


FEW_TEETH = 400
AMPLITUDE_PART = 0.0007
"""Part of an amplitude that a crest of another shape than a sine's makes of it."""


def _amplitude(samples: Samples, wheel: Wheel) -> tuple[float, float] | None:
    """Middle peak to peak of the teeth as it would be without noise, and its uncertainty.

    A crest is the top of a parabola over a sixth of a tooth. What noise still lifts it by is found by adding as much
    again in steps, and carried back to none (simulation extrapolation: Cook and Stefanski,
    J. Am. Stat. Assoc. 89, 1994).
    """
    noise = float(np.hypot(sample_noise(samples), resolution(samples) / np.sqrt(12.0)))
    at = wheel.at[:FEW_TEETH]
    begin, stop = int(at[0]), int(at[-1]) + 1
    part, at = samples[begin:stop], at - begin
    period = float(np.median(np.diff(at)))
    width = max(5, round(period / 6) | 1)
    # A parabola over a sixth of a sine and the sample nearest to its crest lie a little under it, by this share.
    angles = 2 * np.pi / period * (np.arange(width) - width // 2)
    kept = float(scipy.signal.savgol_coeffs(width, 2) @ np.cos(angles)) * (1 - (np.pi / period) ** 2 / 6)
    even = wheel.ratio[: at.size - 1] < GAP_FREE
    added = np.random.default_rng(1).standard_normal(part.size) * noise
    shares = np.array([0.0, 1.0, 2.0, 3.0])
    heights = []
    for share in shares:
        each = amplitudes(scipy.signal.savgol_filter(part + np.sqrt(share) * added, width, 2), at)
        each = each[even[: each.size]]
        if each.size == 0:
            return None
        heights.append(float(np.median(each)))
    value = float(np.polyval(np.polyfit(1 + shares, heights, 1), 0.0)) / kept
    drawn = 1.2533 * noise * np.sqrt(2.0 * 2.25 / width) / np.sqrt(even.sum())
    return value, float(np.linalg.norm((drawn, AMPLITUDE_PART * value, 0.05 * noise)))


def _weak(work: Work, hall: bool) -> None:
    rpm, amplitude = work.value("rpm"), work.value("amplitude_v")
    if hall or rpm is None or amplitude is None:
        return
    wanted = WEAK_V_PER_1000 * rpm / 1000
    if amplitude < wanted:
        text = f"{amplitude:.2f} V peak to peak at {rpm:.0f} rpm, where {wanted:.2f} V is the least"
        work.fault("weak_amplitude", text, None, "signal", amplitude, "V")


def _departures(wheel: Wheel) -> np.ndarray:
    """Each period's departure from the mean of the even ones round it, in percent of them; NaN in gaps."""
    periods = np.diff(wheel.at)
    even = (wheel.ratio < GAP_FREE) & (wheel.ratio > 0.5)
    values = np.where(even, periods, 0.0)
    reach = np.ones(9)
    reach[4] = 0.0
    total = np.convolve(values, reach, mode="same")
    count = np.convolve(even.astype(float), reach, mode="same")
    mean = np.divide(total, count, out=np.full(periods.size, np.nan), where=count >= 3)
    return np.where(even, 100 * (periods / mean - 1), np.nan)


GAP_FREE = 1.4


def _judge_teeth(work: Work, samples: Samples, wheel: Wheel, hall: bool) -> None:
    away = _departures(wheel)
    if not np.isfinite(away).any():
        return
    noise_pct = 1.4826 * float(np.nanmedian(np.abs(away - np.nanmedian(away))))
    places, means, turns = _by_place(wheel, away)
    if places.size:
        k = int(np.nanargmax(np.abs(means)))
        at = int(np.flatnonzero(wheel.place[:-1] == places[k])[0])
        span = work.span(round(wheel.at[at]), round(wheel.at[at + 1]))
        doubt = noise_pct / np.sqrt(max(turns, 1)) + 0.01
        work.add("tooth_spread_pct", abs(float(means[k])), "%", doubt, span, "signal")
    else:
        k = int(np.nanargmax(np.abs(away)))
        span = work.span(round(wheel.at[k]), round(wheel.at[k + 1]))
        work.add("tooth_spread_pct", abs(float(away[k])), "%", noise_pct + 0.01, span, "signal")
    if wheel.teeth == 0:
        return
    damaged = _damaged(work, samples, wheel, away, hall)
    _lost(work, wheel, damaged)


def _by_place(wheel: Wheel, values: np.ndarray) -> tuple[np.ndarray, np.ndarray, int]:
    """Places in the turn with the median of their values over the turns, where two turns or more were seen."""
    known = (wheel.place[: values.size] >= 0) & np.isfinite(values)
    places = np.unique(wheel.place[: values.size][known])
    out, kept = [], []
    turns = int(wheel.gaps.size)
    for place in places:
        here = values[known & (wheel.place[: values.size] == place)]
        if here.size >= 2:
            out.append(float(np.median(here)))
            kept.append(place)
    return np.array(kept), np.array(out), turns


def _damaged(work: Work, samples: Samples, wheel: Wheel, away: np.ndarray, hall: bool) -> set[int]:
    """Teeth at one place that are early, late, small or gone in every turn."""
    found: set[int] = set()
    places, means, _ = _by_place(wheel, away)
    for place, mean in zip(places, means, strict=True):
        if abs(mean) > DAMAGED_PCT and not any(abs(place - other) <= 2 for other in found):
            # A tooth out of its place makes one period longer and the next shorter: it stands between them.
            after = float(means[places == place + 1].sum())
            tooth = int(place) + int(after * mean < 0 and abs(after) > 0.5 * abs(mean))
            found.add(tooth)
            _report(work, wheel, tooth, f"stands {mean:+.0f} % off the even spacing", float(mean), "%")
    if not hall:
        sizes = heights(samples, wheel.at)
        beside_gap = np.concatenate([wheel.ratio > GAP_FREE, [True]]) | np.concatenate([[True], wheel.ratio > GAP_FREE])
        sizes = np.where(beside_gap, np.nan, sizes)
        places, medians, _ = _by_place(wheel, sizes)
        usual = float(np.nanmedian(medians)) if medians.size else 0.0
        # Beside its neighbours, as a wheel that runs out has small teeth of its own.
        local = running_median(medians, 9) if medians.size > 9 else medians
        for place, size, beside in zip(places, medians, local, strict=True):
            near = place == 0 or place == places.max()
            if usual and size < DAMAGED_AMPLITUDE * beside and not near and not any(abs(place - o) <= 2 for o in found):
                found.add(int(place))
                _report(
                    work, wheel, int(place), f"gives only {size:.2f} V where {beside:.2f} V is usual", float(size), "V"
                )
        _runout(work, places, medians, usual)
    extra = [k for k in np.flatnonzero(wheel.ratio > 1.5) if k not in set(wheel.gaps.tolist())]
    counted: dict[int, int] = {}
    for k in extra:
        counted[int(wheel.place[k])] = counted.get(int(wheel.place[k]), 0) + 1
    turns = max(1, wheel.gaps.size - 1)
    for place, times in counted.items():
        if place >= 0 and times >= max(2, 0.7 * turns) and not any(abs(place - other) <= 2 for other in found):
            found.add(place)
            _report(work, wheel, place, "is followed by a tooth that is gone in every turn", float(times), "")
    return found


def _report(work: Work, wheel: Wheel, place: int, what: str, value: float, unit: str) -> None:
    at = np.flatnonzero(wheel.place[:-1] == place)
    turns = [work.span(round(wheel.at[k]), round(wheel.at[k + 1])) for k in at]
    text = f"tooth {place + 1} after the gap {what}, each turn"
    work.fault("tooth_damaged", text, turns[0], "signal", value, unit, places=turns)


def _runout(work: Work, places: np.ndarray, medians: np.ndarray, usual: float) -> None:
    if places.size < 12 or usual == 0:
        return
    inside = (places > 1) & (places < places.max() - 1)
    angle = 2 * np.pi * places[inside] / (places.max() + 1)
    sizes = medians[inside] / usual
    once = 2 * abs(np.mean((sizes - sizes.mean()) * np.exp(1j * angle)))
    if once > RUNOUT / 2:
        text = f"the amplitude swings by {200 * once:.0f} % once a turn: the wheel or its bearing runs out"
        work.fault("runout", text, None, "signal", 200 * float(once), "%")


def _lost(work: Work, wheel: Wheel, damaged: set[int]) -> None:
    """Gaps that are not the wheel's own and not a damaged tooth's."""
    own = set(wheel.gaps.tolist())
    lost = {
        int(k): round(float(wheel.ratio[k])) - 1 - (wheel.gap if int(k) in own else 0)
        for k in np.flatnonzero(wheel.ratio > 1.5)
        if not any(abs(int(wheel.place[k]) - d) <= 2 for d in damaged)
    }
    for k, count in [(k, count) for k, count in lost.items() if count > 0][:20]:
        span = work.span(round(wheel.at[k]), round(wheel.at[k + 1]))
        text = f"{count} {'tooth' if count == 1 else 'teeth'} lost once, not at one place in the turn"
        work.fault("dropout", text, span, "signal", float(count), "")


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
        usual = float(np.median(np.diff(starts)))
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
    edge = 360 / float(np.median(np.diff(starts))) * float(np.hypot(1 / np.sqrt(12.0), _jitter(wheel)))
    seen = float(np.std(first, ddof=1)) if first.size > 2 else 0.0
    # Turns of nearly whole samples put it in the same place again: a third does not average out.
    doubt = seen / np.sqrt(first.size) if seen > 1.5 * edge else float(np.hypot(edge / np.sqrt(first.size), 0.3 * edge))
    work.add("cam_phase_deg", float(np.mean(first)), "°", doubt, span, "cam")
