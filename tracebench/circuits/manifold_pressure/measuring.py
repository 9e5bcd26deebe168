"""Levels, rise, overrun and following of manifold pressure."""

from __future__ import annotations

import numpy as np

from tracebench.circuits.manifold_pressure import phases
from tracebench.core.answer import Limit, Phase
from tracebench.core.circuits import extremes, lane_levels, probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.threshold import Threshold, reach
from tracebench.core.circuits.work import Work, inner
from tracebench.core.measure.excursions import Excursion, find_excursions
from tracebench.core.measure.levels import level_of
from tracebench.core.measure.transitions import crossing, transition
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.series import bridged, rank_correlation
from tracebench.core.samples import Samples
from tracebench.core.transfer import Linear, standard_pressure_kpa, through

GRID_S = Threshold(
    0.010, "s", "The course is followed on medians of this length: quicker than a build-up, slower than intake pulses"
)
DROPOUT_FLOOR_V = Threshold(0.15, "V", "Intake pulses reach nearly this: a dropout is deeper (from memory)")
LEAST_GAIN_V = Threshold(
    0.10, "V", "How far the overrun must fall below idle to count as a gain (common practice, no published source)"
)

BARO_KPA = Threshold(4.0, "kPa", "How far a told barometer may be missed (common practice, no published source)")

KEY_ON_V = reach(
    4.4, 4.8, "V", "Output at a barometer of sea level, engine stopped (common practice, no published source)"
)
SNAP_V = reach(4.2, 4.8, "V", "Output at the top of a snap, a tenth over 4.7 (common practice, no published source)")


def measure(work: Work) -> Work:
    """All readings and findings of one manifold pressure capture."""
    transfer = through(
        "kPa", 0.5, work.number("kpa_at_0_5_v", 20.0, -50, 500), 4.7, work.number("kpa_at_4_7_v", 105.0, 1, 1000)
    )
    _unswap_throttle(work)
    slips = probe.take_slips(work, "signal")
    held = bridged(work.samples("signal"), slips)
    excursions = find_excursions(held, work.capture.interval_s, 0.150, DROPOUT_FLOOR_V, medians_of=work.block_medians)
    grid = thinning.on_grid(work, bridged(held, [(e.start, e.stop) for e in excursions if e.depth < 0]), GRID_S)
    throttle = work.lane("throttle")
    found = phases.find(grid, None if throttle is None else thinning.on_grid(work, throttle, GRID_S))
    work.settle_phases(found.phases)
    if _stuck(work, held, throttle):
        return work
    clean = _dropouts(work, held, excursions)
    _levels(work, transfer)
    _snap(work, clean, transfer)
    _beside(work)
    return work


def _unswap_throttle(work: Work) -> None:
    """Key on, a pressure lane shows the weather, near its top, and a throttle rests near its bottom."""
    throttle = work.lane("throttle")
    if throttle is None:
        return
    head = max(1, round(0.3 / work.capture.interval_s))
    here, there = (median(x[:head]) for x in (work.samples("signal"), throttle))
    usual = median(thinning.thin(throttle))
    # A throttle held open at the start falls back to its rest and no lower; a pressure goes below its idle later.
    if there > 3.4 and here < 1.2 and usual < 0.6 * there and percentile(throttle, 1) < 0.75 * usual:
        text = "the throttle lane shows the weather and the signal rests: read exchanged"
        probe.exchange(work, "signal", "throttle", text)


def _stuck(work: Work, held: Samples, throttle: Samples | None) -> bool:
    """A level that does not answer to a moving throttle or to told phases is stuck; without proof a flat line."""
    told = {p.name for p in work.told.phases}
    flat = setup.is_flat(held, 0.08)
    if not flat:
        return False
    level = level_of(thinning.thin(held))
    moved = throttle is not None and not setup.is_flat(throttle, 0.6)
    if moved or {"idle", "snap"} <= told or {"key_on", "idle"} <= told:
        text = f"stays at {level.value:.2f} V whatever the engine does"
        work.fault("sensor_stuck", text, None, "signal", level.value, "V")
        return True
    if level.value < 0.15:
        probe.note_dead(work, "signal", level.value)
        return True
    return False


def _dropouts(work: Work, held: Samples, found: list[Excursion]) -> Samples:
    """The signal with excursions bridged; those outside cranking and snaps are faults where they fall."""
    quiet = [p for p in work.phases if p.name in ("key_on", "idle", "settle", "overrun")]
    own = set(probe.without_interference(work, held, found, "signal"))
    count = 0
    taken = []
    for e in found:
        at_s = work.capture.time_s(e.peak)
        if not any(p.from_s + 0.1 <= at_s <= p.to_s - 0.1 for p in quiet):
            continue
        taken.append((e.start, e.stop))
        if e.depth < 0 and e in own:
            count += 1
            probe.note_dropout(work, e, "signal")
    work.add("dropouts_count", count, "", 0.0, work.whole, "signal")
    return bridged(held, taken)


def _levels(work: Work, transfer: Linear) -> None:
    for name in ("key_on", "idle"):
        phase = work.phase(name)
        level = lane_levels.read_level(work, f"{name}_v", phase, "signal")
        if level is not None and phase is not None:
            kpa = transfer.of(level.value)
            work.add(f"{name}_kpa", kpa, "kPa", abs(transfer.per_volt) * level.uncertainty, inner(phase), "signal")
    _barometer(work, transfer)


