"""Secondary voltage by a capacitive pickup or a probe: firing line, burn and ring-out of every cylinder.

Limits: common practice, no published source. A gap breaks down at a voltage that grows with its width and with the
pressure in the cylinder (Paschen 1889), so that load shows what idle hides.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Limit, Phase
from tracebench.core.circuits import probe, record_checks
from tracebench.core.circuits import setup_findings as setup
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
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    CYLINDERS,
    FIRING_ORDER,
    attributed,
    check_all_seen,
    unswap_sync,
)
from tracebench.core.circuits.events.table import UNUSUAL, EventTable, report
from tracebench.core.circuits.kinds import common
from tracebench.core.circuits.kinds.ignition import shared
from tracebench.core.circuits.kinds.ignition.secondary.firings import LINE_S, Firings, burn_of, firings_of, table_of
from tracebench.core.circuits.kinds.ignition.secondary.judging import (
    HASH,
    LONG_MS,
    RINGS_SOUND,
    SHORT_MS,
    SNAP_BURN_MS,
    judge,
)
from tracebench.core.circuits.kinds.ignition.secondary.states import CRANK, IDLE, SNAP, conditions_of, states_of
from tracebench.core.circuits.kinds.injectors import shared as coils
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.spark import Burn
from tracebench.core.robust.median import median

SLOWEST_LINE_S = Threshold(
    100e-6, "s", "A firing line stands up in some tens of microseconds at the most (from memory)"
)


def measure(work: Work) -> Work:
    """Every firing, each cylinder against the others, idle and snap apart."""
    unswap_sync(work, "secondary")
    firings = firings_of(work)
    if firings is None:
        work.settle_phases([])
        probe.note_nothing(work, "secondary", "no firings: pickup, lead and engine first")
        return work
    places = attributed(work, firings.at.astype(np.float64))
    check_all_seen(work, places, "secondary")
    burns = [burn_of(work, firings, k) for k in range(firings.at.size)]
    table = table_of(work, firings, burns, places)
    states = states_of(work, table)
    work.shown = conditions_of(states)
    if np.all(states == CRANK):
        text = "fires no faster than a starter turns the engine: record idle, and all the cylinders that are told"
        work.setup("missing_phase", text, "secondary", hides=True)
    work.settle_phases(_phases(work, table, firings, burns))
    _report(work, table, states)
    coils.rate_of(work, table, states == IDLE)
    odd_cylinders.read_cycle(work, table, places)
    work.add("polarity", float(firings.sign), "", 0.0, work.whole, "secondary")
    record_checks.check_rest(work, "secondary")
    judge(work, table, places, states, burns, firings.rest.sigma)
    record_checks.check_rate(work, "a firing line of 100 us", LINE_S, "secondary")
    top = median(firings.samples[firings.at])
    record_checks.check_clipped(work, "secondary", 0.0)
    record_checks.check_capped(work, "secondary", firings.samples, firings.at)
    setup.check_range_use(work, "secondary", 0.03 * top)
    rises = [setup.passing(firings.samples, int(at), 0.0, float(firings.samples[at])) for at in firings.at[:20]]
    record_checks.check_edges(work, "secondary", median(rises), SLOWEST_LINE_S, "the firing line")
    return work


def _phases(work: Work, table: EventTable, firings: Firings, burns: list[Burn | None]) -> list[Phase]:
    interval, begin = work.capture.interval_s, work.capture.start_s
    out = []
    for k in range(min(table.count, coils.MOST_PHASES)):
        at = begin + int(firings.at[k]) * interval
        top = at + 0.05e-3
        out.append(Phase("firing", max(begin, at - 0.05e-3), top, k + 1))
        burn = burns[k]
        if burn is not None:
            over = begin + burn.stop * interval
            out.append(Phase("burn", top, max(over, top + interval), k + 1))
            out.append(Phase("ring_out", max(over, top + interval), max(over, top) + 1.5e-3, k + 1))
    end = work.whole[1]
    return [Phase(p.name, p.from_s, min(p.to_s, end), p.cycle) for p in out if p.from_s < end]


def _report(work: Work, table: EventTable, states: NDArray[np.int64]) -> None:
    """Summaries are those of idle; the snap gives its burn and its firing line."""
    table.kinds = 4 * table.cylinder + states
    table.speaks = states == IDLE
    snap = states == SNAP
    if snap.any():
        for reading_id in ("burn_ms", "firing_kv"):
            values = np.where(snap, table.values[reading_id], np.nan)
            table.put(f"snap_{reading_id}", table.units[reading_id], values, table.doubts[reading_id])
    report(work, table)
    for reading_id in ("snap_burn_ms", "snap_firing_kv"):
        if not snap.any():
            work.miss(reading_id, "no snap in this capture")


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
