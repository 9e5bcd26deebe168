"""Instants and durations of transitions at percent reference levels (IEEE Std 181-2011, 5.3)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from tracebench.core.robust.codes import code_doubt, steps_of
from tracebench.core.robust.fits import parabola, roots
from tracebench.core.robust.noise import correlation
from tracebench.core.samples import Samples

_NEAR = 0.06
"""Part of the level step, either side of a reference level, whose samples place the crossing."""


LEAST_DOUBT = 0.05
"""Of a crossing that many samples place, in samples: what a curve of another shape than a parabola leaves."""

_MOST = 20_000
"""Samples of such a stretch that are looked at, taken evenly from a longer one."""


_FIRST_REACH = 4096

_ANYWHERE = 1 / math.sqrt(12.0)
"""Of an instant that lies anywhere between two samples, in samples."""


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
    part, sign = samples[start:stop], math.copysign(1.0, step)
    if part.size < 2:
        return None
    beyond = part >= level if sign > 0 else part <= level
    # With noise a slow edge crosses many times: the middle of first and last contact is unbiased.
    first_above = int(beyond.argmax())
    last_below = part.size - 1 - int(beyond[::-1].argmin())
    if not beyond[first_above] or beyond[last_below]:
        return None
    if last_below < first_above:
        k = first_above
        fraction = (part[k - 1] - level) / (part[k - 1] - part[k]) if k else 0.0
        coarse = k - 1 + float(fraction)
    else:
        coarse = (first_above + last_below) / 2
    # Single noisy samples outside the band do not end the stretch round the crossing.
    at = min(max(round(coarse), 0), part.size - 1)
    lo, hi = _stretch_round(part, at, level, _NEAR * abs(step), patience=3)
    stride = max(1, (hi + 1 - lo) // _MOST)
    return _refined((part[lo : hi + 1 : stride] - level) * sign, start, lo, stride, coarse)


def _refined(y: Samples, start: int, lo: int, stride: int, coarse: float) -> Instant:
    """The crossing near `coarse`, by samples over the level, each `stride` one from `lo`, all counted from `start`."""
    size = y.size
    if size < 5:
        return Instant(start + coarse, _ANYWHERE)
    x = np.arange(size) * float(stride) + (lo - coarse)
    # A parabola, because a hand eases in and out: a straight line would be biased at 10 and 90 %.
    bend, slope, offset = parabola(y, (coarse - lo) / stride)
    bend, slope = bend / stride**2, slope / stride
    # Three figures are taken from the samples themselves.
    residuals = y - ((bend * x + slope) * x + offset)
    scatter = math.sqrt(float(residuals @ residuals) / (size - 3))
    inside = [at for at in roots(bend, slope, offset) if x[0] <= at <= x[-1] and 2 * bend * at + slope > 0]
    if not inside:
        return Instant(start + coarse, max(size * stride / 4, _ANYWHERE))
    at = min(inside, key=abs)
    steepness = 2 * bend * at + slope
    # 1.5: standard error of a parabola's value at the middle of its stretch against that of a mean.
    spread = 1.5 * scatter * correlation(residuals) / math.sqrt(size) / steepness
    # Codes that noise does not stir shift the whole stretch: no number of samples within it averages that out.
    code, codes = steps_of(y)
    # A slope that runs through several codes averages that doubt over them.
    shifted = code_doubt(code, scatter) / math.sqrt(max(1, codes / 2)) / steepness
    return Instant(start + coarse + at, math.hypot(spread, shifted, LEAST_DOUBT))


def _stretch_round(part: Samples, at: int, level: float, band: float, patience: int) -> tuple[int, int]:
    """First and last index of the stretch round `at` whose samples are within `band` of the level.

    Looked for within more and more samples on either side, as a long record has few near its crossing.
    """
    reach = _FIRST_REACH
    while True:
        begin, end = max(0, at - reach), min(part.size, at + reach + 1)
        lo, hi = _contiguous(np.abs(part[begin:end] - level) <= band, at - begin, patience)
        seen_left = begin == 0 or lo > patience + 1
        seen_right = end == part.size or hi < end - begin - 1 - (patience + 1)
        if (lo < hi and seen_left and seen_right) or (begin == 0 and end == part.size):
            return begin + lo, begin + hi
        reach *= 4


def _contiguous(near: np.ndarray, at: int, patience: int) -> tuple[int, int]:
    """First and last index of the run of True round `at`, gaps of up to `patience` samples allowed."""
    inside = near.nonzero()[0]
    if inside.size == 0:
        return at, at
    nearest = int(inside.searchsorted(at))
    if nearest == inside.size or (nearest > 0 and at - inside[nearest - 1] <= inside[nearest] - at):
        nearest -= 1
    breaks = (inside[1:] - inside[:-1] > patience + 1).nonzero()[0]
    left = int(breaks.searchsorted(nearest))
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
