"""Secondary voltage by a capacitive pickup or a probe: firing line, burn and ring-out of every cylinder.

Limits: common practice, no published source. A gap breaks down at a voltage that grows with its width and with the
pressure in the cylinder (Paschen 1889), so that load shows what idle hides.
"""

from __future__ import annotations

from tracebench.circuits.secondary_voltage.judging import (
    HASH,
    LONG_MS,
    RINGS_SOUND,
    SHORT_MS,
    SNAP_BURN_MS,
)
from tracebench.circuits.secondary_voltage.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
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
from tracebench.core.circuits.events import ignition as shared
from tracebench.core.circuits.events.attribution import (
    CYLINDERS,
    FIRING_ORDER,
)
from tracebench.core.circuits.events.table import UNUSUAL

CIRCUIT = Circuit(
    code="secondary-voltage",
    title="Secondary voltage",
    lanes=(
        LaneSpec("secondary", "Secondary", "signal", "kV", True, (-45.0, 45.0), Exam(noise=0.2)),
        LaneSpec("sync", "Cylinder 1", "sync", "V", False, (-1.0, 16.0)),
    ),
    phases=tuple(PhaseSpec(n, False) for n in ("dwell", "firing", "burn", "ring_out", "idle", "snap")),
    readings=(
        ReadingSpec("firing_kv", "Firing", "kV", "top of the firing line", 1, "firing", lane="secondary"),
        ReadingSpec("burn_kv", "Burn level", "kV", "level of the spark line", 2, "burn", lane="secondary"),
        ReadingSpec(
            "burn_ms", "Burn", "ms", "firing line to the end of the burn", 2, "burn", lane="secondary", how="span"
        ),
        ReadingSpec("burn_hash", "Hash", "", "roughness of the burn over its level", 3, "burn", how="number"),
        ReadingSpec("rings_count", "Rings", "", "swings after the burn", 0, "ring_out", how="number"),
        ReadingSpec("snap_burn_ms", "Burn in the snap", "ms", "burn under load", 2, lane="secondary", how="span"),
        ReadingSpec("snap_firing_kv", "Firing in the snap", "kV", "top of the line under load", 1, lane="secondary"),
        ReadingSpec("polarity", "Polarity", "", "sign of the firing line as recorded", 0, how="number"),
        ReadingSpec("rate_hz", "Rate", "Hz", "firings a second", 2, how="number"),
        ReadingSpec("cycle_ms", "Cycle", "ms", "one engine cycle", 1, lane="secondary", how="span"),
    ),
    limits=(
        Limit("firing_kv", 5.0, 15.0, condemns=False),
        Limit("snap_firing_kv", None, 25.0),
        Limit("burn_kv", 1.0, 3.0, condemns=False),
        Limit("burn_ms", SHORT_MS, LONG_MS, marginal=0.1),
        Limit("burn_hash", None, HASH),
        Limit("rings_count", float(RINGS_SOUND), None, marginal=0.5),
        Limit("snap_burn_ms", SNAP_BURN_MS, None),
    ),
    findings=(
        FindingSpec(
            "no_burn",
            "No burn",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("undersampled", "low_range_use", "over_filtered"),
            shows=("events",),
            also=("coil",),
        ),
        FindingSpec(
            "burn_hash",
            "Hash in the burn",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("undersampled", "low_range_use"),
            shows=("events",),
            also=("mixture",),
        ),
        FindingSpec(
            "burn_collapses_on_snap",
            "Burn collapses on snap",
            "fault",
            "coil",
            ("swap", "load", "spark-gap"),
            faked_by=("undersampled", "low_range_use"),
            also=("secondary",),
        ),
        FindingSpec(
            "high_firing", "Firing high", "fault", "secondary", shared.PLUG, shows=("events",), also=("mixture",)
        ),
        FindingSpec(
            "low_firing",
            "Firing low",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("clipped", "undersampled", "over_filtered"),
            shows=("events",),
            also=(
                "mixture",
                "coil",
            ),
        ),
        FindingSpec(
            "short_burn",
            "Burn short",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("undersampled", "low_range_use", "over_filtered", "missing_phase"),
            shows=("events",),
            also=(
                "coil",
                "mixture",
            ),
        ),
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
            "misfire_intermittent",
            "Misfires now and then",
            "fault",
            "secondary",
            ("load", "swap", "inspect-plug"),
            faked_by=("noisy", "low_range_use", "undersampled", "clipped", "missing_phase"),
            also=(
                "coil",
                "mixture",
                "driver",
            ),
        ),
        FindingSpec("sync_twice", "Two sync pulses a cycle", "note"),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("snap_firing_kv", "high", "high_firing", "needs {value} kV in the snap, over {limit} kV"),
        LimitFinding("burn_ms", "low", "short_burn", "burns for only {value} ms where {limit} ms is the least"),
        LimitFinding("burn_hash", "high", "burn_hash", "roughness of {value} of the burn's level, over {limit}"),
        LimitFinding("rings_count", "low", "no_rings", "{value} rings after the burn where {limit} are the least"),
        LimitFinding("snap_burn_ms", "low", "burn_collapses_on_snap", "burns for only {value} ms in the snap"),
    ),
    options=(CYLINDERS, FIRING_ORDER, OptionSpec("kv_per_unit", "kV for each unit of the lane", "")),
    cautions=(shared.SECONDARY, common.RUNNING, common.SNAP, common.SECURE),
    causes=common.causes(*shared.CAUSES),
    next_tests=common.next_tests(*shared.TESTS),
    setup_advice=(
        "Pickups are relative: kV only with a stated factor",
        "500,000 samples a second or more for the firing line",
        "Idle first, then a snap: load shows what idle hides",
    ),
    proof=Proof(events=2),
    measure=measure,
    opens_on_s=0.2,
    shortest_s=0.004,
    first_asked=("firing_kv", "burn_kv", "burn_ms"),
)
