"""Currents of all injectors in firing order. Each is judged against the median of the others."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits.circuit import (
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import current as pulses
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    CYLINDERS,
    FIRING_ORDER,
    Places,
    attributed,
    check_all_seen,
    unswap_sync,
)
from tracebench.core.circuits.events.cranking import set_apart
from tracebench.core.circuits.events.table import UNUSUAL, EventTable, report
from tracebench.core.circuits.kinds import common
from tracebench.core.circuits.kinds.injectors import shared
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


CIRCUIT = Circuit(
    code="injector-current-parade",
    title="Injector currents, all in order",
    lanes=(
        LaneSpec("current", "Current", "current", "A", True, (-5.0, 40.0), Exam(noise=0.07)),
        LaneSpec("sync", "Cylinder 1", "sync", "V", False, (-1.0, 16.0)),
    ),
    phases=(PhaseSpec("on", False),),
    readings=(
        ReadingSpec("peak_a", "Peak", "A", "largest current, by cylinder", 2, "on", lane="current"),
        ReadingSpec("on_ms", "On-time", "ms", "switch-on to release, by cylinder", 2, "on", lane="current", how="span"),
        ReadingSpec("leading_edge_fraction", "Edge", "", "part of the peak in the first 5 %", 2, "on", how="number"),
        ReadingSpec("cycle_ms", "Cycle", "ms", "one engine cycle", 1, lane="current", how="span"),
    ),
    limits=(),
    findings=(
        FindingSpec(
            "shorted_winding", "Winding shorted", "fault", "winding", shared.WINDING, shows=("events",), at_rail=True
        ),
        FindingSpec(
            "missing_pulse",
            "Pulse missing",
            "fault",
            "driver",
            shared.NOTHING,
            also=(
                "wiring",
                "winding",
            ),
        ),
        FindingSpec(
            "weak_current",
            "Current weak",
            "fault",
            "winding",
            ("resistance", "wiring", "driver-ground"),
            faked_by=("clipped", "undersampled"),
            shows=("events",),
            also=("wiring",),
        ),
        FindingSpec("clamp_drift", "Clamp zero drifts", "note"),
        FindingSpec("sync_twice", "Two sync pulses a cycle", "note"),
        UNUSUAL,
    ),
    limit_findings=(),
    options=(CYLINDERS, FIRING_ORDER),
    cautions=(common.RUNNING, shared.FUEL, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*shared.INJECTOR_CAUSES),
    next_tests=common.next_tests(*shared.INJECTOR_TESTS),
    setup_advice=(
        "Clamp round the common feed of all injectors, zeroed",
        "Cylinder 1's trigger on the second lane, and the firing order told",
        "One engine cycle or more: 0.2 s at idle; 100,000 samples a second",
    ),
    proof=Proof(events=2),
    measure=measure,
    opens_on_s=0.2,
    first_asked=("peak_a", "on_ms", "cycle_ms"),
)
