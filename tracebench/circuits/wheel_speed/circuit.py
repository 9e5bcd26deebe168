"""Wheel speed, inductive or two-level, on a wheel of even teeth that is spun by hand or driven. Limits: from memory."""

from __future__ import annotations

from tracebench.circuits.wheel_speed.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    FindingSpec,
    LaneSpec,
    OptionSpec,
    PhaseSpec,
    Proof,
    ReadingSpec,
)

_WHEEL = ("inspect-wheel", "air-gap")
_FAKED = ("clipped", "undersampled", "noisy", "low_range_use")

CIRCUIT = Circuit(
    code="wheel-speed",
    title="Wheel speed",
    lanes=(LaneSpec("signal", "Wheel speed", "signal", "V", True, (-20.0, 20.0)),),
    phases=(PhaseSpec("turning", True, "spin the wheel by hand, two turns or more"),),
    readings=(
        ReadingSpec("teeth_count", "Teeth passed", "", "teeth while it turns, lost ones counted", 0, how="number"),
        ReadingSpec(
            "tooth_hz", "Rate", "Hz", "teeth a second, mean while it turns", 1, how="number", seen_in="turning"
        ),
        ReadingSpec("rpm", "Speed", "rpm", "mean while it turns, by the teeth told", 1, how="number"),
        ReadingSpec("amplitude_v", "Amplitude", "V", "peak to peak, median of the teeth", 3, how="difference"),
        ReadingSpec("level_low_v", "Low level", "V", "level of the low state", 2),
        ReadingSpec("level_high_v", "High level", "V", "level of the high state", 2),
        ReadingSpec("tooth_spread_pct", "Tooth spread", "%", "largest departure from the local mean", 1, how="number"),
    ),
    limits=(Limit("tooth_spread_pct", None, 12.0, condemns=False),),
    findings=(
        FindingSpec("tooth_damaged", "Tooth damaged", "fault", "wheel", _WHEEL, faked_by=_FAKED),
        FindingSpec(
            "weak_amplitude",
            "Amplitude weak",
            "fault",
            "air-gap",
            ("air-gap", "resistance", "wiring"),
            faked_by=("clipped", "undersampled"),
            also=("wheel",),
        ),
        FindingSpec("dropout", "Dropout", "fault", "wiring", common.PART, faked_by=_FAKED, also=("wheel",)),
        FindingSpec("runout", "Runs out", "fault", "wheel", _WHEEL, faked_by=_FAKED),
    ),
    limit_findings=(),
    options=(OptionSpec("teeth", "Teeth of the wheel", "0"),),
    cautions=(
        Choice("lift", "Wheel off the ground: lift at the maker's points, on stands, the others chocked."),
        common.BACK_PROBE,
        common.SECURE,
    ),
    causes=common.causes(
        Choice("wheel", "Wheel: damaged tooth, rust or dirt, bearing play"),
        Choice("air-gap", "Air gap, coil or magnet weak"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("inspect-wheel", "Inspect the toothed ring while turning the wheel by hand"),
        Choice("air-gap", "Measure the air gap and the bearing's play"),
        Choice("resistance", "Measure the coil's resistance, unplugged"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "2 V range, zero in the middle, for an inductive sensor spun by hand",
        "Five to ten seconds; spin once and let it run down",
        "5,000 samples a second or more",
    ),
    proof=Proof(phases=("turning",), steady_s=1.0),
    measure=measure,
    shortest_s=1.0,
)