def _barometer(work: Work, transfer: Linear) -> None:
    """Key-on limits: the barometer told, or the air at an altitude told, else sea level by common practice."""
    if "barometer_kpa" in work.told.options:
        kpa = work.number("barometer_kpa", 101.3, 50, 110)
    elif "altitude_m" in work.told.options:
        kpa = standard_pressure_kpa(work.number("altitude_m", 0, -500, 6000))
    else:
        work.limits.append(Limit("key_on_v", *KEY_ON_V))
        key_on = work.value("key_on_v")
        # A snap comes near the air pressure that the same sensor read before it.
        low = SNAP_V[0] if key_on is None else key_on - 0.35
        work.limits.append(Limit("snap_peak_v", low, SNAP_V[1] if key_on is None else max(SNAP_V[1], key_on + 0.2)))
        return
    low, high = sorted((transfer.volts(kpa - BARO_KPA), transfer.volts(kpa + BARO_KPA)))
    work.limits.append(Limit("key_on_v", low, high))
    work.limits.append(Limit("snap_peak_v", low - 0.2, high + 0.1))


def _snap(work: Work, clean: Samples, transfer: Linear) -> None:
    snap = next(iter(work.phases_of("snap")), None)
    idle_v = work.value("idle_v")
    if snap is None or idle_v is None or record_checks.is_cut_off(work, clean, snap):
        return
    interval = work.capture.interval_s
    start, stop = work.indices((snap.from_s, snap.to_s))
    stop = min(clean.size, stop + max(1, round(0.02 / interval)))
    peak, at, _ = extremes.read_extreme(
        work, "snap_peak_v", clean[start:stop], "signal", 0.020, largest=True, start=start
    )
    before = max(0, start - round(0.15 / interval))
    moved = transition(clean, before, start + at + 1, idle_v, lane_levels.top_of(clean[start:stop], idle_v, peak))
    if moved is not None and peak - idle_v > phases.LEAST_SWING_V:
        extremes.read_rise(work, "rise_ms", moved, "signal")
    _overrun(work, clean, idle_v)
    _follow(work, clean, snap, idle_v, peak)


def _overrun(work: Work, clean: Samples, idle_v: float) -> None:
    overrun = next(iter(work.phases_of("overrun")), None)
    if overrun is None:
        return
    start, stop = work.indices((overrun.from_s, overrun.to_s))
    lowest, _, _ = extremes.read_extreme(
        work, "overrun_v", clean[start:stop], "signal", 0.020, largest=False, start=start
    )
    if idle_v - lowest < LEAST_GAIN_V:
        text = f"falls only to {lowest:.2f} V in the overrun where idle is {idle_v:.2f} V: no gain in vacuum"
        work.fault("no_overrun_gain", text, (overrun.from_s, overrun.to_s), "signal", idle_v - lowest, "V")


def _follow(work: Work, clean: Samples, snap: Phase, idle_v: float, peak: float) -> None:
    throttle = work.lane("throttle")
    if throttle is None:
        for reading_id in ("throttle_follow", "throttle_lag_ms"):
            work.miss(reading_id, "no throttle lane in this capture")
        return
    start, stop = work.indices((snap.from_s - 0.4, snap.to_s + 0.6))
    one, two = (thinning.on_grid(work, x[start:stop], 0.005).values for x in (throttle, clean))
    span = (snap.from_s, snap.to_s)
    if np.ptp(one) > phases.LEAST_SWING_V:
        # In steps of a twentieth of the swing, so that noise on the rests does not shuffle their ranks.
        ranked = [np.round(20 * (x - x.min()) / max(float(np.ptp(x)), 1e-9)) for x in (one, two)]
        together = rank_correlation(*ranked)
        work.add("throttle_follow", together, "", (1 - together**2) / np.sqrt(one.size - 1), span, "signal")
        _lag(work, throttle, clean, start, stop, idle_v, peak)


def _lag(work: Work, throttle: Samples, clean: Samples, start: int, stop: int, idle_v: float, peak: float) -> None:
    part = throttle[start:stop]
    shut, opened = percentile(part, 5), percentile(part, 95)
    pedal_up = start + int(np.argmax(part))
    pressure_up = start + int(np.argmax(clean[start:stop]))
    if peak - idle_v < phases.LEAST_SWING_V or pedal_up <= start or pressure_up <= start:
        return
    one = crossing(throttle, start, pedal_up + 1, 0.5 * (shut + opened), opened - shut)
    two = crossing(clean, start, pressure_up + 1, 0.5 * (idle_v + peak), peak - idle_v)
    if one is None or two is None:
        return
    interval = work.capture.interval_s
    doubt = 1000 * float(np.hypot(one.uncertainty, two.uncertainty)) * interval
    span = tuple(sorted((work.capture.time_s(one.index), work.capture.time_s(two.index))))
    work.add("throttle_lag_ms", 1000 * (two.index - one.index) * interval, "ms", doubt, (span[0], span[1]), "signal")


def _beside(work: Work) -> None:
    """Mixture in the snap and the overrun, where a narrow-band oxygen lane was recorded."""
    oxygen = work.lane("oxygen")
    snap, overrun = work.phase("snap"), work.phase("overrun")
    if oxygen is None or snap is None or overrun is None:
        return
    a, b = work.indices((snap.from_s, overrun.to_s))
    rich = percentile(oxygen[a:b], 95)
    c, d = work.indices((overrun.from_s, overrun.to_s + 1.0))
    lean = percentile(oxygen[c:d], 5)
    acts = "overrun fuel cut acts" if lean < 0.2 else "no overrun fuel cut shows"
    said = "rich" if rich > 0.7 else "not rich"
    text = f"oxygen {rich:.2f} V in the snap ({said}), {lean:.2f} V after it: {acts}"
    work.find("mixture", "note", text, (snap.from_s, overrun.to_s), "oxygen")
