"""Control wire of an inductive coil: dwell, kick, burn and ring-out. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.coil_primary_voltage.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Circuit,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    Mistaken,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import ignition as shared
from tracebench.core.circuits.events.table import UNUSUAL
from tracebench.core.circuits.threshold import Count

RINGS_SOUND = Count(
    3, "rings", "Oscillations after the burn that a sound coil shows (common practice, no published source)"
)


CIRCUIT = Circuit(
    code="coil-primary-voltage",
    title="Coil primary voltage",
    lanes=(LaneSpec("control", "Control", "signal", "V", True, (-20.0, 450.0)),),
    phases=tuple(PhaseSpec(n, False) for n in ("supply", "dwell", "kick", "burn", "ring_out")),
    readings=(
        ReadingSpec("supply_v", "Supply", "V", "level at rest", 2, "supply", lane="control"),
        ReadingSpec("dwell_v", "Dwell level", "V", "level while driven", 2, "dwell", lane="control"),
        ReadingSpec(
            "dwell_ms",
            "Dwell",
            "ms",
            "half way down to half way up",
            2,
            "dwell",
            lane="control",
            how="span",
            mistaken=(Mistaken("measured on to the end of the burn, not to the release", plus=("burn_ms",)),),
        ),
        ReadingSpec("kick_v", "Kick", "V", "highest voltage of the release", 0, "kick", lane="control"),
        ReadingSpec("burn_v", "Burn level", "V", "level while the arc burns", 1, "burn", lane="control"),
        ReadingSpec("burn_ms", "Burn", "ms", "kick to where the arc goes out", 2, "burn", lane="control", how="span"),
        ReadingSpec("rings_count", "Rings", "", "swings after the burn", 0, "ring_out", how="number"),
        ReadingSpec("rate_hz", "Rate", "Hz", "firings a second", 2, how="number"),
    ),
    limits=(
        Limit("dwell_v", None, 1.5, marginal=0.2),
        Limit("kick_v", 250.0, 420.0, marginal=20.0),
        Limit("burn_v", 30.0, 60.0, condemns=False),
        Limit("burn_ms", 0.8, 2.0, marginal=0.1),
        Limit("rings_count", float(RINGS_SOUND), None, marginal=0.5),
    ),
    findings=(
        FindingSpec(
            "no_burn",
            "No burn",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("clipped", "undersampled", "over_filtered", "low_range_use"),
            also=("coil",),
        ),
        FindingSpec(
            "short_burn",
            "Burn short",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("undersampled", "over_filtered", "clipped", "low_range_use"),
            shows=("events",),
            also=(
                "coil",
                "mixture",
            ),
        ),
        FindingSpec(
            "long_burn",
            "Burn long",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("over_filtered", "low_range_use"),
            shows=("events",),
            also=("mixture",),
        ),
        FindingSpec(
            "low_kick",
            "Kick low",
            "fault",
            "coil",
            shared.COIL,
            faked_by=("clipped", "undersampled", "over_filtered", "low_range_use"),
            shows=("events",),
            also=("secondary",),
        ),
        FindingSpec("high_kick", "Kick high", "fault", "secondary", shared.PLUG, shows=("events",)),
        FindingSpec(
            "no_rings",
            "No rings",
            "fault",
            "coil",
            shared.COIL,
            faked_by=("undersampled", "over_filtered", "low_range_use", "clipped"),
            shows=("events",),
            also=("secondary",),
        ),
        FindingSpec(
            "weak_driver",
            "Driver weak",
            "fault",
            "driver",
            shared.DRIVER,
            faked_by=("low_range_use", "over_filtered"),
            shows=("events",),
            also=("ground-drop",),
        ),
        FindingSpec("no_switching", "Never switched", "fault", "driver", shared.DRIVER),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("burn_ms", "low", "short_burn", "burns for only {value} ms where {limit} ms is the least"),
        LimitFinding("burn_ms", "high", "long_burn", "burns for {value} ms, over {limit} ms"),
        LimitFinding("kick_v", "low", "low_kick", "kicks to only {value} V where {limit} V is the least"),
        LimitFinding("kick_v", "high", "high_kick", "kicks to {value} V, over {limit} V"),
        LimitFinding("rings_count", "low", "no_rings", "{value} rings after the burn where {limit} are the least"),
        LimitFinding("dwell_v", "high", "weak_driver", "pulled only to {value} V while it dwells, over {limit} V"),
    ),
    options=(),
    cautions=(shared.PRIMARY, shared.SECONDARY, common.RUNNING, common.BACK_PROBE, common.SECURE),
    causes=common.causes(*shared.CAUSES),
    next_tests=common.next_tests(*shared.TESTS),
    setup_advice=(
        "Attenuator 20:1 or an input rated for 500 V; 50 V per division",
        "200,000 samples a second or more; 1 to 2 ms per division",
        "Trigger on the rising edge at 100 V",
    ),
    proof=Proof(events=1),
    measure=measure,
    opens_on_s=0.2,
    shortest_s=0.006,
    first_asked=("dwell_ms", "kick_v", "burn_v", "burn_ms"),
)
