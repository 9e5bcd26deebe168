"""How near to its place something pointed at must be."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.robust.median import median

RECORD_PART = 0.02
"""Part of the record by which a stretch may miss its place: what a hand does on a screen that shows the whole of it."""

PITCH_PART = 0.25
"""Part of the distance between two events, where that is less: beyond it the neighbour is meant."""


def slack_of(measured: Answer, among_events: bool = True) -> float:
    """Seconds by which a peg or stretch may lie beside its place; `among_events` where a neighbour would be another."""
    whole = RECORD_PART * measured.duration_s
    if not among_events:
        return whole
    starts = sorted({e.from_s for e in measured.events})
    if len(starts) < 2:
        return whole
    return min(whole, PITCH_PART * median(np.diff(starts)))
