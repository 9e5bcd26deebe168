"""Least-squares lines and parabolas through evenly spaced samples, in closed form.

The orthogonal polynomials of equal steps make each coefficient a sum of its own (P. G. Guest, Numerical Methods of
Curve Fitting, 1961, from memory); a general solver takes twenty times as long for the few samples of an edge.
"""

from __future__ import annotations

import math

import numpy as np

from tracebench.core.samples import Samples

_PIECE = 1 << 15


def line(samples: Samples) -> tuple[float, float]:
    """Slope and offset of the straight line through two or more samples, x their number from 0."""
    count = samples.size
    centre = 0.5 * (count - 1)
    total = first = 0.0
    base = float(samples[0])
    # In pieces that stay near the processor, and from the first sample, so that a constant row has no slope at all.
    for start in range(0, count, _PIECE):
        piece = samples[start : start + _PIECE] - base
        total += float(piece.sum())
        first += float(np.arange(start - centre, start - centre + piece.size) @ piece)
    slope = first / (count * (count**2 - 1) / 12)
    return slope, base + total / count - slope * centre


def parabola(samples: Samples, origin: float = 0.0) -> tuple[float, float, float]:
    """Bend, slope and offset of the parabola through three or more samples, x their number less `origin`."""
    count = samples.size
    centre = 0.5 * (count - 1)
    x = np.arange(count) - centre
    spread = (count**2 - 1) / 12
    slope = float(x @ samples) / (count * spread)
    bend = float((x * x - spread) @ samples) / (count * spread * (count**2 - 4) / 15)
    moved = centre - origin
    offset = float(samples.sum()) / count - slope * moved + bend * (moved**2 - spread)
    return bend, slope - 2 * bend * moved, offset


def scatter_about(samples: Samples, bend: float, slope: float, offset: float) -> float:
    """Root mean square of what samples lie off a parabola, x their number from 0."""
    x = np.arange(samples.size, dtype=np.float64)
    away = samples - ((bend * x + slope) * x + offset)
    return math.sqrt(float(away @ away) / samples.size)


def roots(bend: float, slope: float, offset: float) -> list[float]:
    """Real roots of a parabola; of a straight line where it does not bend, none where it never passes zero."""
    inner = slope * slope - 4 * bend * offset
    if inner < 0:
        return []
    # The form that does not take nearly equal numbers from each other (Numerical Recipes, 5.6, from memory).
    larger = -0.5 * (slope + math.copysign(math.sqrt(inner), slope))
    return [a / b for a, b in ((larger, bend), (offset, larger)) if b != 0]
