"""Events while the starter turns the engine: slow, on a low supply, and alike only among themselves."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.events.attribution import firing_order
from tracebench.core.circuits.events.table import EventTable
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.median import median
from tracebench.core.robust.series import running_median

CRANKING_RPM = Threshold(450.0, "rpm", "Under this speed the starter turns the engine")

FEWEST = Count(12, "events", "Events that a row has before a part of it is told from the rest")

_APART = 1000
"""What is added to a cylinder's number for its kind while cranking."""


def while_cranking(work: Work, from_s: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which events, at seconds, come while the starter turns and in the first two turns after; needs the cylinders.

    A missing event makes a step longer, too: cranking lasts from the start of the record, and a few events are either
    all of cranking or none of them.
    """
    out = np.zeros(from_s.size, dtype=bool)
    count = len(firing_order(work))
    if from_s.size < 2 or not count:
        return out
    steps = np.diff(from_s)
    if from_s.size < FEWEST:
        return out | bool(120.0 / (median(steps) * count) < CRANKING_RPM)
    slow = 120.0 / (running_median(np.concatenate([steps[:1], steps]), 5) * count) < CRANKING_RPM
    begun = from_s.size if slow.all() else int(np.argmin(slow))
    # The first turns that it runs by itself are on the way up.
    out[: begun + 2 if begun else 0] = True
    return out


def set_apart(work: Work, table: EventTable) -> None:
    """Compare events of cranking with each other only, and take summaries from those of the running engine."""
    cranking = while_cranking(work, table.from_s)
    if not cranking.any() or cranking.sum() > table.count - FEWEST:
        return
    table.kinds = table.cylinder + _APART * cranking
    table.speaks = ~cranking
