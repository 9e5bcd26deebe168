"""Injector currents, all in order: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits.events import current as pulses
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    Places,
    attributed,
    check_all_seen,
    unswap_sync,
)
from tracebench.core.circuits.events.cranking import set_apart
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.median import median

WEAK = Threshold(0.78, "", "Part of the others' peak under which an injector is called weak (from memory)")
STRONG = Threshold(1.45, "", "Part of the others' peak over which its winding is called shorted (from memory)")


def measure(work: Work) -> Work:
    """Peak, on-time and leading edge of each injector, and which of them is the odd one."""
    unswap_sync(work, "current")
    current = pulses.current_of(work, "current", 0.3, 30.0)
    if current is not None:
        shapes = pulses.shapes_of(current)
        places = attributed(work, np.array([s.start for s in shapes]))
        check_all_seen(work, places, "current")
        table = shared.table_of(work, "current", shapes, places)
        set_apart(work, table)
        shared.put_times(work, table, shapes)
        shared.put_peaks(work, table, shapes)
        edges = np.array([pulses.leading_edge(current, s) for s in shapes])
        table.put("leading_edge_fraction", "", edges, current.rest.sigma / np.array([s.peak for s in shapes]))
        work.settle_phases(shared.on_phases(table))
        report(work, table)
        odd_cylinders.read_cycle(work, table, places)
        _judge(work, table, places)
        pulses.check_pulse_setup(work, "current", current, shapes)
    return work


def _judge(work: Work, table: EventTable, places: Places) -> None:
    odd_cylinders.note_missing_events(work, table, places, "missing_pulse", "its pulse is")
    short: set[int] = set()
    for cylinder, edge in table.of_cylinders("leading_edge_fraction").items():
        if edge > pulses.UPRIGHT:
            short.add(cylinder)
            who = odd_cylinders.name(cylinder, places.by_sync)
            text = f"{who} rises upright: {100 * edge:.0f} % of its peak at once"
            work.fault("shorted_winding", text, table.first_of(cylinder), "current", edge, "", cylinder)
    if not table.cylinders and median(table.values["leading_edge_fraction"]) > pulses.UPRIGHT:
        work.fault("shorted_winding", "every pulse rises upright", None, "current")
    for odd in odd_cylinders.odd_ones(table, "peak_a", below=WEAK, above=STRONG):
        who, place = odd_cylinders.name(odd.cylinder, places.by_sync), table.first_of(odd.cylinder)
        text = f"{who} peaks at {odd.value:.2f} A where the others reach {odd.others:.2f} A ({odd.apart:+.0f} spreads)"
        if odd.ratio < 1:
            work.fault("weak_current", text, place, "current", odd.value, "A", odd.cylinder)
        elif odd.cylinder not in short:
            work.fault("shorted_winding", text, place, "current", odd.value, "A", odd.cylinder)
