"""Tops that stand for a sample or two: what may lie between the recorder's samples."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from tracebench.core.samples import Samples

JUMP = 3.0
"""Up by this many times what it falls again: the rise took less than a sample, and the fall had begun before it."""

ONE_SIDED = 0.485
"""Of the most that can be lost: the normal deviation whose 95 % interval holds 95 % of a loss from nothing to that."""


def between_samples(samples: Samples, at: NDArray[np.int64]) -> NDArray[np.float64]:
    """What the sampling may have lost of tops at samples `at`, shape (n,), as one standard uncertainty each.

    The highest sample is the reading, and the top lies over it or on it, never under. A line that jumps and falls was
    highest anywhere within the sample before; falling as an exponential does, it lost by then what it falls by in the
    next, times their ratio. Of a corner between two straight lines the most that can lie between two samples is lost.
    The loss is rectangular from nothing to that (JCGM 100, 4.3.7). Noise is not in it.
    """
    inside = np.clip(at, 2, samples.size - 3)
    fallen = np.maximum(samples[inside] - samples[inside + 1], 0.0)
    risen = np.maximum(samples[inside] - samples[inside - 1], 0.0)
    before = np.maximum(samples[inside - 1] - samples[inside - 2], 0.0)
    after = np.maximum(samples[inside + 1] - samples[inside + 2], 0.0)
    ratio = np.divide(fallen, after, out=np.ones(fallen.size), where=after > 0)
    jumped = fallen * np.clip(ratio, 1.0, 2.0)
    corner = np.divide(before * after, before + after, out=np.zeros(fallen.size), where=before + after > 0)
    return np.asarray(ONE_SIDED * np.where(risen > JUMP * fallen, jumped, corner), dtype=np.float64)


RISING, FALLING = 8, 10
"""Samples to either side of a corner by which it is placed, the highest one in neither."""


class Corner(NamedTuple):
    """Where a straight rise turns into a fall: instant in samples, height, and one standard uncertainty of each."""

    at: float
    height: float
    at_doubt: float
    height_doubt: float


def corner_of(samples: Samples, top: int, sigma: float) -> Corner | None:
    """The corner at the highest sample `top`, by the line before it and the parabola after it.

    `sigma` is the noise of a sample. A fall bends, as a winding's does, where the rise to the corner is a short part of
    its own. None where there is no corner: too few samples, or courses that do not meet between the samples beside the
    top, no further over it than a corner can be.
    """
    if top < RISING or top + FALLING >= samples.size:
        return None
    up, up_slope, up_doubt = _carried(samples[top - RISING : top], -RISING, 1, sigma)
    down, down_slope, down_doubt = _carried(samples[top + 1 : top + 1 + FALLING], 1, 2, sigma)
    if up_slope <= 0 or down_slope >= 0:
        return None
    turn = up_slope - down_slope
    at = (down - up) / turn
    height = up + up_slope * at
    doubt = float(np.hypot(down_slope * up_doubt, up_slope * down_doubt)) / turn
    if abs(at) > 1.5 or height - samples[top] > -up_slope * down_slope / turn + 3 * np.hypot(sigma, doubt):
        return None
    return Corner(top + at, height, float(np.hypot(up_doubt, down_doubt)) / turn, doubt)


def _carried(part: Samples, first: int, degree: int, sigma: float) -> tuple[float, float, float]:
    """Value and slope at 0 of the polynomial through samples at `first` and after, and the value's uncertainty."""
    x = first + np.arange(part.size, dtype=np.float64)
    powers = np.vander(x, degree + 1, increasing=True)
    weights = np.linalg.pinv(powers)
    value, slope = (float(row @ part) for row in weights[:2])
    return value, slope, sigma * float(np.linalg.norm(weights[0]))
