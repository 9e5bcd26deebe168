"""Five-wire pump-cell oxygen sensor. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.oxygen_wideband.measuring import measure
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

_FUEL = ("fuel-pressure", "fuel-flow", "scan-data")

CIRCUIT = Circuit(
    code="oxygen-wideband",
    title="Oxygen, wideband",
    lanes=(
        LaneSpec("pump_voltage", "Pump voltage", "signal", "V", False, (0.5, 5.0), Exam(upright=True, size=(2.0, 5.2))),
        LaneSpec("pump_current", "Pump current", "current", "mA", False, (-5.0, 5.0)),
        LaneSpec("airflow", "Airflow", "signal", "V", False, (0.0, 5.0)),
        LaneSpec("reference_low", "Lower reference", "supply", "V", False, (1.9, 2.5)),
        LaneSpec("reference_high", "Upper reference", "supply", "V", False, (2.5, 3.1)),
    ),
    phases=(
        PhaseSpec("steady", True, "capture steady running with the sensor hot"),
        PhaseSpec("snap", False),
        PhaseSpec("overrun", False),
        PhaseSpec("recovery", False),
    ),
    readings=(
        ReadingSpec(
            "in_window_pct",
            "In the window",
            "%",
            "share of steady running in the window",
            0,
            how="number",
            seen_in="steady",
        ),
        ReadingSpec(
            "response_ms",
            "Response",
            "ms",
            "load request to mixture going rich, slowest",
            0,
            how="span",
            farthest=True,
            seen_in="snap",
        ),
        ReadingSpec("overrun_peak", "Overrun peak", "", "highest 50 ms median in the overrun", 2, "overrun"),
        ReadingSpec(
            "recovery_ms",
            "Recovery",
            "ms",
            "end of the overrun back into the window",
            0,
            how="span",
            seen_in="recovery",
        ),
    ),
    limits=(Limit("in_window_pct", 95.0, None, condemns=False),),
    findings=(
        FindingSpec(
            "slow_fuel_response",
            "Slow fuel response",
            "fault",
            "fuel",
            _FUEL,
            faked_by=("over_filtered", "undersampled", "noisy"),
            shows=("snap",),
        ),
        FindingSpec(
            "stuck_in_window", "Stuck in the window", "fault", "sensor", ("wiring", "compare-part"), also=("wiring",)
        ),
        FindingSpec(
            "biased_lean",
            "Biased lean",
            "fault",
            "mixture",
            ("leak-test", "fuel-pressure"),
            shows=("steady",),
            also=(
                "fuel",
                "sensor",
            ),
        ),
        FindingSpec(
            "biased_rich",
            "Biased rich",
            "fault",
            "mixture",
            ("fuel-pressure", "scan-data"),
            shows=("steady",),
            also=(
                "fuel",
                "sensor",
            ),
        ),
        FindingSpec(
            "heater_fault",
            "Heater or cell dead",
            "fault",
            "heater",
            ("supply-ground", "wiring"),
            also=(
                "wiring",
                "sensor",
            ),
        ),
    ),
    limit_findings=(
        LimitFinding(
            "response_ms",
            "high",
            "slow_fuel_response",
            "the mixture goes rich {value} ms after the load request, over {limit} ms: fuel supply first "
            "(priming, pressure, flow, filter), then injectors and airflow sensor",
            slowed=True,
        ),
    ),
    options=(
        OptionSpec("window_ma", "Window of the pump current, mA", "0.25"),
        OptionSpec("decides", "Which pump lane decides", "either", ("either", "voltage", "current")),
    ),
    cautions=(common.RUNNING, common.SNAP, common.HOT, common.SECURE),
    causes=common.causes(
        Choice("fuel", "Fuel supply: priming, pressure, flow, filter, injectors"),
        Choice("mixture", "The mixture itself: leak, fuel pressure, airflow sensor"),
        Choice("sensor", "Sensor aged or contaminated"),
        Choice("heater", "Heater, its supply or ground"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("fuel-pressure", "Measure fuel pressure while it happens"),
        Choice("fuel-flow", "Measure flow and look at filter and priming"),
        Choice("scan-data", "Compare with trims and airflow in scan data"),
        Choice("leak-test", "Smoke or leak test of the intake"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Sensor hot, steady running, snap, overrun, recovery",
        "Pump current where the tool has it; both references beside the pump voltage",
        "Raw is noisy against battery negative: a low-pass view helps, the raw trace is kept",
    ),
    proof=Proof(phases=("snap", "steady"), steady_s=2.0),
    measure=measure,
    exchanged=(Exchange("reference_low", "reference_high", (1.9, 2.45), (2.55, 3.1)),),
    shortest_s=1.0,
)
