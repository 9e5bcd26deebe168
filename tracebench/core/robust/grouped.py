"""Medians of grouped data: samples that stand for codes of a recorder, interpolated inside the middle code.

Where noise stirs only a few codes the plain median sticks to one of them; the interpolated median of grouped data (a
textbook formula) does not. Equal samples give their own value.
"""

from __future__ import annotations

import numpy as np

from tracebench.core.robust.median import SORTED, median, medians, neighbours
from tracebench.core.samples import Samples

_ONE_CODE = 0.25
"""Part of a step that tells a code from its neighbours, and from a middle that lies between two of them."""

_NEARLY_ALL = 0.9
"""With more of the samples in one code the others are strays, not neighbours."""


def grouped_median(samples: Samples, step: float) -> float:
    """Median of samples that stand for codes `step` wide; the plain one where `step` is 0."""
    if step == 0:
        return median(samples)
    reach, size = _ONE_CODE * step, samples.size
    if 0 < size < SORTED:
        ordered = np.sort(samples)
        low, high = neighbours(ordered, (size - 1) // 2)
        middle = low if size % 2 else 0.5 * (low + high)
        below, upto = ordered.searchsorted(middle - reach), ordered.searchsorted(middle + reach, "right")
    else:
        middle = median(samples)
        below, upto = np.count_nonzero(samples < middle - reach), np.count_nonzero(samples <= middle + reach)
    within = int(upto) - int(below)
    if within == 0 or within > _NEARLY_ALL * size:
        return middle
    return middle - 0.5 * step + step * (size / 2 - int(below)) / within


def grouped_medians(rows: Samples, step: float) -> Samples:
    """The same of each row of a table, shape (rows,)."""
    middles, size = medians(rows), rows.shape[1]
    if step == 0:
        return middles
    reach = _ONE_CODE * step
    below = np.count_nonzero(rows < (middles - reach)[:, np.newaxis], axis=1)
    within = np.count_nonzero(rows <= (middles + reach)[:, np.newaxis], axis=1) - below
    neighbours_there = (within > 0) & (within <= _NEARLY_ALL * size)
    inside = middles - 0.5 * step + step * (size / 2 - below) / np.maximum(within, 1)
    return np.where(neighbours_there, inside, middles)
