"""The corridor: a band that whole traces of sound parts stay within.

Stretches are aligned by their ends, then elastically within a narrow band, to the one nearest to all others. The
band holds all of them and some more, as much as the captures stray from what holds the others: so that it holds whole
courses at once and not each instant by itself. How much more is an order statistic: of n captures and one more, alike
and independent, the last lies inside with a probability of about n / (n + 1) (leave-one-out, as in
conformal prediction: Vovk, Gammerman and Shafer 2005; from memory).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.robust.median import median
from tracebench.core.samples import Samples
from tracebench.core.shape import elastic
from tracebench.core.shape.outline import COLUMNS, Outline

FEWEST = 5
"""Captures that a corridor is made of; fewer say next to nothing of the others."""

COVERAGE = 0.9
"""Part of the sound ones that a corridor shall hold, where there are captures enough to say so much."""

RADIUS = round(0.05 * COLUMNS)
"""Instants may shift by a twentieth of their stretch: what shifts further is a difference, not a delay."""

LEAST_PART = 0.004
"""Of the range of the course: no deviation is taken for smaller, as noise and steps of a recorder are not."""

STATED_PART = 0.05
"""Round a single capture: so much of its range, by convention of this program, not by any statistics."""

TO_SD = 1.4826
"""From a median deviation to a standard deviation (normal)."""

FACTOR = 1.5
"""The scatter at a place counts for at most so many times, and at least so small a part of, what is usual."""

LEAST_MORE = 0.5
"""Scatters that the corridor is wider than its captures at the least."""

_SMOOTH = 2

Pair = tuple[Samples, Samples]
Owners = NDArray[np.int64]


@dataclass(frozen=True, slots=True, eq=False)
class Corridor:
    """A band along `middle`, shapes (COLUMNS,). `captures` 1: from stated tolerances, and `coverage` is None.

    `inside` counts the captures that lay wholly within the corridor of the others.
    """

    name: str
    lane: str
    middle: Samples
    low: Samples
    high: Samples
    captures: int
    coverage: float | None
    inside: int


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """A corridor on another record's own columns, and which of these leave it."""

    low: Samples
    high: Samples
    outside: NDArray[np.bool_]

    @property
    def part_outside(self) -> float:
        return float(self.outside.mean())


@dataclass(frozen=True, slots=True, eq=False)
class _Aligned:
    """Courses of captures on the template's columns; `owner` tells whose each is."""

    low: Samples
    high: Samples
    owner: Owners


def corridor(captures: Sequence[Sequence[Outline]]) -> Corridor:
    """From sound captures, each with one or more sweeps of the same stretch and lane.

    Raises ValueError for fewer than `FEWEST`.
    """
    if len(captures) < FEWEST:
        raise ValueError(f"a corridor needs {FEWEST} captures; there are {len(captures)}")
    curves = [one for sweeps in captures for one in sweeps]
    owner = np.array([k for k, sweeps in enumerate(captures) for _ in sweeps])
    middles = np.array([one.middle for one in curves])
    apart = np.array([elastic.distances(row, middles, RADIUS) for row in middles])
    count = len(captures)
    covered = min(COVERAGE, (count - 1) / count)
    every = np.arange(count)
    laid: dict[tuple[int, int], Pair] = {}
    whole, template = _aligned(curves, middles, apart, owner, every, laid)
    rank = min(math.ceil(covered * (count + 1) - 1e-9), count)
    more = max(float(np.sort(_strays(whole, every))[rank - 1]), LEAST_MORE)
    # Each left out for certain, its share in the template's choice included: the band is widened until it holds.
    left = []
    for k in range(count):
        rest, rest_template = _aligned(curves, middles, apart, owner, np.delete(every, k), laid)
        around = _around(rest.low, rest.high)
        own = (_pair(curves, middles, rest_template, int(i), laid) for i in np.flatnonzero(owner == k))
        left.append(max(_beyond(pair, *around) for pair in own))
    # One more than must lie inside: without it the others' own corridors are narrower than this one.
    need = min(math.ceil(covered * count - 1e-9) + 1, count)
    more = max(more, float(np.sort(left)[need - 1]))
    low, high, low_scatter, high_scatter = _around(whole.low, whole.high)
    one = curves[template]
    inside = sum(stray <= more for stray in left)
    return Corridor(
        one.name,
        one.lane,
        one.middle,
        low - more * low_scatter,
        high + more * high_scatter,
        count,
        covered,
        int(inside),
    )


