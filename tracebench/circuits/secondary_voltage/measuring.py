"""Secondary voltage: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.circuits.secondary_voltage.firings import LINE_S, Firings, burn_of, firings_of, table_of
from tracebench.circuits.secondary_voltage.judging import (
    judge,
)
from tracebench.circuits.secondary_voltage.states import CRANK, IDLE, SNAP, conditions_of, states_of
from tracebench.core.answer import Phase
from tracebench.core.circuits import probe, record_checks
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.events import injectors as coils
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    attributed,
    check_all_seen,
    unswap_sync,
)
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.spark import Burn
from tracebench.core.robust.median import median

SLOWEST_LINE_S = Threshold(
    100e-6, "s", "A firing line stands up in some tens of microseconds at the most (from memory)"
)


def measure(work: Work) -> Work:
    """Every firing, each cylinder against the others, idle and snap apart."""
    unswap_sync(work, "secondary")
    firings = firings_of(work)
    if firings is None:
        work.settle_phases([])
        probe.note_nothing(work, "secondary", "no firings: pickup, lead and engine first")
        return work
    places = attributed(work, firings.at.astype(np.float64))
    check_all_seen(work, places, "secondary")
    burns = [burn_of(work, firings, k) for k in range(firings.at.size)]
    table = table_of(work, firings, burns, places)
    states = states_of(work, table)
    work.shown = conditions_of(states)
    if np.all(states == CRANK):
        text = "fires no faster than a starter turns the engine: record idle, and all the cylinders that are told"
        work.setup("missing_phase", text, "secondary", hides=True)
    work.settle_phases(_phases(work, table, firings, burns))
    _report(work, table, states)
    coils.rate_of(work, table, states == IDLE)
    odd_cylinders.read_cycle(work, table, places)
    work.add("polarity", float(firings.sign), "", 0.0, work.whole, "secondary")
    record_checks.check_rest(work, "secondary")
    judge(work, table, places, states, burns, firings.rest.sigma)
    record_checks.check_rate(work, "a firing line of 100 us", LINE_S, "secondary")
    top = median(firings.samples[firings.at])
    record_checks.check_clipped(work, "secondary", 0.0)
    record_checks.check_capped(work, "secondary", firings.samples, firings.at)
    setup.check_range_use(work, "secondary", 0.03 * top)
    rises = [setup.passing(firings.samples, int(at), 0.0, float(firings.samples[at])) for at in firings.at[:20]]
    record_checks.check_edges(work, "secondary", median(rises), SLOWEST_LINE_S, "the firing line")
    return work


def _phases(work: Work, table: EventTable, firings: Firings, burns: list[Burn | None]) -> list[Phase]:
    interval, begin = work.capture.interval_s, work.capture.start_s
    out = []
    for k in range(min(table.count, coils.MOST_PHASES)):
        at = begin + int(firings.at[k]) * interval
        top = at + 0.05e-3
        out.append(Phase("firing", max(begin, at - 0.05e-3), top, k + 1))
        burn = burns[k]
        if burn is not None:
            over = begin + burn.stop * interval
            out.append(Phase("burn", top, max(over, top + interval), k + 1))
            out.append(Phase("ring_out", max(over, top + interval), max(over, top) + 1.5e-3, k + 1))
    end = work.whole[1]
    return [Phase(p.name, p.from_s, min(p.to_s, end), p.cycle) for p in out if p.from_s < end]


def _report(work: Work, table: EventTable, states: NDArray[np.int64]) -> None:
    """Summaries are those of idle; the snap gives its burn and its firing line."""
    table.kinds = 4 * table.cylinder + states
    table.speaks = states == IDLE
    snap = states == SNAP
    if snap.any():
        for reading_id in ("burn_ms", "firing_kv"):
            values = np.where(snap, table.values[reading_id], np.nan)
            table.put(f"snap_{reading_id}", table.units[reading_id], values, table.doubts[reading_id])
    report(work, table)
    for reading_id in ("snap_burn_ms", "snap_firing_kv"):
        if not snap.any():
            work.miss(reading_id, "no snap in this capture")
