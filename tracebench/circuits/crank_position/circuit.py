"""Crank position, inductive or Hall, with the cam on a second lane."""

from __future__ import annotations

from tracebench.circuits.crank_position.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    OptionSpec,
    Proof,
    ReadingSpec,
)

_WHEEL = ("inspect-wheel", "air-gap")

CIRCUIT = Circuit(
    code="crank-position",
    title="Crank position",
    lanes=(
        LaneSpec("signal", "Crank", "signal", "V", True, (-60.0, 60.0)),
        LaneSpec("cam", "Cam", "sync", "V", False, (-20.0, 20.0)),
    ),
    phases=(),
    readings=(
        ReadingSpec("teeth_per_rev", "Teeth a turn", "", "nominal, missing ones counted", 0, how="number"),
        ReadingSpec("gap_teeth", "Missing in the gap", "", "teeth left out in the gap", 0, how="number"),
        ReadingSpec("rpm", "Speed", "rpm", "from gap to gap, mean of the turns", 0, how="number"),
        ReadingSpec("amplitude_v", "Amplitude", "V", "peak to peak, median of the teeth", 2, how="difference"),
        ReadingSpec("level_low_v", "Low level", "V", "level of the low state (Hall)", 2),
        ReadingSpec("level_high_v", "High level", "V", "level of the high state (Hall)", 2),
        ReadingSpec("tooth_spread_pct", "Tooth spread", "%", "largest departure from the local mean", 1, how="number"),
        ReadingSpec("cam_phase_deg", "Cam phase", "°", "first tooth after the gap to the cam edge", 1, how="number"),
    ),
    limits=(
        Limit("level_low_v", None, 0.8, condemns=False),
        Limit("tooth_spread_pct", None, 12.0, condemns=False),
    ),
    findings=(
        FindingSpec(
            "tooth_damaged",
            "Tooth damaged",
            "fault",
            "wheel",
            _WHEEL,
            faked_by=("clipped", "undersampled", "noisy", "low_range_use"),
        ),
        FindingSpec(
            "weak_amplitude",
            "Amplitude weak",
            "fault",
            "air-gap",
            ("air-gap", "resistance", "wiring"),
            faked_by=("clipped", "undersampled"),
            also=("wheel",),
        ),
        FindingSpec(
            "dropout",
            "Dropout",
            "fault",
            "wiring",
            common.PART,
            # Teeth lost at one place of each turn are a damaged tooth; lost once, they do not speak for the wheel.
            faked_by=("clipped", "undersampled", "noisy", "low_range_use"),
        ),
        FindingSpec("cam_phase_shift", "Cam phase shifted", "fault", "timing", ("timing", "look-up")),
        FindingSpec("runout", "Runs out", "fault", "wheel", _WHEEL, faked_by=("clipped", "undersampled", "noisy")),
    ),
    limit_findings=(
        LimitFinding(
            "cam_phase_deg", "low", "cam_phase_shift", "the cam edge comes at {value} deg, before {limit} deg"
        ),
        LimitFinding(
            "cam_phase_deg", "high", "cam_phase_shift", "the cam edge comes at {value} deg, after {limit} deg"
        ),
    ),
    options=(OptionSpec("sense", "Crossing in the middle of a tooth", "either", ("either", "rising", "falling")),),
    cautions=(common.RUNNING, common.BACK_PROBE, common.SECURE),
    causes=common.causes(
        Choice("wheel", "Wheel: damaged tooth, dirt, loose or running out"),
        Choice("air-gap", "Air gap, coil or magnet weak"),
        Choice("timing", "Cam drive jumped, stretched or wrongly fitted"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("inspect-wheel", "Inspect the wheel while turning it by hand, key off"),
        Choice("air-gap", "Measure the air gap"),
        Choice("resistance", "Measure the coil's resistance"),
        Choice("timing", "Check cam timing marks"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Two turns or more: 0.5 s at idle, 1 s cranking",
        "Ten samples a tooth: 50,000 a second for idle",
        "20 V range, zero in the middle for an inductive sensor",
    ),
    proof=Proof(turns=1.0),
    measure=measure,
    opens_on_s=0.2,
)
