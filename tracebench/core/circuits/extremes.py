"""Largest and smallest values as they would be without noise, and rises, as readings."""

from __future__ import annotations

import math
from statistics import NormalDist
from typing import NamedTuple

import numpy as np

from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.transitions import Transition
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.grouped import grouped_median
from tracebench.core.robust.noise import ENOUGH, noise_between, sample_noise
from tracebench.core.robust.series import block_medians
from tracebench.core.samples import Samples

CODED = Threshold(
    2.0, "", "Steps of the recorder over a median's own noise from which medians of one level are one code or the next"
)
FEW = Threshold(0.25, "", "Of the medians on the two furthest codes, so few lie a code beyond the rest of their level")

_QUANTILE = NormalDist().inv_cdf


class Extreme(NamedTuple):
    """A largest or smallest value, the sample where it is, and its standard uncertainty."""

    value: float
    at: int
    uncertainty: float


def extreme_of(
    samples: Samples,
    interval_s: float,
    width_s: float,
    largest: bool,
    code: float | None = None,
    noise: float | None = None,
) -> Extreme:
    """Largest (or smallest) median over about `width_s`, less what noise adds by being the largest of many.

    `code` is the recorder's step and `noise` the sigma from sample to sample, where they are known already; else they
    are looked for in these samples.
    The largest of N medians of one level lies above it by the mean of the largest of N normal values (Blom's
    approximation), N those medians that noise could have made the largest; that is taken off.
    """
    block = max(1, round(width_s / interval_s))
    step = resolution(samples) if code is None else code
    medians = block_medians(samples, block)
    at = int(medians.argmax() if largest else medians.argmin())
    value = float(medians[at])
    here = min(at * block + block // 2, samples.size - 1)
    own = (sample_noise(samples, step) if noise is None else noise) * (1.2533 / math.sqrt(block) if block > 2 else 1.0)
    if own > 0 and step > CODED * own:
        # Medians of few codes are codes themselves: their scatter is no noise, and what has the largest is one level.
        away = np.abs(medians[: samples.size // block] - value)
        # A few that lie a code beyond the rest are of the same level.
        few = np.sum(away < 0.25 * step) < FEW * np.sum(away < 1.25 * step)
        rivals = np.flatnonzero(away < (1.25 if few else 0.25) * step)
        pooled = samples[: samples.size // block * block].reshape(-1, block)[rivals] if rivals.size else samples[:0]
        stride = max(1, pooled.size // ENOUGH)
        value = grouped_median(pooled.ravel()[::stride], step) if pooled.size else value
        return Extreme(value, here, math.hypot(own, step / math.sqrt(12)))
    own = noise_between(medians, own) if block > 2 else own
    sign = 1.0 if largest else -1.0
    level, excess, doubt = value, 0.0, own
    for _ in range(2):
        # Round the level, once that is known nearly: round the largest itself the count hangs on how large that is.
        excess, doubt = excess_of_largest(own, int(np.count_nonzero(np.abs(medians - level) <= 3 * own)))
        level = value - sign * excess
    value = level
    return Extreme(value, here, math.hypot(doubt, step / math.sqrt(12)))


def excess_of_largest(sigma: float, rivals: int) -> tuple[float, float]:
    """How far the largest of `rivals` values of one level lies over it by noise `sigma`, and what stays in doubt."""
    if rivals <= 1:
        return 0.0, sigma
    excess = sigma * _QUANTILE((rivals - 0.375) / (rivals + 0.25))
    # Half the width in which 68 % of such largest values lie, and how far the count of rivals is known.
    spread = 0.5 * sigma * (_QUANTILE(0.8413 ** (1 / rivals)) - _QUANTILE(0.1587 ** (1 / rivals)))
    return excess, math.hypot(spread, 0.05 * excess)


def read_extreme(
    work: Work, reading_id: str, samples: Samples, lane: str, width_s: float, largest: bool, start: int = 0
) -> Extreme:
    """The largest or smallest median of a stretch that begins at sample `start`, as a reading in the lane's unit."""
    found = extreme_of(samples, work.capture.interval_s, width_s, largest)
    here = work.capture.time_s(start + found.at)
    unit = work.capture.lanes[lane].unit
    work.add(reading_id, found.value, unit, found.uncertainty, (here - width_s / 2, here + width_s / 2), lane)
    return found


def read_rise(work: Work, reading_id: str, moved: Transition, lane: str) -> None:
    """The 10 to 90 % duration of a transition as a reading in milliseconds."""
    scale = 1000 * work.capture.interval_s
    span = (work.capture.time_s(moved.at_10.index), work.capture.time_s(moved.at_90.index))
    work.add(reading_id, scale * moved.samples, "ms", scale * moved.uncertainty, span, lane)
