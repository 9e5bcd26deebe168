"""Control wire of a port or throttle-body injector, switched to ground. Limits: common practice, no source."""

from __future__ import annotations

from tracebench.circuits.injector_voltage.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
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
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.table import UNUSUAL

_TAIL = ("swap", "resistance", "driver-ground")

CIRCUIT = Circuit(
    code="injector-voltage",
    title="Injector voltage",
    lanes=(
        LaneSpec("control", "Control", "signal", "V", True, (-5.0, 120.0), Exam(noise=2.5)),
        LaneSpec("control2", "Second injector", "signal", "V", False, (-5.0, 120.0), Exam(noise=2.5)),
    ),
    phases=tuple(PhaseSpec(n, False) for n in ("supply", "on", "kick", "decay", "rest")),
    readings=(
        ReadingSpec("supply_v", "Supply", "V", "level before the pulse", 2, "supply", lane="control"),
        ReadingSpec("on_v", "While driven", "V", "level while driven", 2, "on", lane="control"),
        ReadingSpec(
            "on_ms",
            "On-time",
            "ms",
            "50 % of the fall to the start of the kick",
            2,
            "on",
            lane="control",
            how="span",
            mistaken=(Mistaken("measured on to the bump of the needle, not to the release", plus=("bump_ms",)),),
            warm=True,
        ),
        ReadingSpec("kick_v", "Kick", "V", "highest voltage of the release", 1, "kick", lane="control"),
        ReadingSpec(
            "bump_ms", "Closing bump", "ms", "release to the bump's top", 2, "decay", lane="control", how="span"
        ),
        ReadingSpec("tail_rings_count", "Tail rings", "", "rings over 1 V after the decay", 0, "rest", how="number"),
        ReadingSpec("rate_hz", "Rate", "Hz", "pulses a second", 2, how="number"),
        ReadingSpec("pulses_count", "Pulses", "", "whole pulses", 0, how="number"),
        ReadingSpec("missing_count", "Missing", "", "pulses missing in the row", 0, how="number"),
    ),
    limits=(
        Limit("supply_v", 13.5, 14.7, condemns=False, marginal=1.5),
        Limit("on_v", None, 0.6, marginal=0.1),
        Limit("on_ms", 2.0, 4.0, condemns=False),
        Limit("kick_v", 50.0, 90.0, marginal=5.0),
        Limit("bump_ms", 0.3, 2.0, condemns=False),
        Limit("tail_rings_count", None, 2.0),
    ),
    findings=(
        FindingSpec(
            "tail_ringing",
            "Rings after the decay",
            "fault",
            "winding",
            _TAIL,
            faked_by=("low_range_use", "noisy"),
            shows=("events",),
        ),
        FindingSpec(
            "low_kick",
            "Kick low",
            "fault",
            "winding",
            shared.WINDING,
            faked_by=("clipped", "undersampled", "over_filtered"),
            shows=("events",),
            also=("driver",),
        ),
        FindingSpec("high_kick", "Kick high", "fault", "driver", shared.DRIVER, shows=("events",)),
        FindingSpec(
            "no_bump",
            "No closing bump",
            "fault",
            "needle",
            shared.NEEDLE,
            faked_by=("clipped", "undersampled", "over_filtered", "low_range_use"),
            shows=("events",),
        ),
        FindingSpec(
            "weak_ground",
            "Driver or ground weak",
            "fault",
            "driver",
            shared.DRIVER,
            faked_by=("low_range_use", "over_filtered"),
            shows=("events",),
            also=("ground-drop",),
        ),
        FindingSpec(
            "missing_pulses",
            "Pulses missing",
            "fault",
            "driver",
            shared.NOTHING,
            as_first=("swap",),
            also=("wiring",),
        ),
        FindingSpec("sibling", "Against the second injector", "note"),
        FindingSpec("sibling_quiet", "Second injector quiet", "note"),
        FindingSpec("no_pulse", "Never switched", "fault", "driver", shared.NOTHING, also=("wiring",)),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("tail_rings_count", "high", "tail_ringing", "rings {value} times over 1 V after the decay"),
        LimitFinding("on_v", "high", "weak_ground", "pulled only to {value} V, over {limit} V"),
        LimitFinding("kick_v", "low", "low_kick", "kicks to only {value} V where {limit} V is the least"),
        LimitFinding("kick_v", "high", "high_kick", "kicks to {value} V, over {limit} V"),
    ),
    options=(),
    cautions=(shared.FLYBACK, common.RUNNING, shared.FUEL, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*shared.INJECTOR_CAUSES),
    next_tests=common.next_tests(*shared.INJECTOR_TESTS),
    setup_advice=(
        "Attenuator 10:1, 100 V range, 1 to 2 ms per division",
        "Trigger on the falling edge at half the supply",
        "100,000 samples a second or more for the bump",
    ),
    proof=Proof(events=1),
    measure=measure,
    opens_on_s=0.2,
    shortest_s=0.004,
    first_asked=("on_ms", "on_v", "kick_v", "bump_ms"),
)
