"""Supply, 5 V reference and ground of any part. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.supply_ground.measuring import _REACH, measure
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
    PhaseSpec,
    Proof,
    ReadingSpec,
)

_PAIRS = (("supply", "ground"), ("reference", "ground"), ("supply", "reference"), ("battery", "ground"))
_LEVEL = Exam(upright=True, size=(9.0, 16.0), steady=True)


CIRCUIT = Circuit(
    code="supply-ground",
    title="Supply and ground",
    lanes=(
        LaneSpec("supply", "Supply", "supply", "V", False, (0.0, 16.0), _LEVEL),
        LaneSpec(
            "reference", "Reference", "supply", "V", False, (0.0, 5.5), Exam(upright=True, size=(4.5, 5.5), steady=True)
        ),
        LaneSpec("ground", "Ground", "ground", "V", False, (-0.2, 2.0)),
        LaneSpec("battery", "Battery", "supply", "V", False, (8.0, 16.0), _LEVEL),
    ),
    phases=(PhaseSpec("key_on", False), PhaseSpec("running", False)),
    readings=(
        ReadingSpec("supply_v", "Supply", "V", "level of the supply", 2, lane="supply"),
        ReadingSpec("supply_drop_v", "Supply drop", "V", "battery less supply", 3, lane="supply", how="number"),
        ReadingSpec("reference_v", "Reference", "V", "level of the reference", 3, lane="reference"),
        ReadingSpec("ground_v", "Ground", "V", "level of the ground under load", 3, lane="ground"),
        ReadingSpec("ripple_mv", "Ripple", "mV", "peak to peak without the trend, noise carried off", 0, how="number"),
    ),
    limits=(
        Limit("supply_drop_v", None, 0.5),
        Limit("reference_v", 4.9, 5.1),
        Limit("ground_v", None, 0.1),
    ),
    findings=(
        FindingSpec("supply_low", "Supply low", "fault", "supply", common.WIRES),
        FindingSpec("reference_low", "Reference low", "fault", "supply", common.WIRES),
        FindingSpec("reference_high", "Reference high", "fault", "supply", common.WIRES),
        FindingSpec("ground_high", "Ground high", "fault", "ground-drop", common.WIRES),
    ),
    limit_findings=(
        LimitFinding("supply_drop_v", "high", "supply_low", "{value} V are lost between battery and supply"),
        LimitFinding("supply_v", "low", "supply_low", "the supply is {value} V where {limit} V is the least"),
        LimitFinding("reference_v", "low", "reference_low", "reference {value} V, under {limit} V"),
        LimitFinding("reference_v", "high", "reference_high", "reference {value} V, over {limit} V"),
        LimitFinding("ground_v", "high", "ground_high", "ground lies at {value} V, over {limit} V"),
    ),
    options=(OptionSpec("state", "Engine", "auto", ("auto", "key_on", "running")),),
    cautions=(common.BACK_PROBE, common.BATTERY, common.SECURE),
    causes=common.causes(*common.SUPPLY_CAUSES),
    next_tests=common.next_tests(
        *common.SUPPLY_TESTS,
        Choice("voltage-drop", "Measure the drop along the wire, loaded, joint by joint", wires=True),
    ),
    setup_advice=(
        "Part plugged in and loaded, key on",
        "20 V range for the supply, 200 mV for the ground",
        "Battery negative as ground point",
    ),
    proof=Proof(steady_s=0.2),
    measure=measure,
    exchanged=tuple(Exchange(one, other, _REACH[one], _REACH[other]) for one, other in _PAIRS),
    shortest_s=0.2,
)
