"""Readings and findings of the teeth of any wheel, with a gap or without: spacing, height, what is lost or damaged."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits import lane_levels, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.toothed.wheel import Wheel, amplitudes, heights
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import swing_thresholds
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import running_median
from tracebench.core.samples import Samples

DAMAGED_PCT = Threshold(
    12.0,
    "%",
    "A tooth that is early or late by this part of a period, at one place in each turn, is damaged (from memory)",
)

DAMAGED_AMPLITUDE = Threshold(0.55, "", "Part of its neighbours' height under which a tooth is damaged (from memory)")

RUNOUT = Threshold(
    0.30, "", "Swing of the amplitude in a turn, as a part of it, from which a wheel runs out (from memory)"
)

NOISY = Threshold(0.08, "", "Noise over the swing from which teeth are no longer sure")

GAP_FREE = Threshold(1.4, "", "A period under this many of its neighbours' is that of a tooth beside another")

FEW_TEETH = Count(400, "teeth", "Amplitudes are read tooth by tooth up to so many")
AMPLITUDE_PART = Threshold(0.0007, "", "Part of an amplitude that a crest of another shape than a sine's makes of it")


def check_teeth(work: Work, samples: Samples, wheel: Wheel, hall: bool) -> None:
    """Too few teeth, too few samples a tooth, filter, range and noise."""
    if wheel.at.size < 3:
        work.setup("too_short", f"only {wheel.at.size} teeth pass in this capture", "signal", hides=True)
        return
    across = percentile(np.diff(wheel.at), 5)
    if not enough(across, setup.FEWEST_SAMPLES):
        text = f"{across:.2g} samples across a tooth; {setup.FEWEST_SAMPLES} are needed"
        setup.too_few(work, text, across, "signal")
    if hall:
        low, high = swing_thresholds(samples, 0.1)
        passing = float(np.mean((thinning.thin(samples) > low) & (thinning.thin(samples) < high)))
        if passing > 0.4 and sample_noise(samples) < 0.01 * (high - low):
            work.setup(
                "over_filtered",
                "edges take most of a tooth and there is no noise: a filter is on",
                "signal",
                hides=True,
            )
    else:
        record_checks.check_clipped(work, "signal", 3 * work.capture.interval_s)
    setup.check_range_use(work, "signal", 0.5)
    low, high = swing_thresholds(samples, 0.0)
    if sample_noise(samples) > NOISY * (high - low):
        text = "noise is larger than a twelfth of the teeth: another ground, a shielded lead"
        work.setup("noisy", text, "signal", hides=True)


def read_two_levels(work: Work, samples: Samples) -> None:
    """The levels of a two-level signal's states."""
    low, high = swing_thresholds(samples, 0.3)
    for reading_id, level in (
        ("level_low_v", lane_levels.state_level(samples, work.code("signal"), below=low)),
        ("level_high_v", lane_levels.state_level(samples, work.code("signal"), above=high)),
    ):
        work.add(reading_id, level.value, "V", level.uncertainty, work.whole, "signal")


def jitter(wheel: Wheel) -> float:
    """Standard uncertainty of one tooth's place in samples, by the second differences of even teeth."""
    steps = np.diff(wheel.at)[wheel.ratio < 1.25]
    return median(np.abs(np.diff(steps))) / (0.6745 * np.sqrt(6.0)) if steps.size > 2 else 0.0


