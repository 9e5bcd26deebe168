"""Current of several injectors on one driver or feed. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.injector_current_group.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Circuit,
    Exam,
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

CIRCUIT = Circuit(
    code="injector-current-group",
    title="Injector current, group",
    lanes=(LaneSpec("current", "Current", "current", "A", True, (-5.0, 50.0), Exam(noise=0.25)),),
    phases=(PhaseSpec("on", False),),
    readings=(
        ReadingSpec("peak_a", "Peak", "A", "largest current of the group", 2, "on", lane="current"),
        ReadingSpec("expected_a", "Expected", "A", "injectors x current of each", 2, lane="current", how="number"),
        ReadingSpec("excess_ratio", "Peak over expected", "", "peak / expected", 2, lane="current", how="number"),
        ReadingSpec("leading_edge_fraction", "Edge", "", "part of the peak in the first 5 %", 2, "on", how="number"),
        ReadingSpec("on_ms", "On-time", "ms", "switch-on to release", 2, "on", lane="current", how="span"),
    ),
    limits=(Limit("excess_ratio", 0.7, 1.3, marginal=0.1),),
    findings=(
        FindingSpec(
            "shorted_winding",
            "A winding of the group shorted",
            "fault",
            "winding",
            shared.WINDING,
            shows=("events",),
            at_rail=True,
        ),
        FindingSpec("clamp_drift", "Clamp zero drifts", "note"),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding(
            "excess_ratio", "high", "shorted_winding", "draws {value} times what the group should, over {limit} times"
        ),
    ),
    options=(
        OptionSpec("injectors", "Injectors firing together", ""),
        OptionSpec("each_a", "Expected of each, A", "0.8"),
    ),
    cautions=(common.RUNNING, shared.FUEL, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*shared.INJECTOR_CAUSES),
    next_tests=common.next_tests(*shared.INJECTOR_TESTS),
    setup_advice=(
        "Clamp round the common feed or the driver's wire, zeroed, arrow towards the injectors",
        "Say how many fire together and what each should draw",
        "100 samples a pulse or more",
    ),
    proof=Proof(events=1),
    measure=measure,
    opens_on_s=0.2,
    first_asked=("peak_a", "on_ms"),
)
