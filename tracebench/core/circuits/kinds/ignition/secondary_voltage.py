"""Secondary voltage by a capacitive pickup or a probe: firing line, burn and ring-out of every cylinder.

Limits: common practice, no published source. A gap breaks down at a voltage that grows with its width and with the
pressure in the cylinder (Paschen 1889), so that load shows what idle hides.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Limit, Phase
from tracebench.core.capture import Capture, Samples
from tracebench.core.circuits import running
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.circuit import (
    Circuit,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    Measured,
    OptionSpec,
    PhaseSpec,
    ReadingSpec,
    Told,
)
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    CYLINDERS,
    FIRING_ORDER,
    Places,
    attributed,
    unswap_sync,
)
from tracebench.core.circuits.events.cranking import while_cranking
from tracebench.core.circuits.events.table import ONE_SIDE, UNUSUAL, EventTable, report
from tracebench.core.circuits.kinds import common
from tracebench.core.circuits.kinds.ignition import shared
from tracebench.core.circuits.kinds.injectors import shared as coils
from tracebench.core.circuits.work import Work
from tracebench.core.measure.pulse_train import Rest, find_pulses, rest_of
from tracebench.core.measure.series import joined, running_median, runs
from tracebench.core.measure.spark import COUNT_DOUBT, Burn, find_burn, rings_of, smoothed_sigma
from tracebench.core.measure.tops import between_samples

HASH = 0.08
"""Roughness of the burn over its level from which it is called hash (common practice, no published source)."""

SNAP_BURN_MS = 0.5
SHORT_MS, LONG_MS = 0.8, 2.0
RINGS_SOUND = 3
FASTER = 0.72
"""Part of the usual interval from which a stretch counts as a snap."""

SLOWEST_LINE_S = 100e-6
"""A firing line stands up in some tens of microseconds at the most (from memory)."""

REFRACTORY_S = 2.5e-3

LINE_S = 100e-6
"""A firing line and the fall from it to the burn."""

LEAST_BURN = 0.06
"""Part of the firing line that a burn reaches at the least; noise above it hides whether there is one."""


@dataclass(frozen=True, slots=True, eq=False)
class Firings:
    """The lane's magnitude over its rest, and the sample of each firing line's top."""

    samples: Samples
    rest: Rest
    at: NDArray[np.int64]
    sign: int


def measure(capture: Capture, told: Told) -> Measured:
    """Every firing, each cylinder against the others, idle and snap apart."""
    work = Work(capture, told)
    unswap_sync(work, "secondary")
    firings = _firings(work)
    if firings is None:
        work.settle_phases([])
        running.note_nothing(work, "secondary", "no firings: pickup, lead and engine first")
        running.note_missing(work, CIRCUIT.reading_ids, {})
        return work.measured()
    places = attributed(work, firings.at.astype(np.float64))
    burns = [_burn(work, firings, k) for k in range(firings.at.size)]
    table = _table(work, firings, burns, places)
    states = _states(work, table)
    if np.all(states == CRANK):
        text = "fires no faster than a starter turns the engine: record idle, and all the cylinders that are told"
        work.setup("missing_phase", text, "secondary", hides=True)
    work.settle_phases(_phases(work, table, firings, burns))
    _report(work, table, states)
    coils.rate_of(work, table, states == IDLE)
    odd_cylinders.read_cycle(work, table, places)
    work.add("polarity", float(firings.sign), "", 0.0, work.whole, "secondary")
    _judge(work, table, places, states, burns, firings.rest.sigma)
    running.check_rate(work, "a firing line of 100 us", LINE_S, "secondary")
    top = float(np.median(firings.samples[firings.at]))
    running.check_clipped(work, "secondary", 0.0)
    running.check_capped(work, "secondary", firings.samples, firings.at)
    setup.check_range_use(work, "secondary", 0.03 * top)
    rises = [setup.passing(firings.samples, int(at), 0.0, float(firings.samples[at])) for at in firings.at[:20]]
    running.check_edges(work, "secondary", float(np.median(rises)), SLOWEST_LINE_S, "the firing line")
    running.note_missing(work, CIRCUIT.reading_ids, {})
    return work.measured()


def _firings(work: Work) -> Firings | None:
    found = work.capture.lanes["secondary"]
    rest = rest_of(found.samples)
    reach = max(rest.over, rest.under)
    if reach < max(0.05, 10 * rest.sigma):
        return None
    sign = 1 if rest.over >= rest.under else -1
    factor = work.number("kv_per_unit", 1.0, 1e-4, 1e4) if work.told.options.get("kv_per_unit") else 1.0
    samples = (found.samples - rest.level) * (sign * factor)
    rest = Rest(0.0, rest.sigma * factor, reach * factor, min(rest.over, rest.under) * factor)
    at = _tops(samples, rest, work.capture.interval_s)
    if at.size == 0:
        return None
    typical = float(np.median(samples[at]))
    # Lines whose tops lie between the samples say nothing of the pickup.
    resolved = setup.FEWEST_SAMPLES * work.capture.interval_s <= LINE_S
    if factor == 1.0 and resolved and not 1.5 <= typical <= 60.0:
        wrong = setup.wrong_factor(typical, 4.0, 30.0)
        if wrong is not None:
            text = f"fires at {typical:.3g} kV, {wrong:g} times what it can be: pickup factor; read divided by it"
            work.setup("scale_suspect", text, "secondary")
            work.capture = work.capture.with_lane(found.scaled(1 / wrong))
            samples = samples / wrong
            rest = Rest(0.0, rest.sigma / wrong, rest.over / wrong, rest.under / wrong)
    return Firings(samples, rest, at, sign)


def _tops(samples: Samples, rest: Rest, interval_s: float) -> NDArray[np.int64]:
    """Samples of the firing lines' tops: the largest of each group of pulses within the time of one firing.

    The threshold is a part of the typical top and not of the highest, so that one wild firing does not hide the rest.
    """
    apart = max(2, round(REFRACTORY_S / interval_s))
    threshold = max(8 * rest.sigma, 0.10 * rest.over)
    at = np.empty(0, dtype=np.int64)
    for first in (True, False):
        found = find_pulses(samples, 0.7 * threshold, threshold)
        if found.count == 0:
            return np.empty(0, dtype=np.int64)
        groups = np.concatenate([[0], np.cumsum(np.diff(found.start) > apart)])
        firsts = np.flatnonzero(np.diff(np.concatenate([[-1], groups])))
        lasts = np.concatenate([firsts[1:] - 1, [found.count - 1]])
        tops = []
        for a, b in zip(firsts, lasts, strict=True):
            # The firing line begins the group; a burn or ring later in it is lower as a rule.
            begin = int(found.start[a])
            stop = min(int(found.stop[b]), begin + max(2, round(0.25e-3 / interval_s)))
            tops.append(begin + int(np.argmax(samples[begin : max(stop, begin + 1)])))
        at = np.array(tops, dtype=np.int64)
        if first:
            heights = samples[at]
            typical = float(np.percentile(heights, 30))
            # Under the burn's own level, so that a fouled plug's low line is seen; what follows it is its own group.
            threshold = max(8 * rest.sigma, 0.10 * typical)
            if at.size > 3:
                apart = max(2, min(apart, round(0.5 * float(np.percentile(np.diff(at), 5)))))
    return _with_buried(samples, at, threshold)


def _with_buried(samples: Samples, at: NDArray[np.int64], threshold: float) -> NDArray[np.int64]:
    """Firings added that the ring-out of the one before has swallowed: a line well over what precedes it."""
    if at.size < 4:
        return at
    steps = np.diff(at)
    local = running_median(steps.astype(np.float64), 9)
    found = []
    for k in np.flatnonzero(steps > 1.55 * local):
        count = max(2, round(steps[k] / local[k]))
        pitch = steps[k] / count
        for j in range(1, count):
            centre = at[k] + j * pitch
            begin, end = int(centre - 0.2 * pitch), int(centre + 0.2 * pitch)
            i = begin + int(np.argmax(samples[begin:end]))
            before = samples[max(0, i - int(0.12 * pitch)) : max(1, i - 6)]
            if samples[i] > threshold and before.size and samples[i] > 1.5 * float(before.max()):
                found.append(i)
    return np.sort(np.concatenate([at, np.array(found, dtype=np.int64)])) if found else at


def _burn(work: Work, firings: Firings, k: int) -> Burn | None:
    interval = work.capture.interval_s
    at = int(firings.at[k])
    stop = firings.samples.size if k + 1 >= firings.at.size else int(firings.at[k + 1])
    stop = min(at + round(8e-3 / interval), at + int(0.8 * (stop - at)) if stop > at + 4 else stop)
    found = find_burn(firings.samples[at:stop], 0, interval, firings.rest.sigma)
    return None if found is None else Burn(at, at + found.stop, found.level, found.roughness, found.rings)


def _table(work: Work, firings: Firings, burns: list[Burn | None], places: Places) -> EventTable:
    interval, begin = work.capture.interval_s, work.capture.start_s
    from_s = begin + interval * firings.at.astype(np.float64)
    to_s = begin + np.array([(b.stop if b else a + 1) for a, b in zip(firings.at, burns, strict=True)]) * interval
    table = EventTable("secondary", from_s, to_s, places.cylinder)
    ms, sigma = 1000 * interval, firings.rest.sigma
    tops, lost = firings.samples[firings.at], between_samples(firings.samples, firings.at)
    reach = 10 * interval
    table.put("firing_kv", "kV", tops, np.hypot(sigma, lost), (from_s - reach, from_s + reach), alike=ONE_SIDE)
    coils.put_each(table, "burn_kv", "kV", [None if b is None else (b.level, 0.18 * sigma + 0.001) for b in burns])
    lasted = np.array([np.nan if b is None else (b.stop - b.start) * ms for b in burns])
    table.put("burn_ms", "ms", lasted, np.full(lasted.size, 0.38 * ms))
    coils.put_each(
        table, "burn_hash", "", [None if b is None else (b.roughness, 0.1 * b.roughness + 0.002) for b in burns]
    )
    rings = rings_of(firings.samples, burns, places.cylinder, interval, sigma)
    table.put("rings_count", "", rings, np.full(rings.size, COUNT_DOUBT))
    return table


IDLE, SNAP, OVERRUN, CRANK = 0, 1, 2, 3


def _states(work: Work, table: EventTable) -> NDArray[np.int64]:
    """Engine state at each event: a snap where the user says so, else the run-up to the top of a fast stretch.

    What follows in that stretch is the overrun, which belongs to neither. Where cylinders are told, firings slower than
    any engine runs are cranking.
    """
    out = np.zeros(table.count, dtype=np.int64)
    told = [p for p in work.told.phases if p.name == "snap"]
    if told:
        for p in told:
            out[(table.from_s >= p.from_s) & (table.from_s < p.to_s)] = SNAP
        return out
    # The starter's low supply makes weak sparks.
    out[while_cranking(work, table.from_s)] = CRANK
    if table.count < 12:
        return out
    steps = np.diff(table.from_s)
    local = running_median(np.concatenate([steps[:1], steps]), 5)
    # Idle is the slowest running that lasts: in time, not in events, of which fast running has many more.
    alone = np.flatnonzero(out != CRANK)
    if alone.size < 3:
        return out
    order = alone[np.argsort(-local[alone])]
    slow = order[: 1 + int(np.searchsorted(np.cumsum(local[order]), 0.15 * float(local[alone].sum())))]
    usual = float(np.median(local[slow]))
    for a, b in joined(runs((local < FASTER * usual) & (out != CRANK)), 3):
        if b - a < 4:
            continue
        fastest = a + int(np.argmin(local[a:b]))
        begin = a
        while begin > 0 and local[begin - 1] < 0.97 * local[max(0, begin - 3)]:
            begin -= 1
        out[begin : fastest + 1] = SNAP
        out[fastest + 1 : b] = OVERRUN
    return out if np.sum(out == IDLE) >= 3 else np.where(out == CRANK, CRANK, IDLE)


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


def _judge(
    work: Work, table: EventTable, places: Places, states: NDArray[np.int64], burns: list[Burn | None], sigma: float
) -> None:
    odd_cylinders.note_missing_events(work, table, places, "no_burn", "its firing is", once="misfire_intermittent")
    top = float(np.median(table.values["firing_kv"]))
    if 5 * smoothed_sigma(sigma, work.capture.interval_s) > LEAST_BURN * top:
        work.setup("noisy", f"noise of {sigma:.2g} kV hides the burns: a smaller range", "secondary", hides=True)
        return
    groups = table.cylinders or [0]
    for cylinder in groups:
        own = (table.cylinder == cylinder) if cylinder else np.ones(table.count, dtype=bool)
        _judge_one(work, table, places, cylinder, own, states, burns)
    if table.cylinders:
        _judge_firing(work, table, places)


def _judge_one(
    work: Work,
    table: EventTable,
    places: Places,
    cylinder: int,
    own: NDArray[np.bool_],
    states: NDArray[np.int64],
    burns: list[Burn | None],
) -> None:
    """Burn of one cylinder: absent, short, long, full of hash, collapsing under load, without rings behind it."""
    who = odd_cylinders.name(cylinder, places.by_sync) if cylinder else "the lead"
    quiet, loaded = np.flatnonzero(own & (states == IDLE)), np.flatnonzero(own & (states == SNAP))
    if quiet.size == 0:
        return
    named = cylinder or None
    place = (float(table.from_s[quiet[0]]), float(table.to_s[quiet[0]]) + 0.5e-3)
    lasted = np.nan_to_num(table.values["burn_ms"])
    burn = lasted[quiet]
    loaded_gone = [int(k) for k in loaded if burns[int(k)] is None]
    unloaded = np.flatnonzero(own & (states != SNAP) & (states != CRANK))
    lacking = [int(k) for k in unloaded if burns[int(k)] is None]
    if len(lacking) > 0.5 * unloaded.size:
        text = f"{who}: no burn after the firing line: secondary open, or a spark elsewhere"
        work.fault("no_burn", text, place, "secondary", None, None, named)
        return
    # In a snap a single one is a misfire; many are a coil that fails under load.
    if len(loaded_gone) < max(2, 0.3 * loaded.size):
        lacking = sorted([*lacking, *loaded_gone])
    if lacking:
        first = lacking[0]
        when = f"the first at {table.from_s[first]:.3f} s"
        text = f"{who}: {len(lacking)} of {int(own.sum())} firings without a burn, {when}"
        here = (float(table.from_s[first]), float(table.from_s[first]) + 1e-3)
        work.fault("misfire_intermittent", text, here, "secondary", float(len(lacking)), "", named)
    usual = float(np.median(burn[burn > 0]))
    if usual < SHORT_MS - 0.05 * (LONG_MS - SHORT_MS):
        text = f"{who}: burns for only {usual:.2f} ms where {SHORT_MS:g} ms is the least"
        work.fault("short_burn", text, place, "secondary", usual, "ms", named)
    rough = float(np.nanmedian(table.values["burn_hash"][quiet]))
    if rough > HASH:
        text = f"{who}: the burn is full of hash, {rough:.2f} of its level where {HASH:g} is the most"
        work.fault("burn_hash", text, place, "secondary", rough, "", named)
    counted = table.values["rings_count"][quiet]
    rings = float(np.nanmedian(counted)) if np.isfinite(counted).any() else float("nan")
    if rings < RINGS_SOUND:
        text = f"{who}: {rings:.0f} rings after the burn where {RINGS_SOUND} are the least"
        work.fault("no_rings", text, place, "secondary", rings, "", named)
    if loaded.size and usual >= SHORT_MS:
        under = lasted[loaded]
        least = float(np.median(under))
        gone = int(np.sum(under < SNAP_BURN_MS))
        if gone >= max(2, 0.3 * loaded.size):
            k = int(loaded[int(np.argmin(under))])
            here = (float(table.from_s[k]), float(table.from_s[k]) + 1.5e-3)
            text = f"{who}: the burn falls to {least:.2f} ms in the snap, {usual:.2f} ms at idle: fails under load only"
            work.fault("burn_collapses_on_snap", text, here, "secondary", least, "ms", named)


def _judge_firing(work: Work, table: EventTable, places: Places) -> None:
    """Firing voltages of the cylinders, within 3 to 4 kV of each other."""
    medians = table.of_cylinders("firing_kv")
    if len(medians) < 2:
        return
    for cylinder, value in medians.items():
        others = float(np.median([v for c, v in medians.items() if c != cylinder]))
        who = odd_cylinders.name(cylinder, places.by_sync)
        if value - others > 4.0 and value > 1.3 * others:
            text = f"{who} fires at {value:.1f} kV where the others need {others:.1f} kV: gap, open lead or lean"
            work.fault("high_firing", text, table.first_of(cylinder), "secondary", value, "kV", cylinder)
        elif others - value > 3.0 and value < 0.65 * others:
            text = f"{who} fires at {value:.1f} kV where the others need {others:.1f} kV: fouled or shorted"
            work.fault("low_firing", text, table.first_of(cylinder), "secondary", value, "kV", cylinder)


CIRCUIT = Circuit(
    code="secondary-voltage",
    title="Secondary voltage",
    lanes=(
        LaneSpec("secondary", "Secondary", "signal", "kV", True, (-45.0, 45.0)),
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
        ),
        FindingSpec(
            "burn_hash",
            "Hash in the burn",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("undersampled", "low_range_use"),
        ),
        FindingSpec(
            "burn_collapses_on_snap",
            "Burn collapses on snap",
            "fault",
            "coil",
            ("swap", "load", "spark-gap"),
            faked_by=("undersampled", "low_range_use"),
        ),
        FindingSpec("high_firing", "Firing high", "fault", "secondary", shared.PLUG),
        FindingSpec(
            "low_firing",
            "Firing low",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("clipped", "undersampled", "over_filtered"),
        ),
        FindingSpec(
            "short_burn",
            "Burn short",
            "fault",
            "secondary",
            shared.PLUG,
            faked_by=("undersampled", "low_range_use", "over_filtered", "missing_phase"),
        ),
        FindingSpec(
            "no_rings",
            "No rings",
            "fault",
            "coil",
            shared.COIL,
            faked_by=("undersampled", "over_filtered", "low_range_use", "clipped"),
        ),
        FindingSpec(
            "misfire_intermittent",
            "Misfires now and then",
            "fault",
            "secondary",
            ("load", "swap", "inspect-plug"),
            faked_by=("noisy", "low_range_use", "undersampled", "clipped", "missing_phase"),
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
    proof_phases=("burn",),
    measure=measure,
    opens_on_s=0.2,
    shortest_s=0.004,
    first_asked=("firing_kv", "burn_kv", "burn_ms"),
)