def amplitude_of(samples: Samples, wheel: Wheel) -> tuple[float, float] | None:
    """Middle peak to peak of the teeth as it would be without noise, and its uncertainty.

    A crest is the top of a parabola over a sixth of a tooth. What noise still lifts it by is found by adding as much
    again in steps, and carried back to none (simulation extrapolation: Cook and Stefanski,
    J. Am. Stat. Assoc. 89, 1994).
    """
    noise = float(np.hypot(sample_noise(samples), resolution(samples) / np.sqrt(12.0)))
    at = wheel.at[:FEW_TEETH]
    begin, stop = int(at[0]), int(at[-1]) + 1
    part, at = samples[begin:stop], at - begin
    period = median(np.diff(at))
    width = max(5, round(period / 6) | 1)
    # The middle of a parabola fitted to a window, as weights of its samples.
    weights = np.linalg.pinv(np.vander(np.arange(width) - width // 2, 3))[2]
    # A parabola over a sixth of a sine and the sample nearest to its crest lie a little under it, by this share.
    angles = 2 * np.pi / period * (np.arange(width) - width // 2)
    kept = float(weights @ np.cos(angles)) * (1 - (np.pi / period) ** 2 / 6)
    even = wheel.ratio[: at.size - 1] < GAP_FREE
    # Weighted once each: what is added in steps is added to the weighted samples too.
    smooth = _weighted(part, weights)
    added = _weighted(np.random.default_rng(1).standard_normal(part.size) * noise, weights)
    shares = np.array([0.0, 1.0, 2.0, 3.0])
    heights = []
    for share in shares:
        each = amplitudes(smooth + np.sqrt(share) * added, at)
        each = each[even[: each.size]]
        if each.size == 0:
            return None
        heights.append(median(each))
    value = float(np.polyval(np.polyfit(1 + shares, heights, 1), 0.0)) / kept
    drawn = 1.2533 * noise * np.sqrt(2.0 * 2.25 / width) / np.sqrt(even.sum())
    return value, float(np.linalg.norm((drawn, AMPLITUDE_PART * value, 0.05 * noise)))


def _weighted(samples: Samples, weights: Samples) -> Samples:
    """Symmetric weights over a centred window; ends repeat the end value."""
    return np.convolve(np.pad(samples, weights.size // 2, "edge"), weights, "valid")


def judge_weak(work: Work, least: float, speed: str) -> None:
    """An inductive amplitude under `least` volts, peak to peak, at that speed in words."""
    amplitude = work.value("amplitude_v")
    if amplitude is not None and amplitude < least:
        text = f"{amplitude:.2g} V peak to peak at {speed}, where {least:.2g} V is the least"
        work.fault("weak_amplitude", text, None, "signal", amplitude, "V")


def departures(wheel: Wheel) -> np.ndarray:
    """Each period's departure from the mean of the even ones round it, in percent of them; NaN in gaps."""
    periods = np.diff(wheel.at)
    even = (wheel.ratio < GAP_FREE) & (wheel.ratio > 0.5)
    values = np.where(even, periods, 0.0)
    reach = np.ones(9)
    reach[4] = 0.0
    if periods.size < reach.size:
        return np.full(periods.size, np.nan)
    total = np.convolve(values, reach, mode="same")
    count = np.convolve(even.astype(float), reach, mode="same")
    mean = np.divide(total, count, out=np.full(periods.size, np.nan), where=count >= 3)
    return np.where(even, 100 * (periods / mean - 1), np.nan)


def judge_teeth(work: Work, samples: Samples, wheel: Wheel, hall: bool) -> None:
    """Spacing as a reading; teeth that are damaged, or lost once, and a wheel that runs out, as faults."""
    away = departures(wheel)
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
        if wheel.even:
            _lost(work, wheel, set())
        return
    damaged = _damaged(work, samples, wheel, away, hall)
    _lost(work, wheel, damaged)


def _by_place(wheel: Wheel, values: np.ndarray) -> tuple[np.ndarray, np.ndarray, int]:
    """Places in the turn with the median of their values over the turns, where two turns or more were seen."""
    known = (wheel.place[: values.size] >= 0) & np.isfinite(values)
    places = np.unique(wheel.place[: values.size][known])
    out, kept = [], []
    turns = wheel.passes
    for place in places:
        here = values[known & (wheel.place[: values.size] == place)]
        if here.size >= 2:
            out.append(median(here))
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
        beside_gap = np.concatenate([wheel.ratio > GAP_FREE, [True]]) | np.concatenate([[True], wheel.ratio > GAP_FREE])
        read = [_in_turn(wheel, np.where(beside_gap, np.nan, sizes)) for sizes in _pairings(samples, wheel)]
        # A sensor wired the other way round has each tooth's two crests in the other order.
        places, medians, local = min(read, key=lambda one: float(np.nanmin(one[1] / one[2], initial=1.0)))
        usual = float(np.nanmedian(medians)) if medians.size else 0.0
        for place, size, beside in zip(places, medians, local, strict=True):
            near = not wheel.even and (place == 0 or place == places.max())
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
    turns = max(1, wheel.passes - 1)
    for place, times in counted.items():
        if place >= 0 and times >= max(2, 0.7 * turns) and not any(abs(place - other) <= 2 for other in found):
            found.add(place)
            _report(work, wheel, place, "is followed by a tooth that is gone", float(times), "")
    return found


def _pairings(samples: Samples, wheel: Wheel) -> list[Samples]:
    """Heights of teeth, shape (n,): about their own crossing and, where no gap tells the sense, before the next one."""
    about = [heights(samples, wheel.at)]
    if wheel.even:
        before_next = amplitudes(samples, wheel.at)
        if before_next.size == wheel.at.size - 1:
            about.append(np.append(before_next, np.nan))
    return about


def _in_turn(wheel: Wheel, sizes: Samples) -> tuple[Samples, Samples, Samples]:
    """Places in the turn, the median height at each, and that of its neighbours: a wheel that runs out has small teeth
    of its own.
    """
    places, medians, _ = _by_place(wheel, sizes)
    return places, medians, running_median(medians, 9) if medians.size > 9 else medians


def _report(work: Work, wheel: Wheel, place: int, what: str, value: float, unit: str) -> None:
    at = np.flatnonzero(wheel.place[:-1] == place)
    turns = [work.span(round(wheel.at[k]), round(wheel.at[k + 1])) for k in at]
    text = f"tooth {place + 1} {wheel.counted} {what}, each turn"
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
        place = "not at one place in the turn" if wheel.teeth else "tell the wheel's teeth to see whether at one place"
        text = f"{count} {'tooth' if count == 1 else 'teeth'} lost once, {place}"
        work.fault("dropout", text, span, "signal", float(count), "")
