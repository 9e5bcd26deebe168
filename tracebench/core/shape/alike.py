"""Which of many outlines look like a stretch of trace: shape alone, whatever its height and size."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from tracebench.core.errors import BadOption
from tracebench.core.samples import Samples
from tracebench.core.shape import elastic
from tracebench.core.shape.outline import COLUMNS, Outline

FEWEST_COLUMNS = 8
"""Of a phase, so many must lie in the stretch, or there is no shape left to compare."""

FLAT_PART = 0.02
"""A stretch whose rise and fall is less than so much of its whole phase's range is flat."""

AT_ONCE = 32
"""Courses compared between two looks at whether the rest can still be among the nearest."""

SLACK = 0.1
"""Instants may shift by so much of the stretch."""


def part_of(whole: Outline, from_s: float, to_s: float) -> slice:
    """The columns of a phase that lie between two instants. Raises BadOption where these are too few."""
    span = whole.to_s - whole.from_s
    first, last = (float(np.clip(COLUMNS * ((at - whole.from_s) / span), 0, COLUMNS)) for at in (from_s, to_s))
    part = slice(math.floor(first), math.ceil(last))
    if part.stop - part.start < FEWEST_COLUMNS:
        raise BadOption(
            f"{whole.name}: mark at least {FEWEST_COLUMNS * span / COLUMNS:.3g} s of it to look for its shape"
        )
    return part


def apart(asked: Outline, others: Samples, part: slice, most: int = 0) -> Samples:
    """How far each of the others is from the same part of a stretch, 0 for one of the very same shape; shape (k,).

    `others` are the low and the high of their outlines, shape (k, 2, COLUMNS).

    The root mean square difference, both sides of a column compared, in standard deviations of the course, each brought
    to mean 0 and standard deviation 1 and warped within `SLACK`. Infinite for flat ones and, where only the `most`
    nearest are wanted, for those that cannot be among them. Raises BadOption where the stretch itself is flat.
    """
    mine, known = _shapes(np.array([[asked.low, asked.high]]), part)
    if not known.any():
        raise BadOption("this stretch is flat: there is no shape to look for; mark one that rises or falls")
    out = np.full(len(others), np.inf)
    if not len(others):
        return out
    width = part.stop - part.start
    radius = max(1, round(SLACK * width))
    shapes, known = _shapes(others, part)
    places = np.flatnonzero(known)
    least = np.hypot(*(elastic.bound(mine[0, side], shapes[places, side], radius) for side in (0, 1)))
    in_order = places[np.argsort(least, kind="stable")]
    least = np.sort(least)
    for start in range(0, in_order.size, AT_ONCE):
        best = np.partition(out, most - 1)[most - 1] if most and start >= most else np.inf
        if least[start] > best:
            break
        these = in_order[start : start + AT_ONCE]
        sides = (elastic.distances(mine[0, side], shapes[these, side], radius, best) for side in (0, 1))
        out[these] = np.hypot(*sides)
    found: Samples = out / np.sqrt(2 * width)
    return found


def _shapes(whole: Samples, part: slice) -> tuple[Samples, NDArray[np.bool_]]:
    """Both sides of each stretch at mean 0 and deviation 1, shape (k, 2, width), and which are not flat."""
    shapes = whole[:, :, part].copy()
    known = np.ptp(shapes, axis=(1, 2)) > FLAT_PART * np.ptp(whole, axis=(1, 2))
    shapes -= shapes.mean(axis=(1, 2), keepdims=True)
    shapes[known] /= shapes[known].std(axis=(1, 2), keepdims=True)
    return shapes, known
