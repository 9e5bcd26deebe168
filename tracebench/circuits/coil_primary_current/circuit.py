"""Primary current of one coil or of all on a shared feed: dwell, ramp, turn-on ripple, limit, peak.

Limits: common practice, no published source. The ripple at turn-on is the secondary's own ringing, reflected.
"""

from __future__ import annotations

from tracebench.circuits.coil_primary_current.measuring import measure
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    Mistaken,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import ignition as shared
from tracebench.core.circuits.events.attribution import (
    CYLINDERS,
    FIRING_ORDER,
)
from tracebench.core.circuits.events.table import UNUSUAL

CIRCUIT = Circuit(
    code="coil-primary-current",
    title="Coil primary current",
    lanes=(
        LaneSpec("current", "Current", "current", "A", True, (-5.0, 40.0), Exam(noise=0.25)),
        LaneSpec("sync", "Cylinder 1", "sync", "V", False, (-1.0, 16.0)),
    ),
    phases=(PhaseSpec("on", False),),
    readings=(
        ReadingSpec(
            "dwell_ms",
            "Dwell",
            "ms",
            "ramp start to release",
            2,
            "on",
            lane="current",
            how="span",
            mistaken=(Mistaken("measured to where the current is held, not to the release", less=("limit_flat_ms",)),),
        ),
        ReadingSpec("peak_a", "Peak", "A", "largest current of a firing", 2, "on", lane="current"),
        ReadingSpec("ramp", "Ramp", "A/ms", "slope from 10 to 50 % of the peak", 2, "on", lane="current", how="number"),
        ReadingSpec("turn_on_ring_count", "Turn-on rings", "", "maxima over 5 sigma", 0, "on", how="number"),
        ReadingSpec("turn_on_ring_a", "Turn-on ring", "A", "largest of them", 3, "on", how="number"),
        ReadingSpec(
            "limit_flat_ms", "At the limit", "ms", "plateau before release", 2, "on", lane="current", how="span"
        ),
        ReadingSpec("leading_edge_fraction", "Edge", "", "part of the peak in the first 5 %", 2, "on", how="number"),
        ReadingSpec("rate_hz", "Rate", "Hz", "firings a second", 2, how="number"),
        ReadingSpec("cycle_ms", "Cycle", "ms", "one engine cycle", 1, lane="current", how="span"),
    ),
    limits=(),
    findings=(
        FindingSpec(
            "turn_on_abnormal",
            "Turn-on abnormal",
            "fault",
            "secondary",
            ("spark-gap", "inspect-plug", "swap"),
            faked_by=("clipped",),
            shows=("events",),
            also=("coil",),
        ),
        FindingSpec(
            "shorted_winding",
            "Winding shorted",
            "fault",
            "coil",
            shared.COIL,
            faked_by=("undersampled",),
            shows=("events",),
            at_rail=True,
        ),
        FindingSpec(
            "missing_ramp",
            "Ramp missing",
            "fault",
            "driver",
            shared.DRIVER,
            faked_by=("noisy", "low_range_use"),
            also=(
                "wiring",
                "coil",
            ),
        ),
        FindingSpec(
            "short_dwell", "Dwell short", "fault", "driver", shared.DRIVER, shows=("events",), also=("wiring",)
        ),
        FindingSpec(
            "low_peak",
            "Peak low",
            "fault",
            "coil",
            ("supply-ground", "resistance", "wiring"),
            faked_by=("clipped",),
            shows=("events",),
            also=(
                "supply",
                "driver",
            ),
        ),
        FindingSpec("clamp_drift", "Clamp zero drifts", "note"),
        FindingSpec("sync_twice", "Two sync pulses a cycle", "note"),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("peak_a", "low", "low_peak", "peaks at only {value} A where {limit} A is the least"),
        LimitFinding("dwell_ms", "low", "short_dwell", "dwells only {value} ms where {limit} ms is the least"),
    ),
    options=(CYLINDERS, FIRING_ORDER),
    cautions=(shared.SECONDARY, shared.PRIMARY, common.RUNNING, common.SECURE),
    causes=common.causes(*shared.CAUSES),
    next_tests=common.next_tests(*shared.TESTS),
    setup_advice=(
        "Clamp round the coil's feed or the fuse of all coils, zeroed, 20 A range",
        "200,000 samples a second or more: the turn-on ripple is short",
        "Cylinder 1 on the second lane, firing order told",
    ),
    proof=Proof(events=2),
    measure=measure,
    opens_on_s=0.2,
    first_asked=("dwell_ms", "peak_a", "limit_flat_ms"),
)
