"""Rail pressure: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits import extremes, lane_levels, probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.transitions import Instant, crossing, transition
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median, percentile, percentile_span
from tracebench.core.robust.noise import detrended, percentile_range
from tracebench.core.robust.series import bridged, joined, running_median, runs
from tracebench.core.samples import Samples

HUNTING_MV = Threshold(
    150.0, "mV", "Idle ripple from which a rail hunts, 5th to 95th percentile (common practice, no published source)"
)

STEP_V = Threshold(0.25, "V", "A change under this is no manoeuvre (from memory)")
KEY_ON_BELOW_V = Threshold(
    0.75, "V", "Before the start the rail stands under this (common practice, no published source)"
)
SLOWEST_DECAY_S = Threshold(
    30.0, "s", "A record that ends sooner after the stop does not show a slow leak (from memory)"
)

HELD_S = Threshold(4.0, "s", "After so long a rail that is relieved has lost a part of its pressure (from memory)")
HELD_PART = Threshold(0.1, "", "Part of the way down that it has lost by then at the least (from memory)")

REST_V = Threshold(0.5, "V", "Level of no pressure (common practice, no published source)")

START_S = Threshold(0.5, "s", "A hump that begins this soon after the idle level is reached belongs to the start")


def measure(work: Work) -> Work:
    """Levels, build-up, rise, ripple and decay of a rail pressure record."""
    held = bridged(work.samples("signal"), probe.take_slips(work, "signal"))
    if setup.is_flat(held, 0.1) and median(thinning.thin(held)) < 0.15:
        work.settle_phases([])
        probe.note_dead(work, "signal", median(held))
    else:
        found, own = probe.judge_dropouts(work, held, "signal", 0.20)
        work.add("dropouts_count", sum(e.depth < 0 for e in own), "", 0.0, work.whole, "signal")
        clean = bridged(held, [(e.start, e.stop) for e in found])
        work.settle_phases(_phases(thinning.on_grid(work, clean, 0.010)))
        _read(work, clean)
    return work


def _phases(grid: Grid) -> list[Phase]:
    """A low rest first is key on, then cranking up to the idle level; humps over it are accelerations."""
    v = running_median(grid.values, max(3, round(0.15 / grid.interval_s)))
    out: list[Phase] = []
    first = _key_on(v, grid, out)
    level, spread = _idle_level(v[first:])
    if level < KEY_ON_BELOW_V:
        return out
    arrived = np.flatnonzero(v[first:] >= level - max(0.1, 0.7 * spread))
    begin = first + int(arrived[0])
    if first and begin > first:
        out.append(grid.phase("crank", first, begin))
    below = v[begin:] < level - max(0.12, 0.8 * spread)
    stop = v.size
    if below[-1]:
        stop = begin + int(np.flatnonzero(~below)[-1]) + 1
        # Back to where it left idle, which the threshold only notices later.
        at_rest = np.flatnonzero(v[begin:stop] >= level - max(0.02, 0.25 * spread))
        stop = begin + int(at_rest[-1]) + 1 if at_rest.size else stop
        out.append(grid.phase("stop", stop, v.size))
    over = level + max(STEP_V, 0.9 * spread)
    humps = [
        h
        for h in joined(runs(v[begin:stop] > over), round(0.1 / grid.interval_s))
        if h[1] - h[0] > 0.2 / grid.interval_s
    ]
    last = begin
    if first == 0 and humps and humps[0][0] == 0:
        # The record begins in a movement: what is left of it is no acceleration, and idle begins behind it.
        last = begin + humps.pop(0)[1]
    after = humps[1][0] if len(humps) > 1 else stop - begin
    if first and humps and humps[0][0] * grid.interval_s < START_S and humps[0][1] - humps[0][0] < after - humps[0][1]:
        # Pressure that shoots over as the engine starts is no acceleration: idle begins behind it.
        last = begin + humps.pop(0)[1]
    for k, (a, b) in enumerate(humps):
        if begin + a > last:
            out.append(grid.phase("idle" if k == 0 else "idle_after", last, begin + a))
        out.append(grid.phase("accelerate", begin + a, begin + b))
        last = begin + b
    if stop > last:
        out.append(grid.phase("idle_after" if humps else "idle", last, stop))
    return [p for p in out if p.to_s - p.from_s > 0.1]


def _key_on(v: Samples, grid: Grid, out: list[Phase]) -> int:
    """The rest before cranking as a phase; answers where it ends, 0 without one."""
    head = median(v[: max(3, round(0.3 / grid.interval_s))])
    if head >= KEY_ON_BELOW_V:
        return 0
    left = np.flatnonzero(v > head + 0.06)
    stop = int(left[0]) if left.size else v.size
    if stop * grid.interval_s >= 0.2:
        out.append(grid.phase("key_on", 0, stop))
    return stop


def _idle_level(live: Samples) -> tuple[float, float]:
    """Median and spread (about 10th to 90th percentile) of what lies below half way to the peak."""
    awake = live[live > KEY_ON_BELOW_V]
    if awake.size < 5:
        return 0.0, 0.0
    low = percentile(awake, 20)
    part = awake[(awake < 0.5 * (low + float(awake.max()))) | (awake < low + 2 * STEP_V)]
    level = median(part)
    near = part[np.abs(part - level) < 0.6]
    if near.size == 0:
        return level, 0.0
    # By quartiles: a short acceleration to no great height must not pass for unrest.
    return level, 1.35 * percentile_span(near, 25, 75)


def _read(work: Work, clean: Samples) -> None:
    lane_levels.read_level(work, "key_on_v", work.phase("key_on"), "signal")
    idle = next(iter(work.phases_of("idle")), None)
    lane_levels.read_level(work, "idle_v", idle, "signal")
    idle_v = work.value("idle_v")
    _crank(work, clean, idle_v)
    if idle is not None:
        _ripple(work, clean, idle)
    _accelerate(work, clean, idle_v)
    _decay(work, clean, idle_v)


def _crank(work: Work, clean: Samples, idle_v: float | None) -> None:
    crank, key_on = work.phase("crank"), work.value("key_on_v")
    if crank is None:
        return
    start, stop = work.indices((crank.from_s, crank.to_s))
    extremes.read_extreme(work, "crank_peak_v", clean[start:stop], "signal", 0.020, largest=True, start=start)
    if idle_v is None or key_on is None:
        return
    begin = max(0, start - round(0.3 / work.capture.interval_s))
    step = idle_v - key_on
    idle = next(iter(work.phases_of("idle")), crank)
    later = work.indices((idle.from_s, idle.to_s))[1]
    over = np.flatnonzero(clean[start:later] >= key_on + 0.97 * step)
    end = start + int(over[0]) + 1 if over.size else later
    built = crossing(clean, begin, max(end, stop), key_on + 0.9 * step, step)
    left = crossing(clean, begin, stop, key_on + 0.1 * step, step)
    if built is None or left is None:
        return
    # Cranking begins a tenth of the way up, less the same slope carried back to the key-on level.
    interval = work.capture.interval_s
    took = (built.index - left.index) * 0.9 / 0.8 * interval
    span = (work.capture.time_s(built.index) - took, work.capture.time_s(built.index))
    doubt = 1000 * 0.9 / 0.8 * float(np.hypot(built.uncertainty, left.uncertainty)) * interval
    work.add("build_ms", 1000 * took, "ms", doubt, span, "signal")


def _ripple(work: Work, clean: Samples, idle: Phase) -> None:
    start, stop = work.indices((idle.from_s, idle.to_s), 0.15)
    part = detrended(clean[start:stop])
    ripple, doubt = percentile_range(part, 5.0, 95.0, resolution(clean))
    span = work.span(start, stop)
    work.add("idle_ripple_mv", 1000 * ripple, "mV", 1000 * doubt, span, "signal")
    slow = running_median(part, max(3, round(0.05 / work.capture.interval_s)))
    swing = 1000 * percentile_span(slow, 2.5, 97.5)
    if swing > HUNTING_MV:
        text = f"pressure swings by {swing:.0f} mV at idle, over {HUNTING_MV:.0f} mV"
        work.fault("pressure_hunting", text, (idle.from_s, idle.to_s), "signal", swing, "mV")


def _accelerate(work: Work, clean: Samples, idle_v: float | None) -> None:
    phases = [p for p in work.phases_of("accelerate") if not record_checks.is_cut_off(work, clean, p)]
    if not phases or idle_v is None:
        return
    stretches = [work.indices((p.from_s, p.to_s)) for p in phases]
    start, stop = max(stretches, key=lambda ab: float(clean[ab[0] : ab[1]].max()))
    peak, at, _ = extremes.read_extreme(work, "peak_v", clean[start:stop], "signal", 0.020, largest=True, start=start)
    before = max(0, start - round(0.6 / work.capture.interval_s))
    state = lane_levels.top_of(clean[start : work.indices((phases[0].from_s, phases[-1].to_s))[1]], idle_v, peak)
    moved = transition(clean, before, start + at + 1, idle_v, state)
    if moved is not None:
        extremes.read_rise(work, "rise_ms", moved, "signal")


def _decay(work: Work, clean: Samples, idle_v: float | None) -> None:
    stop_phase = work.phase("stop")
    if stop_phase is None or idle_v is None:
        return
    start, stop = work.indices((stop_phase.from_s, stop_phase.to_s))
    before = max(0, start - round(0.3 / work.capture.interval_s))
    key_on = work.value("key_on_v")
    at_end = median(clean[-max(8, (stop - start) // 10) :])
    # Without a key-on level, one that is left far over any rest is not taken for it.
    rest = key_on if key_on is not None else min(at_end, REST_V) if at_end > 0.8 * idle_v else at_end
    down = crossing(clean, before, stop, rest + 0.37 * (idle_v - rest), rest - idle_v)
    if down is None:
        lasted = stop_phase.to_s - stop_phase.from_s
        text = f"has not come down after {lasted:.1f} s"
        left = median(clean[-max(8, (stop - start) // 10) :])
        held = lasted > HELD_S and idle_v - left < HELD_PART * (idle_v - REST_V)
        if lasted > SLOWEST_DECAY_S or held:
            work.fault("no_decay", text, (stop_phase.from_s, stop_phase.to_s), "signal")
        work.miss("stop_decay_s", f"the level {text}")
        return
    begin = _left_idle(work, clean, before, stop, idle_v, rest)
    end = work.capture.time_s(down.index)
    doubt = float(np.hypot(down.uncertainty, begin.uncertainty)) * work.capture.interval_s
    span = (work.capture.time_s(begin.index), end)
    work.add("stop_decay_s", span[1] - span[0], "s", doubt, span, "signal")


def _left_idle(work: Work, clean: Samples, before: int, stop: int, idle_v: float, rest: float) -> Instant:
    """Where the pressure begins to fall: the beginning that was told, else its first fall carried back to idle."""
    told = next((p for p in work.told.phases if p.name == "stop"), None)
    if told is not None:
        return Instant((told.from_s - work.capture.start_s) / work.capture.interval_s, 0.0)
    step = rest - idle_v
    # From the last sample about idle on: ripple before it goes through the upper marks too.
    idling = np.flatnonzero(clean[before:stop] >= idle_v + 0.03 * step)
    begin = before + (int(idling[-1]) if idling.size else 0)
    marks = [crossing(clean, begin, stop, idle_v + part * step, step) for part in _FALL]
    if any(m is None for m in marks):
        return Instant(float(before), 0.5 * (stop - before))
    # Back to none of the fall: exact for an exponential, to 0.15 % of its time for a straight line.
    index = sum(w * m.index for w, m in zip(_BACK, marks, strict=True) if m is not None)
    doubt = float(np.linalg.norm([w * m.uncertainty for w, m in zip(_BACK, marks, strict=True) if m is not None]))
    return Instant(float(index), doubt)


def _weights_at_start(parts: tuple[float, ...]) -> tuple[float, ...]:
    """Lagrange's weights, at no fall at all, of instants at parts of it; over the logarithm of what is left."""
    y = [-float(np.log1p(-p)) for p in parts]
    return tuple(float(np.prod([b / (b - a) for b in y if b != a])) for a in y)


_FALL = (0.12, 0.20, 0.32)
_BACK = _weights_at_start(_FALL)
