"""Current of one injector that is switched on and off: ramp, the needle's dip, peak and decay.

Limits: common practice, no published source. Physics: i(t) = U/R (1 - exp(-t R/L)), which is concave, so that what lies
under its hull is the back-EMF of the needle as it lifts.
"""

from __future__ import annotations

from tracebench.circuits.injector_current.measuring import measure
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    LEVELS_10_90,
    Circuit,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    Mistaken,
    OptionSpec,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.table import UNUSUAL

CIRCUIT = Circuit(
    code="injector-current",
    title="Injector current",
    lanes=(LaneSpec("current", "Current", "current", "A", True, (-0.3, 10.0)),),
    phases=(PhaseSpec("on", False), PhaseSpec("decay", False)),
    readings=(
        ReadingSpec(
            "on_ms",
            "On-time",
            "ms",
            "switch-on to release",
            2,
            "on",
            lane="current",
            how="span",
            mistaken=(Mistaken("measured on to the end of the decay, not to the release", plus=("decay_ms",)),),
        ),
        ReadingSpec("peak_a", "Peak", "A", "largest current of a pulse", 2, "on", lane="current"),
        ReadingSpec("expected_a", "Full current", "A", "supply / resistance", 2, lane="current", how="number"),
        ReadingSpec("ramp", "Ramp", "A/ms", "slope from 5 to 30 % of the peak", 2, "on", lane="current", how="number"),
        ReadingSpec("leading_edge_fraction", "Edge", "", "part of the peak in the first 5 %", 2, "on", how="number"),
        ReadingSpec(
            "pintle_ms", "Needle lifts", "ms", "switch-on to the dip's bottom", 2, "on", lane="current", how="span"
        ),
        ReadingSpec("pintle_dip_a", "Needle dip", "A", "depth under the course of the rise", 3, "on", how="number"),
        ReadingSpec(
            "decay_ms",
            "Decay",
            "ms",
            "90 to 10 % after release",
            3,
            "decay",
            lane="current",
            how="span",
            mistaken=LEVELS_10_90,
        ),
        ReadingSpec("rate_hz", "Rate", "Hz", "pulses a second", 2, how="number"),
    ),
    limits=(),
    findings=(
        FindingSpec(
            "shorted_winding",
            "Winding shorted",
            "fault",
            "winding",
            shared.WINDING,
            faked_by=("undersampled",),
            shows=("events",),
            at_rail=True,
        ),
        FindingSpec(
            "no_pintle_dip",
            "No needle dip",
            "fault",
            "needle",
            shared.NEEDLE,
            faked_by=("clipped", "undersampled", "low_range_use", "noisy"),
            shows=("events",),
        ),
        FindingSpec(
            "late_pintle", "Needle lifts late", "fault", "needle", shared.NEEDLE, shows=("events",), also=("supply",)
        ),
        FindingSpec(
            "high_resistance",
            "High resistance",
            "fault",
            "winding",
            ("resistance", "wiring", "swap"),
            faked_by=("clipped",),
            shows=("events",),
            also=(
                "wiring",
                "supply",
            ),
        ),
        FindingSpec("clamp_drift", "Clamp zero drifts", "note"),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("peak_a", "low", "high_resistance", "reaches only {value} A where {limit} A is the least"),
        LimitFinding("peak_a", "high", "shorted_winding", "draws {value} A, over {limit} A"),
        LimitFinding("pintle_ms", "high", "late_pintle", "the needle lifts after {value} ms, later than {limit} ms"),
    ),
    options=(OptionSpec("supply_v", "Supply, V", "14"), OptionSpec("resistance_ohm", "Resistance, ohm", "")),
    cautions=(common.RUNNING, shared.FUEL, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*shared.INJECTOR_CAUSES),
    next_tests=common.next_tests(*shared.INJECTOR_TESTS),
    setup_advice=(
        "Clamp zeroed, arrow so that the pulse is positive, one wire only",
        "100 samples a pulse or more: 100,000 a second for 3 ms",
        "Trigger on a third of the peak, rising; 1 to 2 ms per division",
    ),
    proof=Proof(events=1),
    measure=measure,
    opens_on_s=0.2,
    first_asked=("on_ms", "peak_a", "pintle_ms", "decay_ms"),
)
