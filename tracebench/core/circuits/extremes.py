"""Largest and smallest values as they would be without noise, and rises, as readings."""

from __future__ import annotations

from statistics import NormalDist
from typing import NamedTuple

import numpy as np

from tracebench.core.circuits.work import Work
from tracebench.core.measure.transitions import Transition
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.noise import grouped_medians, noise_between, sample_noise
from tracebench.core.samples import Samples

_QUANTILE = NormalDist().inv_cdf


class Extreme(NamedTuple):
    """A largest or smallest value, the sample where it is, and its standard uncertainty."""

    value: float
    at: int
    uncertainty: float


def extreme_of(
    samples: Samples, interval_s: float, width_s: float, largest: bool, code: float | None = None
) -> Extreme:
    """Largest (or smallest) median over about `width_s`, less what noise adds by being the largest of many.

    `code` is the recorder's step where it is known already; else it is looked for in these samples.
    The largest of N medians of one level lies above it by the mean of the largest of N normal values (Blom's
    approximation), N those medians that noise could have made the largest; that is taken off.
    """
    block = max(1, round(width_s / interval_s))
    step = resolution(samples) if code is None else code
    medians = grouped_medians(samples, block, step)
    at = int(np.argmax(medians) if largest else np.argmin(medians))
    value = float(medians[at])
    own = sample_noise(samples, step) * (1.2533 / np.sqrt(block) if block > 2 else 1.0)
    own = noise_between(medians, own) if block > 2 else own
    excess, doubt = excess_of_largest(own, int(np.sum(np.abs(medians - value) <= 3 * own)))
    value -= excess if largest else -excess
    doubt = float(np.hypot(doubt, step / np.sqrt(12)))
    return Extreme(value, min(at * block + block // 2, samples.size - 1), doubt)


def excess_of_largest(sigma: float, rivals: int) -> tuple[float, float]:
    """How far the largest of `rivals` values of one level lies over it by noise `sigma`, and what stays in doubt."""
    if rivals <= 1:
        return 0.0, sigma
    excess = sigma * _QUANTILE((rivals - 0.375) / (rivals + 0.25))
    # Half the width in which 68 % of such largest values lie, and how far the count of rivals is known.
    spread = 0.5 * sigma * (_QUANTILE(0.8413 ** (1 / rivals)) - _QUANTILE(0.1587 ** (1 / rivals)))
    return excess, float(np.hypot(spread, 0.05 * excess))


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
