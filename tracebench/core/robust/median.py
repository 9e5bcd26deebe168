"""Medians and percentiles of long rows of samples, several times as fast as the usual libraries find them.

Rows of some hundred or thousand samples are sorted whole, which numpy does many samples at a time; in longer ones a
single place is put right, and the neighbour above it is the least of those that lie behind. What is not a number is
sorted behind all others.
"""

from __future__ import annotations

import math
from functools import lru_cache

import bottleneck as bn
import numpy as np
from numpy.typing import ArrayLike

from tracebench.core.samples import Samples

SHORT = 1000
"""Shorter rows are left to bottleneck, which starts faster."""

SORTED = 4096
"""Shorter rows than this are sorted."""

LONG = 32_768
"""In longer rows coarse codes are counted."""

_FEW = 2048
_ASIDE = 0.03
_MOST_CODES = 3
"""Samples that tell which code a place has, the part of them on either side that may have it, codes worth counting."""

NARROW, WIDE = 12, 512
"""Tables of fewer columns are sorted by columns, of more and up to so many by rows."""


def median(samples: ArrayLike) -> float:
    """The median of all samples of a row or table, the mean of the two in the middle of an even count.

    NaN of none, or where one is NaN.
    """
    row = np.asarray(samples)
    size = row.size
    if size < SHORT:
        return float(bn.median(row))
    low, high = _neighbours(row.ravel(), (size - 1) // 2)
    return low if size % 2 else 0.5 * (low + high)


def percentile(samples: ArrayLike, share: float) -> float:
    """The value under which `share` percent of all samples lie, interpolated as numpy does it; NaN where one is."""
    row = np.asarray(samples).ravel()
    place = share / 100.0 * (row.size - 1)
    below = int(place)
    part = place - below
    low, high = _neighbours(row, below)
    if part == 0:
        return low
    # From the nearer of the two, as numpy.percentile does it, so that the last bit is the same.
    return low + (high - low) * part if part < 0.5 else high - (high - low) * (1.0 - part)


def _neighbours(row: Samples, place: int) -> tuple[float, float]:
    """The values at a place of the sorted row and at the one after it, twice the same at its end; NaN where one is."""
    if row.size < SORTED:
        return neighbours(np.sort(row), place)
    found = _counted(row, place) if row.size >= LONG else None
    return found or _parted(row, place)


def neighbours(ordered: Samples, place: int) -> tuple[float, float]:
    """The same of a row that is sorted already."""
    if math.isnan(ordered[-1]):
        return math.nan, math.nan
    return float(ordered[place]), float(ordered[min(place + 1, ordered.size - 1)])


def _counted(row: Samples, place: int) -> tuple[float, float] | None:
    """The same of a row of coarse codes: a few samples tell which code it is, and counting proves it; None if not."""
    few = np.sort(row[:: row.size // _FEW])
    at, aside = place * few.size // row.size, int(_ASIDE * few.size)
    codes = np.unique(few[max(0, at - aside) : at + aside + 1])
    if codes.size > _MOST_CODES:
        return None
    counts = [int(np.count_nonzero(row == code)) for code in codes]
    below = int(np.count_nonzero(row < codes[0]))
    # One that is not a number, or another code among these, is missing from the sum.
    if below + sum(counts) + np.count_nonzero(row > codes[-1]) != row.size:
        return None
    ends = below + np.cumsum(counts)
    if not (below <= place and place + 1 < ends[-1]):
        return None
    return float(codes[np.searchsorted(ends, place, "right")]), float(codes[np.searchsorted(ends, place + 1, "right")])


def _parted(row: Samples, place: int) -> tuple[float, float]:
    parted = np.partition(row, place)
    value, above = float(parted[place]), parted[place + 1 :]
    if math.isnan(value) or (above.size and np.isnan(above.max())):
        return math.nan, math.nan
    return value, float(above.min()) if above.size else value


def percentiles(samples: ArrayLike, *shares: float) -> tuple[float, ...]:
    """Several percentiles of the same samples, in the order asked for."""
    return tuple(percentile(samples, share) for share in shares)


def percentile_span(samples: ArrayLike, low: float, high: float) -> float:
    """How far apart two percentiles of the same samples lie."""
    return percentile(samples, high) - percentile(samples, low)


def medians(rows: Samples) -> Samples:
    """The median of each row of a table, shape (rows,), dtype kept; NaN where a row has one."""
    width = rows.shape[1]
    if width < NARROW:
        return _by_network(rows)
    half = width // 2
    ordered = np.sort(rows, axis=1) if width <= WIDE else np.partition(rows, half, axis=1)
    below = ordered[:, half - 1] if width <= WIDE else ordered[:, :half].max(axis=1)
    found = ordered[:, half] if width % 2 else 0.5 * (below + ordered[:, half])
    highest = ordered[:, -1] if width <= WIDE else ordered[:, half:].max(axis=1)
    return np.where(np.isnan(highest), np.nan, found)


def _by_network(rows: Samples) -> Samples:
    """Of narrow rows: all of them are sorted together, a comparison of two columns at a time."""
    width = rows.shape[1]
    wires = list(np.ascontiguousarray(rows.T))
    for a, b in _comparisons(width):
        wires[a], wires[b] = np.minimum(wires[a], wires[b]), np.maximum(wires[a], wires[b])
    middle = wires[width // 2]
    return np.asarray(middle if width % 2 else 0.5 * (wires[width // 2 - 1] + middle))


@lru_cache(maxsize=NARROW)
def _comparisons(width: int) -> tuple[tuple[int, int], ...]:
    """Pairs of places whose order is put right one after the other, so that the middle ones end up right.

    Batcher's merge exchange (D. E. Knuth, The Art of Computer Programming 3, algorithm 5.2.2M), without the comparisons
    that nothing in the middle depends on.
    """
    pairs: list[tuple[int, int]] = []
    top = 1 << max(0, (width - 1).bit_length() - 1)
    p = top
    while p > 0:
        q, r, d = top, 0, p
        while d > 0:
            pairs += [(i, i + d) for i in range(width - d) if i & p == r]
            d, q, r = q - p, q >> 1, p
        p >>= 1
    wanted, kept = {width // 2, (width - 1) // 2}, []
    for a, b in reversed(pairs):
        if a in wanted or b in wanted:
            wanted |= {a, b}
            kept.append((a, b))
    return tuple(reversed(kept))
