"""Measuring of airflow sensors: a level or a frequency that rises with the air drawn in."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Limit
from tracebench.core.circuits import extremes, lane_levels, probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.load_steps import Steps, find_states, find_surge
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import TRIM, Span, Work
from tracebench.core.measure.excursions import find_excursions
from tracebench.core.measure.levels import level_of
from tracebench.core.measure.transitions import crossing
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import percentile
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import bridged, running_mean, running_median
from tracebench.core.samples import Samples

VOLTAGE = Steps(tolerance=0.06, key_on_below=0.95, steady_4000_above=1.98, least_rise=0.5)
SURGE_V = Threshold(0.06, "V", "From here a rise and dip are a surge (from memory)")
HIDDEN_SURGE_V = Threshold(
    0.18, "V", "Noise over this hides a surge, whose dip is several tenths of a volt (from memory)"
)

LEAST_GROWTH_V = Threshold(
    0.5,
    "V",
    "From idle to 4,000 a sound voltage-type sensor grows by at least this (common practice, no published source)",
)

TYPE_LIMITS: dict[str, tuple[tuple[str, float | None, float | None], ...]] = {
    "A": (
        ("key_on_v", 0.35, 0.45),
        ("idle_v", 0.9, 1.2),
        ("v_2500", 1.5, 1.9),
        ("v_4000", 2.0, 2.5),
    ),
    "B": (("key_on_v", 0.45, 0.75), ("crank_v", 1.3, 1.6), ("idle_v", 0.7, 1.7)),
    "either": (
        ("key_on_v", 0.35, 0.75),
        ("crank_v", 0.9, 1.7),
        ("idle_v", 0.7, 2.0),
        ("v_2500", 1.5, 2.0),
        ("v_4000", 2.0, 2.8),
    ),
}
"""Common practice, no published source; without a type the union of both, a cold fast idle included."""

_IDS = {
    "key_on_v": "key_on",
    "crank_v": "crank",
    "idle_v": "idle",
    "v_2500": "steady_2500",
    "v_4000": "steady_4000",
}


def measure_voltage(work: Work) -> Work:
    """All readings and findings of a voltage-type airflow sensor."""
    supply = lane_levels.read_steady_lane(work, "supply_v", "supply")
    lane_levels.read_steady_lane(work, "ground_v", "ground")
    held = bridged(work.samples("signal"), probe.take_slips(work, "signal"))
    if setup.is_flat(held, 0.08) and _no_signal(work, held, supply is not None and supply.value > 8.0):
        return work
    # A whole cycle of mains hum, or nearly, so that states are not told from its beat with the grid.
    grid = thinning.on_grid(work, held, 0.020)
    found, snaps = find_states(grid, VOLTAGE)
    work.settle_phases(found)
    clean = _take_dropouts(work, held, grid, snaps)
    for reading_id, name in _IDS.items():
        # Cranking is short, and runs up and over into its neighbours.
        lane_levels.read_level(work, reading_id, work.phase(name), "signal", trim=0.25 if name == "crank" else TRIM)
    _read_snap(work, clean)
    _judge_levels(work)
    return work


def _no_signal(work: Work, held: Samples, powered: bool) -> bool:
    level = level_of(thinning.thin(held))
    if level.value > 0.25:
        return False
    if powered or work.told.phases:
        text = f"stays at {level.value:.2f} V while the sensor is powered"
        work.fault("no_signal", text, None, "signal", level.value, "V")
    else:
        probe.note_dead(work, "signal", level.value)
    return True


def _take_dropouts(work: Work, held: Samples, grid: Grid, snaps: list[tuple[int, int]]) -> Samples:
    """The signal without excursions; what is no part of a snap or of the run-up is a dropout where it falls."""
    moving = [(grid.time_s(a) - 0.1, grid.time_s(b)) for a, b in snaps]
    # The engine runs up and settles for a second after cranking.
    moving += [(p.from_s - 0.4, p.to_s + 1.2) for p in work.phases_of("crank")]
    found = [
        e
        for e in find_excursions(held, work.capture.interval_s, 0.150, 0.12, medians_of=work.block_medians)
        if not any(a <= work.capture.time_s(e.peak) <= b for a, b in moving)
    ]
    falls = [e for e in probe.without_interference(work, held, found, "signal") if e.depth < 0]
    for e in falls:
        probe.note_dropout(work, e, "signal")
    work.add("dropouts_count", len(falls), "", 0.0, work.whole, "signal")
    return bridged(held, [(e.start, e.stop) for e in found])


def _read_snap(work: Work, clean: Samples) -> None:
    snap = next(iter(work.phases_of("snap")), None)
    if snap is None or record_checks.is_cut_off(work, clean, snap):
        return
    interval = work.capture.interval_s
    start, stop = work.indices((snap.from_s - 0.05, snap.to_s))
    block = max(1, round(0.005 / interval))
    # Noise must not make a surge: over 15 ms it is down by the root of the samples in them.
    smooth = running_mean(running_median(clean[start:stop], 3 * block), 3 * block)
    # A mean of medians, both over the same width, comes to 0.96 of a mean's own noise.
    doubt = 0.96 * float(np.hypot(sample_noise(clean), resolution(clean) / np.sqrt(12)) / np.sqrt(3 * block))
    surge = find_surge(smooth, interval, 0, smooth.size, max(SURGE_V, 6 * doubt))
    parts: list[tuple[str, int | None]] = [
        ("snap_peak_v", surge.peak),
        ("snap_dip_v", surge.dip),
        ("snap_top_v", surge.top),
    ]
    for reading_id, at in parts:
        if at is not None:
            near = np.flatnonzero(np.abs(smooth - smooth[at]) > 3 * doubt)
            left, right = near[near < at], near[near > at]
            flat = int((right[0] if right.size else smooth.size) - (left[-1] if left.size else -1)) - 1
            # Windows that overlap are nearly two independent rivals in each width; how many is a guess.
            excess, own = extremes.excess_of_largest(doubt, round(1.9 * flat / (3 * block)))
            own = float(np.hypot(own, 0.5 * doubt))
            value = float(smooth[at]) + (excess if reading_id == "snap_dip_v" else -excess)
            if reading_id == "snap_peak_v":
                value, own = _narrow_top(clean, start + at, interval, value, own)
            here = work.capture.time_s(start + at)
            work.add(reading_id, value, "V", own, (here - 0.0075, here + 0.0075), "signal")
    if surge.peak is None:
        text = "climbs with speed only: the first surge of the filling manifold is missing"
        if 6 * doubt > HIDDEN_SURGE_V:
            work.setup("noisy", "noise hides the first surge of the snap", "signal", hides=True)
        elif setup.is_noiseless(work.samples("signal")):
            # A low-pass filter levels the surge, too.
            text += ", and the lane has no noise: a filter is on, or it is the sensor; capture again without"
            work.setup("over_filtered", text, "signal", (snap.from_s, snap.to_s), hides=True)
        else:
            work.fault("missing_surge", text, (snap.from_s, snap.to_s), "signal")
        return
    _surge_time(work, start, stop, surge.peak)


NARROW_S = Threshold(0.002, "s", "A surge may be as narrow as 10 ms, of which a mean over 15 ms takes off a fifth")


def _narrow_top(clean: Samples, at: int, interval: float, value: float, doubt: float) -> tuple[float, float]:
    """The top about sample `at` in means over 2 ms, where it stands out of that of 15 ms by more than noise does."""
    width = max(1, round(NARROW_S / interval))
    reach = round(0.01 / interval)
    part = running_mean(clean[max(0, at - reach) : at + reach + 1], width)
    noise = float(np.hypot(sample_noise(clean), resolution(clean) / np.sqrt(12))) / np.sqrt(width)
    excess, own = extremes.excess_of_largest(noise, max(1, round(1.9 * part.size / width)))
    top = float(part.max()) - excess
    return (top, float(np.hypot(own, noise))) if top - value > 4 * float(np.hypot(own, doubt)) else (value, doubt)


def _surge_time(work: Work, start: int, stop: int, peak: int) -> None:
    throttle = work.lane("throttle")
    if throttle is None:
        work.miss("surge_ms", "no throttle lane in this capture")
        return
    before = max(0, start - round(0.5 / work.capture.interval_s))
    part = throttle[before:stop]
    shut, opened = percentile(part, 2), percentile(part, 98)
    half = crossing(throttle, before, before + int(np.argmax(part)) + 1, 0.5 * (shut + opened), opened - shut)
    if opened - shut < 0.5 or half is None:
        work.miss("surge_ms", "the throttle does not move in this capture")
        return
    interval = work.capture.interval_s
    took = (start + peak - half.index) * interval
    span: Span = (work.capture.time_s(half.index), work.capture.time_s(start + peak))
    work.add("surge_ms", 1000 * took, "ms", 1000 * float(np.hypot(half.uncertainty * interval, 0.004)), span, "signal")


def _judge_levels(work: Work) -> None:
    kind = work.told.options.get("type", "either")
    work.limits += [Limit(r, low, high) for r, low, high in TYPE_LIMITS[kind]]
    idle, v_2500, v_4000 = (work.value(r) for r in ("idle_v", "v_2500", "v_4000"))
    rising = [v for v in (idle, v_2500, v_4000) if v is not None]
    if rising != sorted(rising):
        work.fault("not_rising", "the output does not rise from idle over 2,500 to 4,000", None, "signal")
    top = v_4000 if v_4000 is not None else work.value("snap_top_v")
    if idle is not None and top is not None and top - idle < LEAST_GROWTH_V:
        text = f"grows by only {top - idle:.2f} V from idle to load: contaminated element, or air that is not drawn in"
        work.fault("low_under_load", text, None, "signal", top - idle, "V")
