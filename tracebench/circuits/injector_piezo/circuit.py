"""Piezo injector: a positive pulse charges the stack and opens, a negative one discharges it and closes.

Limits: common practice, no published source.
"""

from __future__ import annotations

from tracebench.circuits.injector_piezo.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    OptionSpec,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.table import UNUSUAL
from tracebench.core.circuits.threshold import Threshold

LEAST_CHARGE_A = Threshold(6.0, "A", "A stack is charged with at least this (from memory)")


CIRCUIT = Circuit(
    code="injector-piezo",
    title="Injector, piezo",
    lanes=(LaneSpec("current", "Current", "current", "A", True, (-20.0, 20.0)),),
    phases=tuple(PhaseSpec(n, False) for n in ("pilot", "intermediate", "main", "post")),
    readings=(
        ReadingSpec(
            "events_count", "Events a cycle", "", "charges in an engine cycle", 0, lane="current", how="number"
        ),
        ReadingSpec("charge_a", "Charge", "A", "largest of the opening pulse", 2, "main", lane="current"),
        ReadingSpec(
            "discharge_a", "Discharge", "A", "largest of the closing pulse, negative", 2, "main", lane="current"
        ),
        ReadingSpec("start_ms", "Start", "ms", "of the main, from the first event", 3, lane="current", how="span"),
        ReadingSpec(
            "width_ms", "Width", "ms", "charge to discharge of the main", 3, "main", lane="current", how="span"
        ),
        ReadingSpec("gap_ms", "Gap", "ms", "discharge to the next charge", 3, lane="current", how="span"),
        ReadingSpec("cycle_ms", "Cycle", "ms", "first event to first event", 1, lane="current", how="span"),
    ),
    limits=(
        Limit("charge_a", LEAST_CHARGE_A, 9.0, marginal=0.8),
        Limit("events_count", 1.0, 8.0, condemns=False),
    ),
    findings=(
        FindingSpec(
            "missing_event",
            "Event missing",
            "fault",
            "driver",
            ("resistance", "swap", "wiring"),
            also=(
                "wiring",
                "stack",
            ),
        ),
        FindingSpec(
            "low_charge",
            "Charge low",
            "fault",
            "stack",
            ("resistance", "swap"),
            faked_by=("clipped", "undersampled"),
            also=("wiring",),
        ),
        FindingSpec(
            "charge_without_discharge",
            "Not discharged",
            "fault",
            "stack",
            ("resistance", "wiring"),
            faked_by=("clipped",),
            also=("driver",),
        ),
        FindingSpec("power_stage_off", "Power stage off", "fault", "stack", ("resistance", "wiring"), also=("driver",)),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("charge_a", "low", "low_charge", "charges to only {value} A where {limit} A is the least"),
    ),
    options=(
        OptionSpec("events", "Events a cycle by design", ""),
        OptionSpec("running", "Engine turning while captured", "no", ("no", "yes")),
    ),
    cautions=(shared.DIRECT, common.HIGH_PRESSURE, common.RUNNING, common.SECURE),
    causes=common.causes(
        Choice("stack", "Crystal stack: cracked, shorted or leaking to the body"), *shared.INJECTOR_CAUSES
    ),
    next_tests=common.next_tests(*shared.INJECTOR_TESTS),
    setup_advice=(
        "Clamp round one conductor, zeroed, arrow so that the opening pulse is positive",
        "500,000 samples a second or more: a charge lasts some 100 us",
        "After a failure the power stage is off: resistances only, unplugged and powered down",
    ),
    proof=Proof(events=1),
    measure=measure,
    opens_on_s=0.2,
    shortest_s=0.002,
    first_asked=("charge_a", "discharge_a", "width_ms"),
)
