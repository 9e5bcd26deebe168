"""Manifold absolute pressure, analogue, usually with the throttle beside it. Limits: common practice, no source."""

from __future__ import annotations

from tracebench.circuits.manifold_pressure.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    LEVELS_10_90,
    Choice,
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

_BREATHING = ("exhaust", "compression", "leak-test")

CIRCUIT = Circuit(
    code="manifold-pressure",
    title="Manifold pressure",
    lanes=(
        LaneSpec(
            "signal",
            "Pressure",
            "signal",
            "V",
            True,
            (0.2, 5.0),
            Exam(
                upright=True,
                size=(2.0, 5.1),
                feature=("a rise of 100 ms", 0.100),
                clip_s=0.02,
                code=0.15,
                noise=0.07,
                hum=(0.1, 0.25),
            ),
        ),
        LaneSpec("throttle", "Throttle", "signal", "V", False, (0.2, 5.0), Exam(upright=True)),
        LaneSpec("oxygen", "Oxygen", "signal", "V", False, (-0.1, 1.2)),
    ),
    phases=(
        PhaseSpec("key_on", False),
        PhaseSpec("crank", False),
        PhaseSpec("idle", True, "capture warm idle and a snap of the throttle"),
        PhaseSpec("snap", True, "capture warm idle and a snap of the throttle"),
        PhaseSpec("overrun", False),
        PhaseSpec("settle", False),
    ),
    readings=(
        ReadingSpec("key_on_v", "Key-on level", "V", "level before cranking", 3, "key_on"),
        ReadingSpec("key_on_kpa", "Barometer", "kPa", "kPa = 9.88 + 20.24 x V by default", 1, "key_on", how="number"),
        ReadingSpec("idle_v", "Idle level", "V", "level of warm idle", 3, "idle", warm=True),
        ReadingSpec(
            "idle_kpa", "Idle pressure", "kPa", "kPa = 9.88 + 20.24 x V by default", 1, "idle", how="number", warm=True
        ),
        ReadingSpec("snap_peak_v", "Snap peak", "V", "largest 20 ms median of the snap", 3, "snap"),
        ReadingSpec(
            "rise_ms",
            "Rise in the snap",
            "ms",
            "10 to 90 % from idle to the peak",
            0,
            "snap",
            how="span",
            mistaken=LEVELS_10_90,
        ),
        ReadingSpec("overrun_v", "Overrun level", "V", "lowest 20 ms median after the throttle shuts", 3, "overrun"),
        ReadingSpec(
            "throttle_follow",
            "Follows the throttle",
            "",
            "Spearman correlation in the snap",
            2,
            how="number",
            seen_in="snap",
        ),
        ReadingSpec(
            "throttle_lag_ms", "Lag", "ms", "pressure behind throttle at half travel", 0, how="span", seen_in="snap"
        ),
        ReadingSpec("dropouts_count", "Dropouts", "", "short falls off the trend outside crank", 0, how="number"),
    ),
    limits=(
        Limit("idle_v", 1.0, 2.0, condemns=False),
        Limit("idle_kpa", 30.0, 45.0, condemns=False),
        Limit("rise_ms", None, 150.0),
        Limit("throttle_follow", 0.8, None, condemns=False),
        Limit("throttle_lag_ms", None, 100.0),
        Limit("dropouts_count", None, 0.0),
    ),
    findings=(
        FindingSpec("slow_rise", "Slow rise", "fault", "breathing", _BREATHING, shows=("snap",)),
        FindingSpec("no_rise", "No rise", "fault", "breathing", _BREATHING, faked_by=("clipped",), shows=("snap",)),
        FindingSpec(
            "no_overrun_gain",
            "No gain in the overrun",
            "fault",
            "sealing",
            ("leak-test", "compression"),
            shows=("overrun",),
        ),
        FindingSpec(
            "high_idle_pressure", "High idle pressure", "fault", "sealing", ("leak-test", "timing"), shows=("idle",)
        ),
        FindingSpec(
            "baro_wrong",
            "Barometer wrong",
            "fault",
            "sensor",
            ("supply-ground", "compare-part", "look-up"),
            faked_by=("clipped",),
            shows=("key_on",),
            also=(
                "supply",
                "wiring",
            ),
        ),
        FindingSpec(
            "sensor_stuck",
            "Sensor stuck",
            "fault",
            "sensor",
            common.PART,
            also=(
                "wiring",
                "supply",
            ),
            stills=True,
        ),
        FindingSpec("dropout", "Dropout", "fault", "wiring", common.PART, also=("sensor",)),
        FindingSpec("mixture", "Mixture beside it", "note"),
    ),
    limit_findings=(
        LimitFinding("rise_ms", "high", "slow_rise", "takes {value} ms from 10 to 90 %, over {limit} ms", slowed=True),
        LimitFinding(
            "throttle_lag_ms", "high", "slow_rise", "lags the throttle by {value} ms, over {limit} ms", slowed=True
        ),
        LimitFinding("snap_peak_v", "low", "no_rise", "reaches only {value} V in the snap where {limit} V is wanted"),
        LimitFinding("idle_kpa", "high", "high_idle_pressure", "idles at {value} kPa, over {limit} kPa"),
        LimitFinding("key_on_v", "low", "baro_wrong", "reads {value} V key on, under {limit} V for the barometer"),
        LimitFinding("key_on_v", "high", "baro_wrong", "reads {value} V key on, over {limit} V for the barometer"),
        LimitFinding(
            "dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
    ),
    options=(
        OptionSpec("kpa_at_0_5_v", "kPa at 0.5 V", "20"),
        OptionSpec("kpa_at_4_7_v", "kPa at 4.7 V", "105"),
        OptionSpec("altitude_m", "Altitude, m", ""),
        OptionSpec("barometer_kpa", "Barometer of the day, kPa", ""),
    ),
    cautions=(common.RUNNING, common.SNAP, common.BACK_PROBE, common.SECURE),
    causes=common.causes(
        Choice("breathing", "Breathing: restricted exhaust, late valve or ignition timing"),
        Choice("sealing", "Sealing: vacuum leak, worn engine, throttle not closing, timing"),
        Choice("sensor", "Sensor or its hose"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("exhaust", "Measure exhaust back-pressure"),
        Choice("compression", "Compression or cylinder leakage test"),
        Choice("leak-test", "Smoke or leak test of the intake"),
        Choice("timing", "Check valve and ignition timing"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Key on, crank, warm idle, snap and hold for a moment, release",
        "5 V inside a 10 V range, 10 to 20 s, 1,000 samples a second or more",
        "Throttle on a second lane",
    ),
    proof=Proof(phases=("snap",)),
    measure=measure,
    shortest_s=1.0,
)
