"""Tops that stand for a sample or two: what may lie between the recorder's samples."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.capture import Samples

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
