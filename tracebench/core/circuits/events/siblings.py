"""Each cylinder against the others, and each event against its kind: robust centres and distances from them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Count
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import MAD_TO_SIGMA
from tracebench.core.robust.series import running_median

ROW = Count(15, "events", "Values about one that tell what the whole row does: a cycle or two, of which most are sound")


@dataclass(frozen=True, slots=True)
class Odd:
    """A cylinder against the others: its value, their median, and how many of their spreads it stands apart."""

    cylinder: int
    value: float
    others: float
    apart: float

    @property
    def ratio(self) -> float:
        return self.value / self.others if self.others else float("inf")


def against_others(values: Mapping[int, float], least_spread: float) -> list[Odd]:
    """Every cylinder against the median of the others.

    The spread is 1.4826 MAD of the others, at least `least_spread` (in the values' unit) so that siblings that agree to
    the last digit do not make a stranger of one that differs by nothing. Empty for fewer than two cylinders.
    """
    out = []
    for cylinder, value in values.items():
        others = np.array([v for c, v in values.items() if c != cylinder])
        if others.size == 0:
            continue
        middle = median(others)
        spread = max(MAD_TO_SIGMA * median(np.abs(others - middle)), least_spread)
        out.append(Odd(cylinder, value, middle, (value - middle) / spread if spread else 0.0))
    return out


def without_common_course(values: NDArray[np.float64], groups: NDArray[np.int64]) -> NDArray[np.float64]:
    """Values less what the whole row does about each of them, as with a battery that recovers or an engine that slows.

    The course is the running median, over `ROW` values of all groups, of each value's part of its group's median, so
    that a few that stand alone do not move it. NaN stays NaN.
    """
    middles = np.full(values.size, np.nan)
    for group in np.unique(groups):
        inside = (groups == group) & np.isfinite(values)
        if inside.any():
            middles[inside] = median(values[inside])
    given = np.flatnonzero(np.isfinite(middles) & (middles != 0))
    out = values.copy()
    if given.size >= ROW:
        out[given] -= middles[given] * running_median(values[given] / middles[given] - 1, ROW)
    return out


def distances(
    values: NDArray[np.float64], groups: NDArray[np.int64], least_part: float, least: float
) -> NDArray[np.float64]:
    """How many spreads each value lies from the median of its group, shape (n,); 0 where it is NaN.

    The spread is 1.4826 MAD of the group, at least `least_part` of its median and `least` in the values' unit.
    """
    out = np.zeros(values.size)
    for group in np.unique(groups):
        inside = np.flatnonzero((groups == group) & np.isfinite(values))
        if inside.size < 3:
            continue
        part = values[inside]
        middle = median(part)
        spread = MAD_TO_SIGMA * median(np.abs(part - middle))
        spread = max(spread, least_part * abs(middle), least, 1e-12)
        out[inside] = np.abs(part - middle) / spread
    return out
