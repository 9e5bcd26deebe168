"""Two-wire thermistor, coolant or intake air. Common practice: about 2 V at 20 C on one intake circuit."""

from __future__ import annotations

from tracebench.circuits.temperature.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
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

CIRCUIT = Circuit(
    code="temperature",
    title="Temperature sensor",
    lanes=(
        LaneSpec(
            "signal",
            "Signal",
            "signal",
            "V",
            True,
            (0.0, 5.1),
            Exam(upright=True, feature=("a 150 ms dropout", 0.150), clip_s=0.02, noise=0.1),
        ),
    ),
    phases=(PhaseSpec("key_on", False), PhaseSpec("warm_up", False)),
    readings=(
        ReadingSpec("volts", "Level", "V", "level of the record", 3),
        ReadingSpec(
            "celsius",
            "Temperature",
            "°C",
            "R = pull-up x V / (supply - V); 1/T = a + b ln R + c (ln R)^3",
            1,
            how="number",
        ),
        ReadingSpec("rate_c_per_min", "Rate", "°C/min", "change from the first to the last tenth", 2, how="number"),
        ReadingSpec("dropouts_count", "Dropouts", "", "short departures from the trend that return", 0, how="number"),
    ),
    limits=(Limit("dropouts_count", None, 0.0),),
    findings=(
        FindingSpec("open_circuit", "Open circuit", "fault", "wiring", common.PART, also=("sensor",), at_rail=True),
        FindingSpec("short_circuit", "Short circuit", "fault", "wiring", common.PART, also=("sensor",), at_rail=True),
        FindingSpec(
            "implausible_cold_start", "Implausible after a cold soak", "fault", "sensor", common.PART, also=("wiring",)
        ),
        FindingSpec("dropout", "Dropout", "fault", "wiring", common.PART, also=("sensor",), at_rail=True),
    ),
    limit_findings=(
        LimitFinding(
            "dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
    ),
    options=(
        OptionSpec("supply_v", "Supply of the divider, V", "5.0"),
        OptionSpec("pull_up_ohm", "Pull-up, ohm", "3750"),
        OptionSpec("ohm_25", "Thermistor at 25 °C, ohm", "2046"),
        OptionSpec("beta", "Beta, K", "3500"),
        OptionSpec("sh_a", "Steinhart-Hart a", ""),
        OptionSpec("sh_b", "Steinhart-Hart b", ""),
        OptionSpec("sh_c", "Steinhart-Hart c", ""),
        OptionSpec("ambient_c", "Other sensors read, °C", ""),
    ),
    cautions=(common.BACK_PROBE, common.HOT, common.SECURE),
    causes=common.causes(
        *common.SUPPLY_CAUSES, Choice("sensor", "Sensor out of its curve: compare resistance with temperature")
    ),
    next_tests=common.next_tests(
        *common.SUPPLY_TESTS, Choice("resistance", "Measure the resistance and compare with temperature")
    ),
    setup_advice=("Key on, plug connected", "5 to 10 V range", "Record the warm-up for minutes at 10 to 100 a second"),
    proof=Proof(steady_s=2.0),
    measure=measure,
    shortest_s=1.0,
)
