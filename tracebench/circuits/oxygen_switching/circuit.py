"""Zirconia oxygen sensor, narrow band: it switches about 0.45 V. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.oxygen_switching.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.threshold import Count

SWITCHES = Count(4, "changes", "A lane in thousandths still switches; one that lies low is lean (from memory)")


_MIXTURE = ("fuel-trim", "leak-test", "fuel-pressure")

CIRCUIT = Circuit(
    code="oxygen-switching",
    title="Oxygen, switching",
    lanes=(
        LaneSpec(
            "signal",
            "Oxygen",
            "signal",
            "V",
            True,
            (-0.2, 1.2),
            Exam(
                upright=True,
                size=(0.5, 1.1),
                repeats=SWITCHES,
                feature=("a transition of 100 ms", 0.100),
                clip_s=0.05,
                code=0.05,
            ),
        ),
        LaneSpec("throttle", "Throttle", "signal", "V", False, (0.2, 5.0)),
        LaneSpec("airflow", "Airflow", "signal", "V", False, (0.0, 5.0)),
    ),
    phases=(
        PhaseSpec("warm_up", False),
        PhaseSpec("steady", True, "capture steady running at 2,500 with the sensor hot"),
        PhaseSpec("snap", False),
        PhaseSpec("overrun", False),
    ),
    readings=(
        ReadingSpec("min_v", "Lowest", "V", "median of the lowest of each cycle", 2, "steady"),
        ReadingSpec("max_v", "Highest", "V", "median of the highest of each cycle", 2, "steady"),
        ReadingSpec("mean_v", "Mean", "V", "mean over whole cycles", 2, "steady", how="number"),
        ReadingSpec(
            "crossings_hz",
            "Switching rate",
            "Hz",
            "full cycles a second through 0.45 V",
            2,
            how="number",
            seen_in="steady",
        ),
        ReadingSpec("rise_ms", "Rise", "ms", "median from 0.3 to 0.6 V", 0, "steady", how="span"),
        ReadingSpec("fall_ms", "Fall", "ms", "median from 0.6 to 0.3 V", 0, "steady", how="span"),
        ReadingSpec("snap_rich_v", "Rich in the snap", "V", "level held in the snap", 2, "snap"),
        ReadingSpec("overrun_v", "Overrun level", "V", "level in the overrun", 2, "overrun"),
    ),
    limits=(
        Limit("min_v", None, 0.2, marginal=0.05, condemns=False),
        Limit("max_v", 0.8, 0.9, marginal=0.06, condemns=False),
        Limit("mean_v", 0.4, 0.5, marginal=0.06),
        Limit("crossings_hz", 0.5, 5.0, condemns=False),
        Limit("rise_ms", None, 100.0),
        Limit("fall_ms", None, 100.0),
        Limit("snap_rich_v", 0.8, 0.95, marginal=0.08, condemns=False),
        Limit("overrun_v", None, 0.15, marginal=0.05),
    ),
    findings=(
        FindingSpec(
            "lazy",
            "Lazy",
            "fault",
            "sensor",
            ("exhaust-leak", "compare-part"),
            as_first=("force-mixture",),
            faked_by=("undersampled",),
            shows=("steady",),
        ),
        FindingSpec(
            "biased_rich", "Biased rich", "fault", "mixture", _MIXTURE, shows=("steady",), also=("sensor",), stills=True
        ),
        FindingSpec(
            "biased_lean",
            "Biased lean",
            "fault",
            "mixture",
            _MIXTURE,
            faked_by=("clipped",),
            shows=("steady",),
            also=(
                "sensor",
                "exhaust",
            ),
            stills=True,
        ),
        FindingSpec(
            "stuck",
            "Stuck",
            "fault",
            "sensor",
            ("force-mixture", "compare-part", "wiring"),
            also=("wiring",),
            stills=True,
        ),
        FindingSpec(
            "no_overrun_drop",
            "No drop in the overrun",
            "fault",
            "sensor",
            ("force-mixture", "compare-part"),
            shows=("overrun",),
            also=("mixture",),
        ),
        FindingSpec(
            "contaminated_low_swing",
            "Low swing",
            "fault",
            "sensor",
            ("force-mixture", "compare-part"),
            faked_by=("clipped", "over_filtered", "low_range_use", "noisy"),
            shows=("steady",),
        ),
    ),
    limit_findings=(
        LimitFinding("rise_ms", "high", "lazy", "takes {value} ms from 0.3 to 0.6 V, over {limit} ms", slowed=True),
        LimitFinding("fall_ms", "high", "lazy", "takes {value} ms from 0.6 to 0.3 V, over {limit} ms", slowed=True),
        LimitFinding("crossings_hz", "low", "lazy", "switches at {value} Hz, under {limit} Hz"),
        LimitFinding("mean_v", "high", "biased_rich", "its mean of {value} V lies over {limit} V"),
        LimitFinding("mean_v", "low", "biased_lean", "its mean of {value} V lies under {limit} V"),
        LimitFinding("overrun_v", "high", "no_overrun_drop", "falls only to {value} V in the overrun"),
    ),
    options=(),
    cautions=(common.RUNNING, common.SNAP, common.HOT, common.SECURE),
    causes=common.causes(
        Choice("sensor", "Sensor aged, contaminated or cold"),
        Choice("mixture", "The mixture itself: leak, fuel pressure, injector, airflow sensor"),
        Choice("exhaust", "Air leak in the exhaust before the sensor"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("force-mixture", "Force rich, then lean, and watch the answer"),
        Choice("fuel-trim", "Look at fuel trims and fuel pressure"),
        Choice("fuel-pressure", "Measure fuel pressure and flow"),
        Choice("leak-test", "Smoke or leak test of the intake"),
        Choice("exhaust-leak", "Look for an exhaust leak before the sensor"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Sensor hot, steady 2,500 for 10 s, then a snap and an overrun",
        "1 V inside a 2 V range, 200 samples a second or more",
        "High-impedance input; sensor's own ground",
    ),
    proof=Proof(phases=("steady", "snap"), steady_s=3.0),
    measure=measure,
    shortest_s=2.0,
)
