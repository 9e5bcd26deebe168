"""Low-resistance or direct injector: boosted to a first peak, then held. Limits: common practice, no source."""

from __future__ import annotations

from tracebench.circuits.injector_peak_hold.measuring import measure
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.table import UNUSUAL

CIRCUIT = Circuit(
    code="injector-peak-hold",
    title="Injector, peak and hold",
    lanes=(
        LaneSpec("current", "Current", "current", "A", True, (-5.0, 40.0), Exam(noise=0.2)),
        LaneSpec("control", "Control", "signal", "V", False, (-5.0, 100.0)),
    ),
    phases=(PhaseSpec("boost", False), PhaseSpec("hold", False)),
    readings=(
        ReadingSpec("boost_a", "Boost", "A", "first peak", 2, "boost", lane="current"),
        ReadingSpec("boost_ms", "Boost time", "ms", "start to the first peak", 3, "boost", lane="current", how="span"),
        ReadingSpec("hold_a", "Hold", "A", "level held after the boost", 2, "hold", lane="current"),
        ReadingSpec("on_ms", "On-time", "ms", "start to release", 2, lane="current", how="span"),
        ReadingSpec("ripple_hz", "Hold ripple", "Hz", "switching of the driver in the hold", 0, "hold", how="number"),
        ReadingSpec("control_v", "Control", "V", "level of the control lane", 2, lane="control"),
    ),
    limits=(),
    findings=(
        FindingSpec(
            "no_boost",
            "No boost",
            "fault",
            "driver",
            shared.DRIVER,
            faked_by=("clipped", "undersampled"),
            shows=("events",),
            also=("wiring",),
        ),
        FindingSpec(
            "no_hold",
            "No hold",
            "fault",
            "driver",
            shared.DRIVER,
            faked_by=("clipped",),
            shows=("events",),
            also=("wiring",),
        ),
        FindingSpec("short_on_time", "On-time short", "fault", "driver", shared.DRIVER, faked_by=("noisy", "clipped")),
        FindingSpec("clamp_drift", "Clamp zero drifts", "note"),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("boost_a", "low", "no_boost", "boosts to only {value} A where {limit} A is the least"),
        LimitFinding("hold_a", "low", "no_hold", "holds only {value} A where {limit} A is the least"),
        LimitFinding("on_ms", "low", "short_on_time", "on for only {value} ms where {limit} ms is the least"),
    ),
    options=(),
    cautions=(shared.DIRECT, common.RUNNING, shared.FUEL, common.SECURE),
    causes=common.causes(*shared.INJECTOR_CAUSES),
    next_tests=common.next_tests(*shared.INJECTOR_TESTS),
    setup_advice=(
        "Clamp round one conductor, zeroed, 20 A range",
        "200,000 samples a second or more: the boost lasts some tenths of a millisecond",
        "Never touch the plug of a direct injector that runs or has just run",
    ),
    proof=Proof(events=1),
    measure=measure,
    opens_on_s=0.2,
    first_asked=("boost_a", "boost_ms", "hold_a", "on_ms"),
)
