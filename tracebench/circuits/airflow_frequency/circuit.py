"""Digital mass airflow: a square wave whose frequency rises with the air. Limits: common practice, no source."""

from __future__ import annotations

from tracebench.circuits.airflow_frequency.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.air import AIR_CAUSES, AIR_TESTS
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

CIRCUIT = Circuit(
    code="airflow-frequency",
    title="Airflow, frequency",
    lanes=(
        LaneSpec(
            "signal",
            "Airflow",
            "signal",
            "V",
            True,
            (-0.5, 14.0),
            Exam(upright=True, size=(2.5, 14.0), clip_s=0.0, code=0.5),
        ),
    ),
    phases=(
        PhaseSpec("key_on", False),
        PhaseSpec("crank", False),
        PhaseSpec("idle", True, "capture steady idle"),
        PhaseSpec("steady_2500", False),
        PhaseSpec("steady_4000", False),
        PhaseSpec("snap", False),
    ),
    under_load=("steady_2500", "steady_4000", "snap"),
    readings=(
        ReadingSpec("low_v", "Low level", "V", "level of the low state", 2),
        ReadingSpec("high_v", "High level", "V", "level of the high state", 2),
        ReadingSpec("idle_hz", "Idle frequency", "Hz", "pulses a second at idle", 0, "idle", how="number"),
        ReadingSpec("peak_hz", "Highest frequency", "Hz", "highest of five-pulse medians", 0, "snap", how="number"),
        ReadingSpec("duty_pct", "Duty", "%", "share of a period that is high", 1, how="number"),
        ReadingSpec("missing_pulses_count", "Missing pulses", "", "gaps over 1.6 local periods", 0, how="number"),
    ),
    limits=(
        Limit("low_v", None, 0.5),
        Limit("high_v", 4.5, None),
        Limit("duty_pct", 40.0, 60.0, condemns=False),
        Limit("missing_pulses_count", None, 0.0),
    ),
    findings=(
        FindingSpec(
            "missing_pulses",
            "Missing pulses",
            "fault",
            "wiring",
            common.PART,
            faked_by=("over_filtered", "undersampled", "noisy", "low_range_use"),
            also=("sensor",),
        ),
        FindingSpec(
            "low_swing",
            "Swing too low",
            "fault",
            "supply",
            common.WIRES,
            faked_by=("over_filtered", "undersampled", "clipped"),
        ),
        FindingSpec(
            "low_under_load",
            "Low under load",
            "fault",
            "contaminated",
            ("leak-test", "scan-data", "compare-part"),
            shows=(
                "snap",
                "steady_4000",
                "steady_2500",
            ),
            also=("air-leak",),
        ),
        FindingSpec(
            "no_signal",
            "No signal",
            "fault",
            "sensor",
            common.PART,
            also=(
                "wiring",
                "supply",
            ),
        ),
    ),
    limit_findings=(
        LimitFinding("low_v", "high", "low_swing", "rests low at {value} V, over {limit} V"),
        LimitFinding("high_v", "low", "low_swing", "reaches only {value} V high, under {limit} V"),
        LimitFinding("missing_pulses_count", "high", "missing_pulses", "{value} pulses are missing"),
    ),
    options=(),
    cautions=(common.RUNNING, common.SNAP, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*AIR_CAUSES, *common.SUPPLY_CAUSES),
    next_tests=common.next_tests(*AIR_TESTS),
    setup_advice=(
        "Idle and a snap in one record",
        "10 V range, ten samples a pulse: 100,000 a second for 10 kHz",
    ),
    proof=Proof(phases=("snap", "steady_4000", "steady_2500")),
    measure=measure,
)
