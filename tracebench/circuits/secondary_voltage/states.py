"""The engine's state at each firing: idle, a snap, the overrun after it, or cranking."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.events.cranking import while_cranking
from tracebench.core.circuits.events.table import EventTable
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.median import median
from tracebench.core.robust.series import joined, running_median, runs

FASTER = Threshold(0.72, "", "Part of the usual interval from which a stretch counts as a snap")

IDLE, SNAP, OVERRUN, CRANK = 0, 1, 2, 3


def conditions_of(states: NDArray[np.int64]) -> tuple[str, ...]:
    """Conditions that the states show. Without a snap, running may be at any speed; a start's run-up is no snap."""
    there = set(states.tolist())
    if CRANK in there:
        return ("cranking",)
    found = {SNAP: ("snap", "load", "idle"), OVERRUN: ("overrun",)}
    return tuple(c for state, names in found.items() if state in there for c in names)


def states_of(work: Work, table: EventTable) -> NDArray[np.int64]:
    """Engine state at each event: a snap where the user says so, else the run-up to the top of a fast stretch.

    What follows in that stretch is the overrun, which belongs to neither. Where cylinders are told, firings slower than
    any engine runs are cranking.
    """
    out = np.zeros(table.count, dtype=np.int64)
    told = [p for p in work.told.phases if p.name == "snap"]
    if told:
        for p in told:
            out[(table.from_s >= p.from_s) & (table.from_s < p.to_s)] = SNAP
        return out
    # The starter's low supply makes weak sparks.
    out[while_cranking(work, table.from_s)] = CRANK
    if table.count < 12:
        return out
    steps = np.diff(table.from_s)
    local = running_median(np.concatenate([steps[:1], steps]), 5)
    # Idle is the slowest running that lasts: in time, not in events, of which fast running has many more.
    alone = np.flatnonzero(out != CRANK)
    if alone.size < 3:
        return out
    order = alone[np.argsort(-local[alone])]
    slow = order[: 1 + int(np.searchsorted(np.cumsum(local[order]), 0.15 * float(local[alone].sum())))]
    usual = median(local[slow])
    for a, b in joined(runs((local < FASTER * usual) & (out != CRANK)), 3):
        if b - a < 4:
            continue
        fastest = a + int(np.argmin(local[a:b]))
        begin = a
        while begin > 0 and local[begin - 1] < 0.97 * local[max(0, begin - 3)]:
            begin -= 1
        out[begin : fastest + 1] = SNAP
        out[fastest + 1 : b] = OVERRUN
    return out if np.sum(out == IDLE) >= 3 else np.where(out == CRANK, CRANK, IDLE)