def stated(one: Outline) -> Corridor:
    """Round a single capture, from tolerances that are stated and not measured."""
    width = STATED_PART * float(one.high.max() - one.low.min())
    shift = max(1, RADIUS // 4)
    low, high = elastic.surroundings(one.low, one.high, shift)
    return Corridor(one.name, one.lane, one.middle, low - width, high + width, 1, None, 0)


def laid_on(band: Corridor, target: Outline) -> Laid:
    """The corridor along another record's course, aligned as its captures were."""
    first, second = elastic.path(band.middle, target.middle, RADIUS)
    low, high = np.full(COLUMNS, np.inf), np.full(COLUMNS, -np.inf)
    np.minimum.at(low, second, band.low[first])
    np.maximum.at(high, second, band.high[first])
    return Laid(low, high, (target.low < low) | (target.high > high))


def _aligned(
    curves: Sequence[Outline],
    middles: Samples,
    apart: Samples,
    owner: Owners,
    members: Owners,
    laid: dict[tuple[int, int], Pair],
) -> tuple[_Aligned, int]:
    """Members' courses on the template that is nearest to all of them, and which it is."""
    of = np.flatnonzero(np.isin(owner, members))
    template = int(of[np.argmin(apart[np.ix_(of, of)].sum(axis=1))])
    pairs = [_pair(curves, middles, template, int(i), laid) for i in of]
    return _Aligned(np.array([p[0] for p in pairs]), np.array([p[1] for p in pairs]), owner[of]), template


def _pair(
    curves: Sequence[Outline], middles: Samples, template: int, curve: int, laid: dict[tuple[int, int], Pair]
) -> Pair:
    """A course on a template, from those `laid` already: most captures left out leave the template as it is."""
    if (template, curve) not in laid:
        laid[template, curve] = _onto(middles[template], curves[curve])
    return laid[template, curve]


def _strays(aligned: _Aligned, members: Owners) -> list[float]:
    """How far each capture strays from what holds the others, all on one template."""
    out = []
    for k in members:
        rest, own = aligned.owner != k, np.flatnonzero(aligned.owner == k)
        around = _around(aligned.low[rest], aligned.high[rest])
        out.append(max(_beyond((aligned.low[i], aligned.high[i]), *around) for i in own))
    return out


def _onto(template: Samples, one: Outline) -> Pair:
    """A course's least and most at each of the template's columns."""
    first, second = elastic.path(template, one.middle, RADIUS)
    low, high = np.full(COLUMNS, np.inf), np.full(COLUMNS, -np.inf)
    np.minimum.at(low, first, one.low[second])
    np.maximum.at(high, first, one.high[second])
    return low, high


def _around(lows: Samples, highs: Samples) -> tuple[Samples, Samples, Samples, Samples]:
    """What holds all courses, least and most at each place, and how far they scatter there.

    The scatter is a median deviation, which one odd capture does not stretch, and never a small part or a large
    multiple of what is usual in the stretch: else a capture that stands apart on the level would widen the edges
    beyond all measure, or one place where all happen to agree would count for more than the rest.
    """
    low, high = elastic.surroundings(lows.min(axis=0), highs.max(axis=0), _SMOOTH)
    least = max(LEAST_PART * float(high.max() - low.min()), 1e-12)
    scatter = []
    for rows in (lows, highs):
        own = TO_SD * np.median(np.abs(rows - np.median(rows, axis=0)), axis=0)
        usual = max(median(own), least)
        scatter.append(np.clip(elastic.surroundings(own, own, _SMOOTH)[1], usual / FACTOR, usual * FACTOR))
    return low, high, scatter[0], scatter[1]


def _beyond(pair: Pair, low: Samples, high: Samples, low_scatter: Samples, high_scatter: Samples) -> float:
    """How far a course strays from what holds the others at its worst place, in their scatter there."""
    return max(float(((low - pair[0]) / low_scatter).max()), float(((pair[1] - high) / high_scatter).max()))
