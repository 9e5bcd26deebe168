"""Pulses of a current through a coil: start, release, peak and what lies between, on a clamp that drifts and rings."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits import extremes, hum, probe, record_checks
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.pulse_train import Pulses, Rest, find_pulses, mean_course, rest_of, without_drift
from tracebench.core.robust import fits
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.series import running_mean
from tracebench.core.samples import Samples

LEAST_A = Threshold(0.02, "A", "A lane that moves by less than this carries no pulses")

UPRIGHT = Threshold(
    0.5, "", "Part of the peak within the first twentieth of the on-time that only a winding without inductance reaches"
)

STAIRS = Threshold(
    0.4,
    "",
    "Part of a code's own doubt that stays of a place that a line through several of them gives (by simulation)",
)

NOISY = Threshold(0.06, "", "Noise over a pulse's peak from which its shape is not to be seen")

_START_LOW = Threshold(
    0.03, "", "Part of the peak from which a rise places its own beginning: noise and ringing lie under it"
)
_START_HIGH = Threshold(
    0.15, "", "Part of the peak up to which a rise is straight enough to be carried back to its beginning"
)
_EDGE = Threshold(0.05, "", "Part of the peak that lies between a release and the rest")
SLOW_START = Threshold(
    1.5,
    "",
    "A fall takes from 90 to 70 % of its top at most this part of what it takes to 45: lines 0.8, cosines 1.0",
)
RINGING = Threshold(
    0.85, "", "How far a ring on a rise moves its beginning, in the time that the rise takes for the ring's own scatter"
)


ZERO_PART = Threshold(
    0.03, "", "Part of the typical peak by which a clamp at rest may be off zero (common practice, no published source)"
)


@dataclass(frozen=True, slots=True, eq=False)
class Current:
    """A current lane made ready: drift taken off, pulses found. `samples` are in amperes."""

    samples: Samples
    rest: Rest
    pulses: Pulses
    typical_a: float
    """Median peak over the rest level."""
    step: float
    """Step of the recorder; 0 where it shows none."""

    code: float
    """The same where noise does not stir it, else 0: what it hides no mean brings back."""


@dataclass(frozen=True, slots=True)
class Shape:
    """One pulse. Instants are fractional sample indices with one standard uncertainty each; currents over the rest."""

    start: float
    start_doubt: float
    release: float
    release_doubt: float
    peak: float
    peak_at: int
    peak_doubt: float
    released: float
    """Current at the moment of release."""
    alike: float = 0.0
    """What of either's uncertainty every pulse of a record has alike."""

    @property
    def width(self) -> float:
        return self.release - self.start


def current_of(work: Work, lane: str, least_a: float, most_a: float) -> Current | None:
    """Pulses of a current lane, with its set-up findings; None, with the finding, where it carries none.

    `least_a` to `most_a` is what the circuit's peaks can be: a power of ten outside is a wrong clamp factor.
    """
    _put_polarity_right(work, lane)
    _put_scale_right(work, lane, least_a, most_a)
    samples = work.samples(lane)
    rest = work.once(samples, "rest", rest_of)
    if rest.over < max(LEAST_A, 8 * rest.sigma):
        probe.note_nothing(work, lane, "no current pulses: clamp on, jaws shut, the right wire?")
        return None
    _take_hum_off(work, lane, rest)
    samples = work.samples(lane)
    rest = work.once(samples, "rest", rest_of)
    zero = rest.level
    samples, wander = without_drift(samples, work.capture.interval_s, rest)
    if wander > 0:
        text = f"the zero of the clamp wanders by {wander:.2g} A; taken off, zero the clamp before the next capture"
        work.find("clamp_drift", "note", text, None, lane)
    rest = work.once(samples, "rest", rest_of)
    pulses, typical = _pulses(samples, rest)
    if pulses.count == 0:
        work.setup("too_short", "no whole pulse in this capture", lane, hides=True)
        return None
    if not record_checks.check_rest(work, lane) and wander == 0:
        check_zero(work, lane, zero, typical)
    step = work.code(lane)
    return Current(samples, rest, pulses, typical, step, step if rest.sigma < step else 0.0)


def _take_hum_off(work: Work, lane: str, rest: Rest) -> None:
    samples = work.samples(lane)
    seen = find_pulses(samples, rest.level + 0.35 * rest.over, rest.level + 0.5 * rest.over)
    if seen.count:
        typical = median(peaks_of(samples, seen)) - rest.level
        told = max(HUM_PART * typical, 3 * rest.sigma / np.sqrt(samples.size), LEAST_A / 2)
        hum.take_off(work, lane, hum.hum_on(work, lane), told, HUM_HIDES * typical)


