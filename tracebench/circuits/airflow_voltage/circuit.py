"""Hot-wire or hot-film mass airflow, voltage out. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.airflow_voltage.measuring import measure_voltage
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.air import AIR_CAUSES, AIR_TESTS
from tracebench.core.circuits.circuit import (
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

CIRCUIT = Circuit(
    code="airflow-voltage",
    title="Airflow, voltage",
    lanes=(
        LaneSpec(
            "signal",
            "Airflow",
            "signal",
            "V",
            True,
            (0.0, 5.2),
            Exam(upright=True, size=(0.9, 5.1), feature=("a surge of 60 ms", 0.060), clip_s=0.02, code=0.1, noise=0.06),
        ),
        LaneSpec("throttle", "Throttle", "signal", "V", False, (0.2, 5.0)),
        LaneSpec("supply", "Supply", "supply", "V", False, (8.0, 16.0)),
        LaneSpec("ground", "Ground", "ground", "V", False, (-0.1, 1.0)),
    ),
    phases=(
        PhaseSpec("key_on", False),
        PhaseSpec("crank", False),
        PhaseSpec("idle", True, "capture warm idle"),
        PhaseSpec("steady_2500", False),
        PhaseSpec("steady_4000", False),
        PhaseSpec("snap", False),
    ),
    under_load=("steady_2500", "steady_4000", "snap"),
    readings=(
        ReadingSpec("key_on_v", "Key-on level", "V", "level before cranking", 3, "key_on"),
        ReadingSpec("crank_v", "Cranking level", "V", "level while cranking", 2, "crank"),
        ReadingSpec("idle_v", "Idle level", "V", "level of warm idle", 3, "idle", warm=True),
        ReadingSpec("v_2500", "Level at 2,500", "V", "level at steady 2,500 rpm", 3, "steady_2500"),
        ReadingSpec("v_4000", "Level at 4,000", "V", "level at steady 4,000 rpm", 3, "steady_4000"),
        ReadingSpec("snap_peak_v", "First surge", "V", "first peak as the empty manifold fills", 2, "snap"),
        ReadingSpec("snap_dip_v", "Dip", "V", "lowest after the first surge", 2, "snap"),
        ReadingSpec("snap_top_v", "Top", "V", "highest of the climb with speed", 2, "snap"),
        ReadingSpec(
            "surge_ms",
            "Time to the surge",
            "ms",
            "throttle at half travel to first surge",
            0,
            how="span",
            seen_in="snap",
        ),
        ReadingSpec("supply_v", "Supply", "V", "level of the supply lane", 2, lane="supply"),
        ReadingSpec("ground_v", "Ground", "V", "level of the ground lane", 3, lane="ground"),
        ReadingSpec("dropouts_count", "Dropouts", "", "short falls off the trend", 0, how="number"),
    ),
    limits=(
        Limit("surge_ms", None, 100.0),
        Limit("supply_v", 11.0, 15.0),
        Limit("ground_v", None, 0.1),
        Limit("dropouts_count", None, 0.0),
    ),
    findings=(
        FindingSpec(
            "low_under_load",
            "Low under load",
            "fault",
            "contaminated",
            ("leak-test", "scan-data", "compare-part"),
            faked_by=("clipped", "noisy"),
            shows=(
                "steady_4000",
                "steady_2500",
                "snap",
            ),
            also=("air-leak",),
        ),
        FindingSpec(
            "key_on_high",
            "Key-on level high",
            "fault",
            "contaminated",
            ("supply-ground", "compare-part"),
            shows=("key_on",),
            also=("sensor",),
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
        FindingSpec(
            "missing_surge",
            "First surge missing",
            "fault",
            "sensor",
            ("scan-data", "compare-part"),
            faked_by=("clipped", "undersampled", "noisy"),
            shows=("snap",),
        ),
        FindingSpec("dropout", "Dropout", "fault", "wiring", common.PART, also=("sensor",)),
        FindingSpec("supply_low", "Supply low", "fault", "supply", common.WIRES),
        FindingSpec("ground_high", "Ground high", "fault", "ground-drop", common.WIRES),
        FindingSpec(
            "not_rising",
            "Does not rise with airflow",
            "fault",
            "sensor",
            ("scan-data", "compare-part"),
            faked_by=("clipped",),
            shows=(
                "steady_2500",
                "steady_4000",
            ),
            also=("air-leak",),
        ),
    ),
    limit_findings=(
        LimitFinding("key_on_v", "high", "key_on_high", "reads {value} V key on, over {limit} V"),
        LimitFinding("v_2500", "low", "low_under_load", "reads {value} V at 2,500 where {limit} V is the least"),
        LimitFinding("v_4000", "low", "low_under_load", "reads {value} V at 4,000 where {limit} V is the least"),
        LimitFinding("surge_ms", "high", "missing_surge", "the surge comes {value} ms after the throttle"),
        LimitFinding("supply_v", "low", "supply_low", "the supply is {value} V, under {limit} V"),
        LimitFinding("ground_v", "high", "ground_high", "ground lies at {value} V, over {limit} V"),
        LimitFinding(
            "dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
    ),
    options=(OptionSpec("type", "Type of sensor", "either", ("either", "A", "B")),),
    cautions=(common.RUNNING, common.SNAP, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*AIR_CAUSES, *common.SUPPLY_CAUSES),
    next_tests=common.next_tests(*AIR_TESTS),
    setup_advice=(
        "Key on, crank, warm idle, steady 2,500 and 4,000, snap",
        "5 V inside a 10 V range, 500 samples a second or more",
        "Supply and ground beside it before the sensor is condemned",
    ),
    proof=Proof(phases=("snap", "steady_4000", "steady_2500")),
    measure=measure_voltage,
    exchanged=(
        Exchange("supply", "ground", (8.0, 17.0), (-0.5, 1.5)),
        Exchange("signal", "supply", (0.0, 5.5), (8.0, 17.0)),
    ),
    shortest_s=1.0,
)
