"""Common-rail fuel pressure sensor of a diesel. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.rail_pressure.measuring import measure
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
    Mistaken,
    PhaseSpec,
    Proof,
    ReadingSpec,
)

_FUEL = ("fuel-supply", "leak-back", "regulator")

CIRCUIT = Circuit(
    code="rail-pressure",
    title="Rail pressure",
    lanes=(
        LaneSpec(
            "signal",
            "Rail pressure",
            "signal",
            "V",
            True,
            (0.2, 5.0),
            Exam(
                upright=True,
                size=(1.0, 5.1),
                feature=("a build-up of 200 ms", 0.200),
                clip_s=0.02,
                code=0.1,
                noise=0.12,
                hum=(0.1, 0.25),
            ),
        ),
    ),
    phases=(
        PhaseSpec("key_on", False),
        PhaseSpec("crank", False),
        PhaseSpec("idle", True, "capture idle and an acceleration"),
        PhaseSpec("accelerate", True, "capture idle and an acceleration"),
        PhaseSpec("idle_after", False),
        PhaseSpec("stop", False),
    ),
    readings=(
        ReadingSpec("key_on_v", "Key-on level", "V", "level before cranking", 3, "key_on"),
        ReadingSpec("crank_peak_v", "Cranking peak", "V", "largest 20 ms median while cranking", 2, "crank"),
        ReadingSpec("build_ms", "Build-up", "ms", "start of crank to 90 % of the idle level", 0, "crank", how="span"),
        ReadingSpec("idle_v", "Idle level", "V", "level of the idle before the acceleration", 3, "idle"),
        ReadingSpec("peak_v", "Peak", "V", "largest 20 ms median of the acceleration", 2, "accelerate"),
        ReadingSpec(
            "rise_ms",
            "Rise",
            "ms",
            "10 to 90 % from idle to the peak",
            0,
            "accelerate",
            how="span",
            mistaken=LEVELS_10_90,
        ),
        ReadingSpec(
            "idle_ripple_mv",
            "Idle ripple",
            "mV",
            "5th to 95th percentile, trend removed",
            0,
            how="number",
            seen_in="idle",
        ),
        ReadingSpec(
            "stop_decay_s",
            "Decay after stop",
            "s",
            "stop to 37 % of the way down",
            2,
            "stop",
            how="span",
            # Of an exponential: ln 10 and ln 2 of its time constant.
            mistaken=(
                Mistaken("measured on to the last tenth, not to 37 %", 2.303),
                Mistaken("measured to the half of the way, not to 37 %", 0.693),
            ),
        ),
        ReadingSpec("dropouts_count", "Dropouts", "", "short falls off the trend", 0, how="number"),
    ),
    limits=(
        Limit("key_on_v", 0.4, 0.6, condemns=False, marginal=0.05),
        Limit("build_ms", None, 1500.0),
        Limit("idle_v", 1.0, 1.5, condemns=False, marginal=0.1),
        Limit("peak_v", 2.0, 4.0, condemns=False),
        Limit("dropouts_count", None, 0.0),
    ),
    findings=(
        FindingSpec("slow_build", "Slow build-up", "fault", "fuel", _FUEL, shows=("crank",), also=("regulator",)),
        FindingSpec(
            "pressure_hunting",
            "Pressure hunting",
            "fault",
            "regulator",
            ("regulator", "fuel-supply"),
            faked_by=("low_range_use", "noisy"),
            shows=(
                "idle",
                "idle_after",
            ),
            also=("fuel",),
        ),
        FindingSpec("dropout", "Dropout", "fault", "wiring", common.PART, also=("sensor",)),
        FindingSpec(
            "low_peak",
            "Peak too low",
            "fault",
            "fuel",
            _FUEL,
            faked_by=("clipped",),
            shows=("accelerate",),
            also=("regulator",),
        ),
        FindingSpec("no_decay", "No decay", "fault", "sensor", common.PART, shows=("stop",), also=("wiring",)),
    ),
    limit_findings=(
        LimitFinding("build_ms", "high", "slow_build", "takes {value} ms to build pressure, over {limit} ms"),
        LimitFinding("peak_v", "low", "low_peak", "reaches only {value} V where {limit} V is the least"),
        LimitFinding(
            "dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
    ),
    options=(),
    cautions=(common.HIGH_PRESSURE, common.RUNNING, common.BACK_PROBE, common.SECURE),
    causes=common.causes(
        Choice("fuel", "Fuel supply: filter, lift pump, leak-back of injectors, worn pump"),
        Choice("regulator", "Pressure regulator or metering valve"),
        Choice("sensor", "Sensor faulty"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("fuel-supply", "Prove low-pressure supply and filter"),
        Choice("leak-back", "Leak-back test of the injectors"),
        Choice("regulator", "Test the regulator or metering valve"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Key on, crank, idle, a brisk acceleration, idle, stop: one record of 20 to 40 s",
        "5 V inside a 10 V range, 500 samples a second or more",
        "Probe the sensor's plug only: never a line or joint",
    ),
    proof=Proof(phases=("accelerate",)),
    measure=measure,
    shortest_s=1.0,
)
