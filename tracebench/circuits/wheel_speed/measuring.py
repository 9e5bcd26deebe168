"""Wheel speed: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits import thinning
from tracebench.core.circuits.hum import ELSEWHERE
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.toothed.teeth import (
    amplitude_of,
    check_teeth,
    judge_teeth,
    judge_weak,
    read_two_levels,
)
from tracebench.core.circuits.toothed.wheel import Wheel, digital, heights, without_gap
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import find_edges, swing_thresholds
from tracebench.core.measure.hum import hum_through
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median, percentile_span, percentiles
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import running_mean, running_median, runs
from tracebench.core.samples import Samples

STANDS_S = Threshold(0.10, "s", "A tooth that takes longer than this is that of a wheel that stands, or is about to")

LOST_S = Threshold(1.0, "s", "Teeth may be lost for so long, if the wheel is as quick after it as before")
ALIKE = Threshold(1.5, "", "Factor within which a wheel is as quick after lost teeth as before")

REACH_SIGMA = Threshold(6.0, "sigma", "A tooth swings over so much of the noise")
REACH_CODES = Threshold(1.5, "codes", "And over so many codes of the recorder")
REACH_PART = Threshold(0.02, "", "And over this part of the swing")
HUM_REACH = Threshold(1.2, "", "And, further, over so much of the mains' hum that goes through the record")
HUM_HIDES = Threshold(0.12, "", "Hum over the swing from which teeth are no longer sure")
MOST_HUM = Threshold(
    0.2, "", "Part of the swing from which a line at the mains' frequencies is the teeth of a wheel that turns evenly"
)
SMOOTHED_S = Threshold(0.001, "s", "Taken in means over so long")

CLEAR = Threshold(
    3.5,
    "reaches",
    "Reaches of peak to peak from which teeth beside each other are all seen: nearly twice what one needs",
)

MOST_V = Threshold(
    20.0, "V", "Peak of a sensor on a wheel that is spun by hand or rolls, over which a factor is wrong (from memory)"
)

ACTIVE_V = Threshold(
    0.25,
    "V",
    "Least swing of an active sensor, 7 and 14 mA over a resistor of some fifty to a hundred ohms (from memory)",
)
ACTIVE_TOP_V = Threshold(0.9, "V", "Its upper level at the least (from memory)")

STILL_V = Threshold(0.02, "V", "Swing under which nothing passes")

WEAK_V_PER_HZ = Threshold(
    0.002, "V/Hz", "An inductive sensor gives a tenth of a volt peak to peak at some 50 teeth a second (from memory)"
)


def measure(work: Work) -> Work:
    """Teeth, their rate and height while the wheel turns; faults by their place in the turn."""
    hall = digital(work.samples("signal"), ACTIVE_V)
    setup.put_scale_right(work, "signal", *((ACTIVE_TOP_V, 14.5) if hall else (0.02, MOST_V)))
    samples = work.samples("signal")
    low, high = percentiles(thinning.thin(samples), 1, 99)
    still = high - low <= STILL_V
    if still:
        work.setup("flat_line", "no teeth pass: probe and plug first, and turn the wheel", "signal", hides=True)
    at = np.empty(0)
    if hall:
        low, high = percentiles(samples, 25, 75)
        _hum(work, samples - np.where(samples > 0.5 * (low + high), high, low), high - low)
        at = find_edges(samples, *swing_thresholds(samples, 0.3)).falling
    elif not still:
        at = _inductive_teeth(work, samples)
    first, last = _turning(at, work.capture.interval_s)
    at = at[first : last + 1]
    phases = [Phase("turning", *work.span(round(at[0]), round(at[-1])))] if at.size > 2 else []
    work.settle_phases(phases)
    if at.size > 2:
        wheel = without_gap(at, round(work.number("teeth", 0, 0, 400)))
        check_teeth(work, samples, wheel, hall)
        _read(work, samples, wheel, hall)
        if not work.has("noisy", "undersampled"):
            judge_teeth(work, samples, wheel, hall)
    return work


def _inductive_teeth(work: Work, samples: Samples) -> np.ndarray:
    """Teeth that swing over one fixed reach on either side, as far as all of a wheel that slows down still do.

    A wheel at rest, and one about to stop, cross the middle by their noise: they do not get over the reach.
    """
    width = max(1, round(SMOOTHED_S / work.capture.interval_s))
    centred = running_mean(samples, width) - median(samples)
    swing = percentile_span(thinning.thin(centred), 1, 99)
    noise, code = sample_noise(samples), resolution(samples)
    # Noise that stirs the codes is averaged with them.
    steps = REACH_CODES * code if noise < 0.4 * code else 0.0
    hum = _hum(work, samples, swing)
    reach = max(REACH_SIGMA * noise / np.sqrt(width), steps, REACH_PART * swing) + HUM_REACH * hum
    at = find_edges(centred, -reach, reach, 0.0).falling
    if at.size > 2:
        tall = heights(centred, at)
        usual = running_median(np.where(np.isnan(tall), 0.0, tall), 9)
        first, end = max(runs(usual >= CLEAR * reach), key=lambda run: run[1] - run[0], default=(0, 0))
        at = at[first:end]
    if at.size < 3 and swing < CLEAR * reach:
        work.setup("noisy", "no tooth stands out of the noise: another ground, a shielded lead", "signal", hides=True)
    return at


def _hum(work: Work, samples: Samples, swing: float) -> float:
    """Amplitude of the mains' hum beside the teeth; so large that teeth are not sure, with the finding."""
    hum = hum_through(samples, work.capture.interval_s)
    if hum > MOST_HUM * swing:
        return 0.0
    if hum > HUM_HIDES * swing:
        text = f"mains hum of {hum:.2g} V goes through teeth that swing by {swing:.2g} V: {ELSEWHERE}"
        work.setup("noisy", text, "signal", hides=True)
    return hum


