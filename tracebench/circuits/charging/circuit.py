"""Alternator with sense wire, case ground and load command. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.charging.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    Exam,
    Exchange,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    OptionSpec,
    Proof,
    ReadingSpec,
)

CIRCUIT = Circuit(
    code="charging",
    title="Charging",
    lanes=(
        LaneSpec(
            "sense",
            "Sense",
            "supply",
            "V",
            True,
            (8.0, 18.0),
            Exam(upright=True, size=(9.0, 17.0), steady=True, feature=("a peak of 20 ms", 0.020), clip_s=0.0, code=0.5),
        ),
        LaneSpec("case_ground", "Case ground", "ground", "V", False, (-0.5, 3.0)),
        LaneSpec("command", "Command", "sync", "%", False, (0.0, 100.0)),
    ),
    phases=(),
    readings=(
        ReadingSpec("sense_v", "Sense level", "V", "level of the record", 2, lane="sense"),
        ReadingSpec("sense_max_v", "Highest", "V", "largest 20 ms median", 2, lane="sense"),
        ReadingSpec("time_over_15_s", "Time over 15 V", "s", "in all", 2, lane="sense", how="span"),
        ReadingSpec("case_ground_max_v", "Case ground", "V", "largest 20 ms median", 3, lane="case_ground"),
        ReadingSpec("command_duty_pct", "Command", "%", "median; its course in ten parts", 0, lane="command"),
        ReadingSpec(
            "ripple_v", "Ripple", "V", "1st to 99th percentile without the trend", 2, lane="sense", how="difference"
        ),
        ReadingSpec("ripple_order", "Ripple order", "", "ripples a turn of the alternator", 1, how="number"),
    ),
    limits=(
        Limit("sense_v", 13.5, 14.7, marginal=0.2),
        Limit("case_ground_max_v", None, 0.1),
        Limit("ripple_v", None, 0.5),
    ),
    findings=(
        FindingSpec("overcharge", "Overcharge", "fault", "regulator", ("supply-ground", "wiring", "compare-part")),
        FindingSpec(
            "undercharge",
            "Undercharge",
            "fault",
            "alternator",
            ("supply-ground", "belt", "compare-part"),
            faked_by=("clipped",),
            also=(
                "regulator",
                "wiring",
            ),
        ),
        FindingSpec("ground_lifted", "Case ground lifted", "fault", "ground-drop", common.WIRES),
        FindingSpec("command_driven", "Command drives it", "fault", "command", ("controller", "wiring")),
        FindingSpec(
            "diode_ripple",
            "Ripple of a diode",
            "fault",
            "alternator",
            ("battery-test", "compare-part"),
            faked_by=("noisy", "low_range_use"),
        ),
    ),
    limit_findings=(
        LimitFinding("sense_v", "low", "undercharge", "charges at {value} V, under {limit} V"),
        LimitFinding("sense_v", "high", "overcharge", "charges at {value} V, over {limit} V"),
        LimitFinding("case_ground_max_v", "high", "ground_lifted", "the case lifts to {value} V, over {limit} V"),
        LimitFinding("ripple_v", "high", "diode_ripple", "ripple of {value} V peak to peak, over {limit} V"),
    ),
    options=(
        OptionSpec("engine_rpm", "Engine speed, rpm", ""),
        OptionSpec("pulley_ratio", "Pulley ratio", "2.5"),
    ),
    cautions=(common.BATTERY, common.RUNNING, common.ROAD, common.SECURE),
    causes=common.causes(
        Choice("regulator", "Internal regulator"),
        Choice("alternator", "Alternator: diode, winding, brushes, belt"),
        Choice("command", "The command from the controller", shared=True, controller=True),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("belt", "Check belt and pulley"),
        Choice("battery-test", "Test the battery"),
        Choice("controller", "Prove who sets the command, and its own feeds and grounds", wires=True),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Sense, case ground and command together, against battery negative",
        "20 V range; a long record when it comes and goes; 1,000 samples a second or more for ripple",
    ),
    proof=Proof(steady_s=1.0),
    measure=measure,
    exchanged=(Exchange("sense", "case_ground", (9.0, 18.0), (-1.0, 3.0)),),
    shortest_s=1,
)
