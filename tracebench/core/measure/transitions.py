"""Instants and durations of transitions at percent reference levels (IEEE Std 181-2011, 5.3)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tracebench.core.robust.codes import code_doubt, resolution
from tracebench.core.robust.noise import correlation
from tracebench.core.samples import Samples

_NEAR = 0.06
"""Part of the level step, either side of a reference level, whose samples place the crossing."""


LEAST_DOUBT = 0.05
"""Of a crossing that many samples place, in samples: what a curve of another shape than a parabola leaves."""

_MOST = 20_000
"""Samples of such a stretch that are looked at, taken evenly from a longer one."""


_FIRST_REACH = 4096


@dataclass(frozen=True, slots=True)
class Instant:
    """A fractional sample index and one standard uncertainty, in samples."""

    index: float
    uncertainty: float


def crossing(samples: Samples, start: int, stop: int, level: float, step: float) -> Instant | None:
    """Where samples[start:stop] goes through `level`, as one fractional index; None if it does not.

    `step` is the signed level step of the transition (positive when rising). The last crossing before the
    far side of the step is held for good is taken, refined by a parabola through the samples within 6 %
    of the step, so that noise does not move it; with fewer than five such samples the two neighbours are
    interpolated.
    """
    part = (samples[start:stop] - level) * np.sign(step)
    if part.size < 2:
        return None
    beyond = part >= 0
    if not beyond.any() or beyond.all():
        return None
    # With noise a slow edge crosses many times: the middle of first and last contact is unbiased.
    first_above = int(np.argmax(beyond))
    last_below = part.size - 1 - int(np.argmin(beyond[::-1]))
    if last_below < first_above:
        k = first_above
        fraction = part[k - 1] / (part[k - 1] - part[k]) if k else 0.0
        coarse = k - 1 + float(fraction)
    else:
        coarse = (first_above + last_below) / 2
    return _refined(part, start, coarse, abs(step))


def _refined(part: Samples, start: int, coarse: float, step: float) -> Instant:
    # Single noisy samples outside the band do not end the stretch round the crossing.
    lo, hi = _stretch_round(part, min(max(round(coarse), 0), part.size - 1), _NEAR * step, patience=3)
    stride = max(1, (hi + 1 - lo) // _MOST)
    x = np.arange(lo, hi + 1, stride) - coarse
    y = part[lo : hi + 1 : stride]
    if x.size < 5:
        return Instant(start + coarse, 1 / np.sqrt(12.0))
    # A parabola, because a hand eases in and out: a straight line would be biased at 10 and 90 %.
    bend, slope, offset = np.polyfit(x, y, 2)
    # Three figures are taken from the samples themselves.
    residuals = y - ((bend * x + slope) * x + offset)
    scatter = float(np.sqrt(residuals @ residuals / (x.size - 3)))
    real = _roots(bend, slope, offset)
    inside = real[(real >= x[0]) & (real <= x[-1]) & (2 * bend * real + slope > 0)]
    if inside.size == 0:
        return Instant(start + coarse, max((hi + 1 - lo) / 4, 1 / np.sqrt(12.0)))
    at = float(inside[np.argmin(np.abs(inside))])
    steepness = float(2 * bend * at + slope)
    # 1.5: standard error of a parabola's value at the middle of its stretch against that of a mean.
    spread = 1.5 * scatter * correlation(residuals) / np.sqrt(x.size) / steepness
    # Codes that noise does not stir shift the whole stretch: no number of samples within it averages that out.
    shifted = code_doubt(resolution(y), scatter) * _alike_in_codes(x.size, y) / steepness
    return Instant(start + coarse + at, float(np.linalg.norm((spread, shifted, LEAST_DOUBT))))


def _roots(bend: float, slope: float, offset: float) -> Samples:
    """Real roots of a parabola; of a straight line where it does not bend, none where it never passes zero."""
    inner = slope * slope - 4 * bend * offset
    if inner < 0:
        return np.empty(0)
    # The form that does not take nearly equal numbers from each other (Numerical Recipes, 5.6, from memory).
    larger = -0.5 * (slope + np.copysign(np.sqrt(inner), slope))
    over = ((larger, bend), (offset, larger))
    return np.array([a / b for a, b in over if b != 0])


def _alike_in_codes(count: int, y: Samples) -> float:
    """Part of a code's doubt that stays where a slope runs through several of them: their number averages it."""
    return 1.0 / float(np.sqrt(max(1, min(count, np.unique(y).size) / 2)))


def _stretch_round(part: Samples, at: int, band: float, patience: int) -> tuple[int, int]:
    """First and last index of the stretch round `at` whose samples are within `band` of zero.

    Looked for within more and more samples on either side, as a long record has few near its crossing.
    """
    reach = _FIRST_REACH
    while True:
        begin, end = max(0, at - reach), min(part.size, at + reach + 1)
        lo, hi = _contiguous(np.abs(part[begin:end]) <= band, at - begin, patience)
        seen_left = begin == 0 or lo > patience + 1
        seen_right = end == part.size or hi < end - begin - 1 - (patience + 1)
        if (lo < hi and seen_left and seen_right) or (begin == 0 and end == part.size):
            return begin + lo, begin + hi
        reach *= 4


def _contiguous(near: np.ndarray, at: int, patience: int) -> tuple[int, int]:
    """First and last index of the run of True round `at`, gaps of up to `patience` samples allowed."""
    inside = np.flatnonzero(near)
    if inside.size == 0:
        return at, at
    nearest = int(np.argmin(np.abs(inside - at)))
    breaks = np.flatnonzero(np.diff(inside) > patience + 1)
    left = int(np.searchsorted(breaks, nearest))
    first = inside[breaks[left - 1] + 1] if left > 0 else inside[0]
    last = inside[breaks[left]] if left < breaks.size else inside[-1]
    return min(int(first), at), max(int(last), at)


@dataclass(frozen=True, slots=True)
class Transition:
    """10 % and 90 % reference instants of one transition, fractional sample indices."""

    at_10: Instant
    at_90: Instant

    @property
    def samples(self) -> float:
        """Transition duration in samples."""
        return abs(self.at_90.index - self.at_10.index)

    @property
    def uncertainty(self) -> float:
        return float(np.hypot(self.at_10.uncertainty, self.at_90.uncertainty))


def transition(samples: Samples, start: int, stop: int, before: float, after: float) -> Transition | None:
    """The 10-90 % transition inside samples[start:stop] from level `before` to level `after`; None if incomplete.

    Source: IEEE Std 181-2011, 3.1 (transition duration) and 5.3.3 (percent reference levels).
    """
    step = after - before
    at_10 = crossing(samples, start, stop, before + 0.1 * step, step)
    at_90 = crossing(samples, start, stop, before + 0.9 * step, step)
    if at_10 is None or at_90 is None or at_90.index <= at_10.index:
        return None
    return Transition(at_10, at_90)