def _turning(at: np.ndarray, interval_s: float) -> tuple[int, int]:
    """First and last tooth of the longest stretch in which teeth follow each other as those of one turning wheel do.

    A wheel that stood comes on slowly; one whose teeth were lost meanwhile is as quick after it as before.
    """
    periods = np.diff(at) * interval_s
    if periods.size < 2:
        return 0, 0
    follows = periods < STANDS_S
    for k in np.flatnonzero(~follows[1:-1] & (periods[1:-1] < LOST_S)) + 1:
        before, after = (median(x) for x in (periods[max(0, k - 4) : k], periods[k + 1 : k + 5]))
        follows[k] = max(before, after) < min(STANDS_S, ALIKE * min(before, after))
    return max(runs(follows), key=lambda run: run[1] - run[0], default=(0, 0))


def _read(work: Work, samples: Samples, wheel: Wheel, hall: bool) -> None:
    span = work.span(round(wheel.at[0]), round(wheel.at[-1]))
    passed = int(np.maximum(1, np.round(wheel.ratio)).sum())
    seconds = float(wheel.at[-1] - wheel.at[0]) * work.capture.interval_s
    doubt = passed / seconds**2 * work.capture.interval_s * np.sqrt(2 / 12)
    work.add("teeth_count", passed, "", 0.0, span, "signal")
    work.add("tooth_hz", passed / seconds, "Hz", doubt, span, "signal")
    if wheel.teeth:
        work.add("rpm", 60 * passed / seconds / wheel.teeth, "rpm", 60 * doubt / wheel.teeth, span, "signal")
    else:
        work.miss("rpm", "the number of teeth was not told")
    if hall:
        read_two_levels(work, samples)
    else:
        for reading_id in ("level_low_v", "level_high_v"):
            work.miss(reading_id, "an inductive signal has no levels")
    amplitude = amplitude_of(samples, wheel)
    if amplitude is not None:
        work.add("amplitude_v", amplitude[0], "V", amplitude[1], span, "signal")
    if not hall:
        judge_weak(work, WEAK_V_PER_HZ * passed / seconds, f"{passed / seconds:.0f} teeth a second")
