"""Bumps and dips of a bent course: what stands out of the convex hull that the course without them would be."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tracebench.core.samples import Samples

MOST_POINTS = 240


@dataclass(frozen=True, slots=True)
class Departure:
    """The largest departure from a hull: sample index, its size, and the hull's touching points on either side."""

    at: int
    size: float
    left: int
    right: int


def bulge_over(samples: Samples) -> Departure | None:
    """What stands furthest above the lower convex hull of a course, as a bump stands on a convex decay.

    A purely convex course is its own hull and has no departure but noise. None for fewer than five samples.
    """
    if samples.size < 5:
        return None
    step = max(1, -(-samples.size // MOST_POINTS))
    y = samples[::step]
    hull = _lower_hull(y)
    line = np.interp(np.arange(y.size), hull, y[hull])
    over = y - line
    at = int(np.argmax(over))
    place = int(np.searchsorted(hull, at))
    left = hull[max(0, place - 1)]
    right = hull[min(place, len(hull) - 1)]
    # The top among all samples round the thinned one.
    begin, end = max(0, (at - 1) * step), min(samples.size, (at + 1) * step + 1)
    fine = samples[begin:end] - np.interp(np.arange(begin, end) / step, hull, y[hull])
    best = begin + int(np.argmax(fine))
    return Departure(best, float(fine.max()), int(left * step), int(min(right * step, samples.size - 1)))


def against_course(samples: Samples, found: Departure) -> Departure:
    """The departure against the course that its flanks suggest, a cubic through both, in place of the hull's chord.

    A chord cuts below a bent course, so that the hull makes a bump larger or a dip's edge blunt.
    """
    gap = max(found.right - found.left, 4)
    left, right = found.left, found.right
    reach = max(8, round(0.7 * gap))
    begin, end = max(0, left - reach), min(samples.size, right + reach + 1)
    place = np.arange(begin, end)
    flank = (place <= left) | (place >= right)
    if flank.sum() < 8:
        return found
    x = (place - 0.5 * (left + right)) / gap
    course = np.polynomial.Polynomial.fit(x[flank], samples[begin:end][flank], 3)
    inside = np.arange(left, right + 1)
    over = samples[inside] - course((inside - 0.5 * (left + right)) / gap)
    at = int(np.argmax(over))
    return Departure(left + at, float(over[at]), left, right)


def _lower_hull(y: Samples) -> np.ndarray:
    """Indices of the lower convex hull of points (k, y[k]), ends included (Andrew's monotone chain)."""
    hull: list[int] = []
    values = y.tolist()
    for k, v in enumerate(values):
        while len(hull) >= 2:
            a, b = hull[-2], hull[-1]
            if (values[b] - values[a]) * (k - a) >= (v - values[a]) * (b - a):
                hull.pop()
            else:
                break
        hull.append(k)
    return np.array(hull)