HUM_PART = Threshold(0.015, "", "Hum over the typical peak from which it is told and taken off")
HUM_HIDES = Threshold(0.25, "", "And from which what is left of it may hide the answer")


def check_zero(work: Work, lane: str, rest_a: float, typical_a: float) -> None:
    """A clamp that does not rest at zero, beside the typical peak over its rest: found, and read over the rest."""
    if abs(rest_a) > max(ZERO_PART * typical_a, LEAST_A):
        text = f"the current rests at {rest_a:.2f} A: the zero of the clamp was not set; read over its rest"
        work.setup("zero_not_set", text, lane)


def _put_polarity_right(work: Work, lane: str) -> None:
    found = work.capture.lanes[lane]
    rest = work.once(found.samples, "rest", rest_of)
    if rest.under > 2 * rest.over and rest.under > 8 * rest.sigma:
        work.setup("reversed_polarity", "the pulses point down: clamp the wrong way round; read inverted", lane)
        work.capture = work.capture.with_lane(found.scaled(-1.0))


def _put_scale_right(work: Work, lane: str, least_a: float, most_a: float) -> None:
    """Judged on the typical peak over the rest, which pulses far apart do not show in a percentile."""
    found = work.capture.lanes[lane]
    rest = work.once(found.samples, "rest", rest_of)
    if rest.over < 8 * rest.sigma:
        return
    seen, typical = _pulses(found.samples, rest)
    if typical <= 0 or least_a / 2.5 <= typical <= 2.5 * most_a:
        return
    early = found.samples[seen.start + np.maximum(2, (seen.stop - seen.start) // 20)] - rest.level
    if typical > most_a and median(early) > UPRIGHT * typical:
        # Far too much at once is what a shorted winding draws, not a wrong factor.
        return
    factor = setup.wrong_factor(typical, least_a, most_a)
    if factor is not None:
        text = f"peaks of {typical:.3g} A are {factor:g} times what they can be: clamp factor; read divided by it"
        work.setup("scale_suspect", text, lane)
        work.capture = work.capture.with_lane(found.scaled(1.0 / factor))


def _pulses(samples: Samples, rest: Rest) -> tuple[Pulses, float]:
    """Pulses over an eighth of the typical peak; crosstalk of neighbours and glitches are under it or too short."""
    thin = samples[:: max(1, samples.size // 100_000)]
    high = percentile(thin, 99.8) - rest.level
    reach = high if high > 8 * rest.sigma else rest.over
    first = find_pulses(
        samples, rest.level + max(3 * rest.sigma, 0.06 * reach), rest.level + max(6 * rest.sigma, 0.12 * reach)
    )
    if first.count == 0:
        return first, 0.0
    widths = first.stop - first.start
    first = first.only(widths >= max(2, 0.15 * percentile(widths, 75)))
    if first.count == 0:
        return first, 0.0
    peaks = peaks_of(samples, first) - rest.level
    typical = median(peaks[peaks >= 0.3 * percentile(peaks, 90)])
    found = find_pulses(
        samples, rest.level + max(3 * rest.sigma, 0.07 * typical), rest.level + max(6 * rest.sigma, 0.13 * typical)
    )
    if found.count == 0:
        return found, typical
    widths = found.stop - found.start
    usual = median(widths)
    # One that was under way as the record began is not whole.
    return found.only((widths >= max(2, 0.1 * usual)) & (found.start >= 0.15 * usual)), typical


def peaks_of(samples: Samples, pulses: Pulses) -> NDArray[np.float64]:
    """Largest sample of each pulse, shape (count,)."""
    bounds = np.stack([pulses.start, pulses.stop], axis=1).ravel()
    if bounds.size and bounds[-1] >= samples.size:
        bounds[-1] = samples.size - 1
    return np.maximum.reduceat(samples, bounds)[::2] if bounds.size else np.empty(0)


def shapes_of(current: Current) -> list[Shape]:
    """The shape of every pulse, in order."""
    pulses = current.pulses
    before = np.concatenate([[0], pulses.stop[:-1]])
    found = [
        _shape(current, int(a), int(b), int(floor))
        for a, b, floor in zip(pulses.start, pulses.stop, before, strict=True)
    ]
    # What noise has left no length or height is no pulse.
    return [s for s in found if s.width >= 3 and s.peak > 0] or found


def _shape(current: Current, a: int, b: int, floor: int) -> Shape:
    samples, level, sigma = current.samples, current.rest.level, current.rest.sigma
    width = b - a
    part = samples[a:b] - level
    narrow = max(1, min(9, width // 150))
    smooth = running_mean(part, narrow)
    rough = float(smooth.max())
    released, release, release_doubt = _release(samples, level, sigma, a, b, narrow)
    start, start_doubt, alike = _start(samples[: b + 1], level, sigma, a, floor, rough, current.code)
    # Codes that noise does not stir are passed at one place of every fall.
    alike = math.hypot(alike, release_doubt) if current.code else alike
    found = extremes.extreme_of(part, 1.0, max(3, min(width // 100, 25)), largest=True, code=current.step)
    fitted, fitted_doubt = _at_release(samples, level, sigma, start, release, release_doubt)
    # The larger of two estimates of one level lies above it: the peak is elsewhere only where it clearly is.
    elsewhere = found.value > fitted + max(4 * found.uncertainty, 0.01 * fitted)
    peak, peak_at = (found.value, a + found.at) if elsewhere else (fitted, int(release))
    doubt = found.uncertainty if elsewhere else fitted_doubt
    return Shape(start, start_doubt, release, release_doubt, peak, peak_at, doubt, max(released, fitted), alike)


def _start(
    samples: Samples, level: float, sigma: float, a: int, floor: int, peak: float, code: float
) -> tuple[float, float, float]:
    """Where the current leaves its rest: the line through its first rise, carried back to the rest level.

    With its uncertainty, and what of that every pulse of the record has alike.
    """
    low = max(4 * sigma, _START_LOW * peak)
    high = max(_START_HIGH * peak, 2.5 * low)
    begin = max(floor, a - 4000)
    under = samples[begin : a + 1][::-1] <= low + level
    first = a - int(under.argmax()) if under.any() else begin
    ahead = samples[first : first + 20_000] - level
    count = (_first_over(ahead, high) or 1) + 1
    if count < 4:
        one, two = samples[first] - level, samples[first + 1] - level
        # An edge within a sample or two: it began somewhere between the last at rest and the first above.
        part = float(np.clip((0.5 * low - one) / (two - one), 0.0, 1.0)) if two > one else 0.5
        return first + part, 1 / math.sqrt(12.0), 0.0
    y = ahead[:count]
    slope, offset = fits.line(y)
    if slope <= 0:
        return float(first), 1.0, 0.0
    line = -offset / slope
    # The rest, and the first rise over it, lie anywhere in a code, and do so in every pulse alike.
    codes = STAIRS * code / math.sqrt(12.0) / slope
    # What the line and the parabola through the first rise are worth where they are carried back to.
    by_line = 2.8 * sigma / slope / math.sqrt(count)
    rough, bent = (fits.scatter_about(y, *curve) for curve in (fits.parabola(y), (0.0, slope, offset)))
    if rough > 1.25 * sigma and rough > 0.5 * bent:
        # What rings on the rise is no noise that a longer line would average away, and is alike in every event.
        return first + line, math.hypot(by_line, RINGING * bent / slope, 0.03 * low / slope, codes), codes
    # A rise that bends, as a winding's does, began later than its line says, from nothing for a ramp to a seventh of
    # the lowest level. A parabola over twice the rise follows it, less surely the more noise there is.
    twice = _first_over(ahead, 2 * high)
    longer = ahead[: count if twice is None else twice + 1]
    curved = _root(fits.parabola(longer), line)
    by_curve = 6.5 * sigma / slope / math.sqrt(longer.size)
    line += 0.07 * low / slope
    sure = 0.05 * low / slope
    weight = 0.0 if curved is None else (by_line**2 + sure**2) / (by_line**2 + sure**2 + by_curve**2)
    start = line if curved is None else (1 - weight) * line + weight * curved
    alike = math.hypot((1 - weight) * sure, codes)
    return float(first + start), math.hypot(alike, (1 - weight) * by_line, weight * by_curve, 0.05), alike


def _first_over(samples: Samples, level: float) -> int | None:
    """The first sample at a level or over it."""
    over = samples >= level
    first = int(over.argmax())
    return first if over[first] else None


def _root(curve: tuple[float, float, float], near: float) -> float | None:
    """The real root of a parabola that lies nearest to a place, None if it has none."""
    return min(fits.roots(*curve), key=lambda root: abs(root - near), default=None)


def _release(samples: Samples, level: float, sigma: float, a: int, b: int, narrow: int) -> tuple[float, float, float]:
    """Current at release, its instant and the instant's uncertainty: where the last fall leaves its top."""
    end = min(samples.size, b + 1)
    part = running_mean(samples[a:end] - level, narrow)
    back = np.maximum.accumulate(part[::-1])
    window = max(2, round(0.04 * part.size))
    if back.size <= window + 1:
        highest = int(np.argmax(part))
        return float(part[highest]), float(a + highest), 0.5
    still = np.flatnonzero(back[window:] <= 1.02 * back[:-window] + 3 * sigma / np.sqrt(narrow))
    settled = int(still[0]) if still.size else back.size - 1
    top = float(back[settled])
    fall = (samples[a:end] - level)[max(0, part.size - 1 - settled - window) :]
    begin = end - fall.size
    nine, seven = (_last_over(fall, share * top) for share in (0.9, 0.7))
    if nine is None or seven is None or seven <= nine:
        return top, float(begin + (nine or 0)), 0.5
    lower = _last_over(fall, 0.45 * top)
    rippled = np.flatnonzero(fall[: int(nine)] < 0.9 * top - 4 * sigma).size > 0
    if lower is not None and lower > seven and (rippled or seven - nine > SLOW_START * (lower - seven) + 1):
        # A hold that ripples passes nine tenths at any time: what is below it, by an exponential from the top.
        tau = (lower - seven) / np.log(0.7 / 0.45)
        level = _level_before(fall, seven - tau)
        release = seven - tau * float(np.log(max(level, 0.71 * top) / (0.7 * top)))
        return top, begin + release, float(np.hypot(0.5, 0.1 * tau))
    foot = _last_over(fall, 0.2 * top)
    if foot is not None and math.floor(foot) == math.floor(nine):
        # All of it lies between two samples: the current rose on beyond the first of them, on the average by half.
        return top, begin + math.floor(nine) + 0.5, 1.0 / math.sqrt(12.0)
    # The straight beginning of the fall, carried back to the top.
    release = nine - 0.5 * (seven - nine)
    # Of a fall of many samples each lies on it; an edge of one or two lies anywhere between them.
    placed = 0.15 if seven - nine > 3 else 1.0 / np.sqrt(12.0)
    doubt = float(np.hypot(placed, 1.3 * sigma / max(0.2 * top / (seven - nine), 1e-12)))
    return top, begin + release, min(doubt, 0.5 * (seven - nine) + 0.5)


def _level_before(fall: Samples, at: float) -> float:
    """Middle of a few samples just before a place in a fall."""
    stop = max(1, int(at))
    return median(fall[max(0, stop - 4) : stop])


def _last_over(fall: Samples, level: float) -> float | None:
    """Fractional index where a fall passes a level for the last time."""
    back = fall[::-1] >= level
    ahead = int(back.argmax()) if back.size else 0
    # Passed for the last time in the record's end is not passed.
    if ahead == 0:
        return None
    k = fall.size - 1 - ahead
    return k + float((fall[k] - level) / (fall[k] - fall[k + 1]))


def _at_release(
    samples: Samples, level: float, sigma: float, start: float, release: float, release_doubt: float
) -> tuple[float, float]:
    """Current at release by the line through the last twentieth of the on-time, and its uncertainty."""
    # The last sample before it may already be falling.
    stop = min(int(np.floor(release)) - 1, samples.size)
    begin = int(max(start, stop - max(5.0, 0.05 * (release - start)), 0))
    if stop - begin < 5:
        return float(samples[min(max(begin, stop - 1, 0), samples.size - 1)] - level), sigma
    y = samples[begin:stop] - level
    x = np.arange(y.size) - (y.size - 1) / 2
    spread = float(x @ x)
    slope, ahead = float(x @ y) / spread, release - begin - (y.size - 1) / 2
    doubt = math.hypot(sigma * math.sqrt(1 / y.size + ahead**2 / spread), slope * release_doubt)
    return float(y.mean() + slope * ahead), doubt


def at_part(current: Current, shape: Shape, part: float) -> float:
    """Current over the rest at a part of the on-time, a mean of the nearest hundredth of it."""
    centre = shape.start + part * shape.width
    reach = max(0.5, 0.005 * shape.width)
    begin, end = round(centre - reach), round(centre + reach) + 1
    return float(np.mean(current.samples[max(0, begin) : end])) - current.rest.level


def leading_edge(current: Current, shape: Shape) -> float:
    """Part of the peak that is reached within the first twentieth of the on-time."""
    return max(0.0, at_part(current, shape, _EDGE)) / shape.peak if shape.peak > 0 else 0.0


def slope_between(current: Current, shape: Shape, low: float, high: float) -> tuple[float, float] | None:
    """Least-squares slope from `low` to `high` parts of the peak on the way up, amperes a sample, with uncertainty."""
    begin, end = int(np.ceil(shape.start)), int(np.floor(shape.release)) + 1
    rise = current.samples[begin:end] - current.rest.level
    smooth = running_mean(rise, max(1, rise.size // 80))
    over = np.flatnonzero(smooth >= high * shape.peak)
    if over.size == 0:
        return None
    last = int(over[0])
    under = np.flatnonzero(smooth[:last] <= low * shape.peak)
    first = int(under[-1]) + 1 if under.size else 0
    if last - first < 4:
        return None
    x = np.arange(last - first) - (last - first - 1) / 2
    y = rise[first:last]
    moment = float(x @ x)
    slope = float(x @ y) / moment
    # What rings on it is in its scatter about its course, and is no noise that more samples average away.
    sigma = current.rest.sigma
    bend = x * x - moment / x.size
    away = y - float(y.sum()) / y.size - slope * x - bend * (float(bend @ y) / float(bend @ bend))
    scatter = math.sqrt(float(away @ away) / y.size)
    rung = math.sqrt(scatter**2 - sigma**2) if scatter > 1.15 * sigma else 0.0
    return slope, math.hypot(sigma, 2.2 * rung) / math.sqrt(moment)


def decay_of(current: Current, shape: Shape) -> tuple[float, float, float] | None:
    """Samples from 90 to 10 % of the current at release, their uncertainty, and what of it the recorder's codes make.

    None where the record ends first.
    """
    begin = int(shape.release)
    fall = current.samples[begin : begin + int(4 * shape.width) + 50] - current.rest.level
    places = []
    for share in (0.9, 0.1):
        under = np.flatnonzero(fall <= share * shape.released)
        last = _last_over(fall[: under[0] + int(0.2 * shape.width) + 2], share * shape.released) if under.size else None
        if under.size == 0 or under[0] == 0 or last is None:
            return None
        at = int(under[0])
        first = at - 1 + float((fall[at - 1] - share * shape.released) / (fall[at - 1] - fall[at]))
        # Noise crosses many times: the middle of first and last contact is unbiased.
        places.append(0.5 * (first + last))
    took = places[1] - places[0]
    if took <= 0:
        return None
    # Noise over the slope of an exponential at its tenth, where it is least; halved by the two contacts' middle. A code
    # lies anywhere about that tenth, and another about the rest that it is a tenth of.
    slope = 0.1 * shape.released / (took / math.log(9.0))
    codes = math.sqrt(2.0) * current.code / math.sqrt(12.0) / slope
    return took, math.hypot(0.3, 0.5 * current.rest.sigma / slope, codes), codes


def mean_pulse(current: Current, shapes: list[Shape]) -> tuple[Current, Shape]:
    """The mean of several pulses laid on each other by their starts, with the noise that is left: as one pulse.

    What each pulse has alike stands out of noise that hides it in any single one.
    """
    width = median([s.width for s in shapes])
    course, used = mean_course(current.samples, [s.start for s in shapes], np.arange(-20.0, width * 1.02))
    rest = Rest(current.rest.level, current.rest.sigma / np.sqrt(used), current.rest.over, current.rest.under)
    first = shapes[0]
    mean = Current(course, rest, current.pulses, current.typical_a, current.step, current.code)
    peak = median([s.peak for s in shapes])
    return mean, Shape(20.0, first.start_doubt, 20.0 + width, first.release_doubt, peak, first.peak_at, 0.0, peak)


def check_pulse_setup(work: Work, lane: str, current: Current, shapes: list[Shape]) -> None:
    """Too few samples a pulse, a range that ends under the peaks, too coarse a range."""
    widths = np.array([s.width for s in shapes])
    shortest = percentile(widths, 10)
    if not enough(shortest, 4 * setup.FEWEST_SAMPLES):
        text = (
            f"{shortest:.0f} samples across a pulse of {1000 * shortest * work.capture.interval_s:.2g} ms; "
            f"{4 * setup.FEWEST_SAMPLES} are needed for its shape"
        )
        setup.too_few(work, text, shortest, lane)
    if current.rest.sigma > NOISY * current.typical_a:
        text = f"noise of {current.rest.sigma:.2g} A on pulses of {current.typical_a:.2g} A: a clamp of a smaller range"
        work.setup("noisy", text, lane, hides=True)
    record_checks.check_clipped(work, lane, 0.0, tops_only=True)
    setup.check_range_use(work, lane, 0.2 * current.typical_a)
