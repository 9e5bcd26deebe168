"""Dynamic time warping within a band (Sakoe and Chiba 1978), compiled.

A diagonal of the table depends on the two before it only, so that its cells are worked out side by side.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit, uint64
from numpy.typing import NDArray

from tracebench.core.samples import Samples

Order = NDArray[np.int64]

_CHECK = 32
"""Diagonals between two looks at whether a pair can still be the nearest."""


def distance(one: Samples, other: Samples, radius: int, at_most: float = math.inf) -> float:
    """Root of the least sum of squared differences along a path that strays at most `radius` samples.

    Both are float64, shape (n,). Infinite when it is more than `at_most`. Radius 0 is the Euclidean distance. Raises
    ValueError for rows of different or no length.
    """
    _check(one, other, radius)
    return math.sqrt(_squared(one, other[::-1].copy(), radius, at_most * at_most))


def distances(one: Samples, others: Samples, radius: int, at_most: float = math.inf) -> Samples:
    """The same to each row of `others`, shape (k, n): float64, shape (k,)."""
    _check(one, others[0] if len(others) else one, radius)
    return _to_each(one, np.ascontiguousarray(others), radius, at_most * at_most)


def path(one: Samples, other: Samples, radius: int) -> tuple[Order, Order]:
    """Samples of both that the best path pairs, from first to last."""
    _check(one, other, radius)
    first, second = _path(one, other, radius)
    return first[::-1], second[::-1]


def nearest(one: Samples, others: Samples, radius: int, most: int = 1) -> tuple[Order, Samples]:
    """The `most` nearest rows of `others`, shape (k, n), nearest first, and their distances; all of fewer."""
    _check(one, others[0] if len(others) else one, radius)
    others = np.ascontiguousarray(others)
    bounds = _beyond(others, *surroundings(one, one, radius))
    found = _nearest(one, others, np.argsort(bounds, kind="stable"), bounds, radius, min(most, len(others)))
    order = np.argsort(found, kind="stable")[:most]
    return order, np.sqrt(found[order])


def bound(query: Samples, others: Samples, radius: int) -> Samples:
    """A distance that each row's own is never below, cheaper than it (Keogh and Ratanamahatana 2005); shape (k,)."""
    low, high = surroundings(query, query, radius)
    return np.sqrt(_beyond(others, low, high))


def surroundings(low: Samples, high: Samples, radius: int) -> tuple[Samples, Samples]:
    """Least of `low` and most of `high` within `radius` samples of each place."""
    least, most = low.copy(), high.copy()
    for shift in range(1, min(radius, low.size - 1) + 1):
        np.minimum(least[shift:], low[:-shift], out=least[shift:])
        np.minimum(least[:-shift], low[shift:], out=least[:-shift])
        np.maximum(most[shift:], high[:-shift], out=most[shift:])
        np.maximum(most[:-shift], high[shift:], out=most[:-shift])
    return least, most


def _check(one: Samples, other: Samples, radius: int) -> None:
    if one.size != other.size or one.size == 0 or radius < 0:
        raise ValueError("elastic comparison needs two rows of the same length, and a radius of 0 or more")


@njit(cache=True, error_model="numpy")
def _squared(one: Samples, backward: Samples, radius: int, at_most: float) -> float:
    """`backward` is the other row from its end. Cell k of a diagonal is sample k - 1 of the first row.

    Unsigned indices, or numba would look for negative ones and never work out several cells at once.
    """
    n = one.size
    before, last, now = np.full(n + 2, np.inf), np.full(n + 2, np.inf), np.full(n + 2, np.inf)
    before[0] = 0.0
    for diagonal in range(2 * n - 1):
        low = max(0, diagonal - n + 1, (diagonal - radius + 1) // 2)
        high = min(n - 1, diagonal, (diagonal + radius) // 2)
        now[low] = np.inf
        now[high + 2] = np.inf
        shift = n - 1 - diagonal
        for k in range(low, high + 1):
            apart = one[uint64(k)] - backward[uint64(shift + k)]
            least = min(last[uint64(k + 1)], last[uint64(k)], before[uint64(k)])
            now[uint64(k + 1)] = apart * apart + least
        if diagonal == 0:
            before[0] = np.inf
        # Every path crosses one of two neighbouring diagonals.
        if diagonal % _CHECK == 0 and at_most < np.inf:
            least = np.inf
            for k in range(low, high + 2):
                least = min(least, now[k + 1], last[k])
            if least > at_most:
                return np.inf
        before, last, now = last, now, before
    total: float = last[n]
    return total if total <= at_most else np.inf


@njit(cache=True)
def _to_each(one: Samples, others: Samples, radius: int, at_most: float) -> Samples:
    out = np.empty(others.shape[0])
    for k in range(others.shape[0]):
        out[k] = math.sqrt(_squared(one, others[k, ::-1].copy(), radius, at_most))
    return out


@njit(cache=True)
def _nearest(one: Samples, others: Samples, order: Order, bounds: Samples, radius: int, most: int) -> Samples:
    """Squared distances of the `most` nearest, infinite elsewhere; rows are tried in the order of their bounds."""
    out = np.full(others.shape[0], np.inf)
    best = np.full(most, np.inf)
    for k in order:
        if bounds[k] > best[-1]:
            break
        found = _squared(one, others[k, ::-1].copy(), radius, best[-1])
        if found < best[-1]:
            out[k] = found
            best[-1] = found
            best.sort()
    return out


@njit(cache=True)
def _beyond(others: Samples, low: Samples, high: Samples) -> Samples:
    out = np.zeros(others.shape[0])
    for k in range(others.shape[0]):
        total = 0.0
        for i in range(low.size):
            value = others[k, i]
            above = value - high[i]
            below = low[i] - value
            beyond = max(above, below, 0.0)
            total += beyond * beyond
        out[k] = total
    return out


@njit(cache=True)
def _path(one: Samples, other: Samples, radius: int) -> tuple[Order, Order]:
    n = one.size
    width = 2 * radius + 3
    # Cell (i, j) stands at column j - i + radius + 1; the columns at both ends stay infinite.
    table = np.full((n + 1, width), np.inf)
    table[0, radius + 1] = 0.0
    for i in range(n):
        for j in range(max(0, i - radius), min(n, i + radius + 1)):
            column = j - i + radius + 1
            least = min(table[i, column], table[i, column + 1], table[i + 1, column - 1])
            apart = one[i] - other[j]
            table[i + 1, column] = apart * apart + least
    first, second = np.empty(2 * n, np.int64), np.empty(2 * n, np.int64)
    i, j, count = n - 1, n - 1, 0
    while True:
        first[count], second[count] = i, j
        count += 1
        if i == 0 and j == 0:
            return first[:count], second[:count]
        column = j - i + radius + 1
        straight, down, right = table[i, column], table[i, column + 1], table[i + 1, column - 1]
        if j > 0 and (i == 0 or (right < straight and right < down)):
            j -= 1
        elif i > 0 and (j == 0 or down < straight):
            i -= 1
        else:
            i -= 1
            j -= 1
