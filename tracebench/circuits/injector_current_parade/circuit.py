"""Currents of all injectors in firing order. Each is judged against the median of the others."""

from __future__ import annotations

from tracebench.circuits.injector_current_parade.measuring import measure
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.attribution import (
    CYLINDERS,
    FIRING_ORDER,
)
from tracebench.core.circuits.events.table import UNUSUAL

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
