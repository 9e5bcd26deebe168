"""Limits from a fleet of sound parts: statistical tolerance intervals after ISO 16269-6:2014.

An interval holds at least a stated part (coverage) of all parts with a stated confidence. Of a normal sample by the
exact factors of the standard's annexes, worked out here; of any other by its least and most value, which needs no
assumption and tells less.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np

from tracebench.core.errors import BadOption

FEWEST = 5
"""Fewer captures say next to nothing of a fleet: refused."""

COVERAGE, CONFIDENCE = 0.95, 0.95
DOUBT = 0.05
"""A sample is taken as normal unless Shapiro and Wilk's test has less than this for it."""

NODES, FARTHEST = 200, 8.0
"""Of the integral over the sample's mean: beyond eight deviations nothing is left."""

Method = Literal["normal", "distribution-free"]


@dataclass(frozen=True, slots=True)
class Tolerance:
    """Both ends, what they rest on, and the coverage and confidence that they really have."""

    low: float
    high: float
    count: int
    mean: float
    sd: float
    method: Method
    coverage: float
    confidence: float

    def words(self) -> str:
        """What the limit rests on, for the place where its source stands."""
        told = f"{100 * self.coverage:.0f} % of parts with {100 * self.confidence:.0f} % confidence"
        how = "normal" if self.method == "normal" else "least and most of them"
        return f"{told} from {self.count} sound captures ({how})"


def tolerance_interval(values: Sequence[float]) -> Tolerance:
    """Two-sided interval of a sample. Raises BadOption, with what to do, under five values or where all are equal."""
    from scipy import stats  # noqa: PLC0415 - loads much, and is seldom asked

    if len(values) < FEWEST:
        raise BadOption(
            f"{len(values)} sound captures of this design tell too little of a fleet; {FEWEST} are the fewest"
        )
    mean = math.fsum(values) / len(values)
    sd = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (len(values) - 1))
    if sd == 0.0:
        raise BadOption("all captures have the very same value; a spread of parts cannot be told from them")
    if float(stats.shapiro(values).pvalue) >= DOUBT:
        reach = two_sided_factor(len(values), COVERAGE, CONFIDENCE) * sd
        return Tolerance(mean - reach, mean + reach, len(values), mean, sd, "normal", COVERAGE, CONFIDENCE)
    confidence = confidence_of_extremes(len(values), COVERAGE)
    return Tolerance(min(values), max(values), len(values), mean, sd, "distribution-free", COVERAGE, confidence)


@cache
def two_sided_factor(count: int, coverage: float, confidence: float) -> float:
    """k of mean ± k·s of a normal sample, mean and spread unknown: exact, as the standard tabulates it.

    The chance that the interval holds the coverage, over the distribution of the sample's mean, is an integral of
    chi-square tails (Odeh and Owen 1980); k is where it is the confidence.
    """
    from scipy import optimize, special  # noqa: PLC0415

    # The sample's mean in deviations off the true one, by Gauss and Legendre's nodes; either side counts alike.
    nodes, weights = np.polynomial.legendre.leggauss(NODES)
    offset = 0.5 * FARTHEST * (nodes + 1.0)
    weights = FARTHEST * weights * np.exp(-0.5 * offset**2) / math.sqrt(2.0 * math.pi)
    free, offset = count - 1, offset / math.sqrt(count)
    # How far either side of such a mean must reach to hold the coverage: it does not hang on k.
    short, far = np.zeros(NODES), offset + 12.0
    for _ in range(80):
        reach = 0.5 * (short + far)
        held = special.ndtr(offset + reach) - special.ndtr(offset - reach) < coverage
        short, far = np.where(held, reach, short), np.where(held, far, reach)

    def chance(k: float) -> float:
        return float(weights @ special.chdtrc(free, free * (far / k) ** 2))

    return float(optimize.brentq(lambda k: chance(k) - confidence, 0.1, 500.0, xtol=1e-9))


def confidence_of_extremes(count: int, coverage: float) -> float:
    """How sure it is that so much of any continuous distribution lies between the least and most of a sample."""
    return float(1.0 - count * coverage ** (count - 1) + (count - 1) * coverage**count)
