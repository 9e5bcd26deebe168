"""What is read while the throttle moves: durations, speed under the school in force, reversals."""

from __future__ import annotations

import itertools

import numpy as np

from tracebench.circuits.throttle_position.levels import Rests
from tracebench.circuits.throttle_position.work import Sweep, on_grid
from tracebench.core.answer import Reading
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.measure.sweeps import largest_reversal
from tracebench.core.measure.transitions import Transition, transition
from tracebench.core.robust.noise import robust_sigma
from tracebench.core.robust.series import bridged, running_mean

SLOW_S = Threshold(4.0, "s", "Slow school: seconds a way (common practice, no published source)")

ANY_SPEED_SAMPLES = Count(
    200,
    "samples",
    "Samples across the travel from which a quick sweep still shows worn spots (common practice, no published source)",
)

_SMOOTH_S = Threshold(0.06, "s", "Shorter than any movement of a hand")


def read_durations(work: Sweep, closed: Rests, opened: Rests) -> None:
    """10-90 % durations between neighbouring rests, one per cycle; the summary is the slowest."""
    rests = sorted([*closed, *opened], key=lambda pl: pl[0].from_s)
    by_name: dict[str, list[Reading]] = {"opening_s": [], "closing_s": []}
    fastest: tuple[float, Reading] | None = None
    for (before, low), (after, high) in itertools.pairwise(rests):
        if before.name == after.name:
            continue
        reading_id = "opening_s" if before.name == "closed" else "closing_s"
        start = work.capture.index((before.from_s + before.to_s) / 2)
        stop = work.capture.index((after.from_s + after.to_s) / 2)
        moved = transition(work.clean, start, stop + 1, low.value, high.value)
        if moved is None:
            continue
        reading = _duration(work, reading_id, moved, before.cycle)
        by_name[reading_id].append(reading)
        if fastest is None or moved.samples < fastest[0]:
            fastest = (moved.samples, reading)
    for reading_id, per_cycle in by_name.items():
        work.readings += per_cycle
        if per_cycle:
            slowest = max(per_cycle, key=lambda r: r.value)
            span = (slowest.from_s, slowest.to_s)
            work.add(reading_id, slowest.value, "s", slowest.uncertainty, span, "signal")
    if fastest is not None:
        _judge_speed(work, *fastest)


def _duration(work: Sweep, reading_id: str, moved: Transition, cycle: int | None) -> Reading:
    a, b = sorted((moved.at_10.index, moved.at_90.index))
    interval = work.capture.interval_s
    value, uncertainty = float(moved.samples * interval), float(moved.uncertainty * interval)
    span = work.capture.time_s(a), work.capture.time_s(b)
    return Reading(reading_id, value, "s", uncertainty, *span, "signal", None, cycle)


def _judge_speed(work: Sweep, samples: float, fastest: Reading) -> None:
    span = (fastest.from_s, fastest.to_s)
    travel_samples = samples / 0.8
    if not enough(samples, setup.FEWEST_SAMPLES):
        text = f"only {samples:.0f} samples from 10 to 90 % of the travel; {setup.FEWEST_SAMPLES} are needed"
        work.setup("undersampled", text, "signal", span, hides=True)
    dense = travel_samples >= ANY_SPEED_SAMPLES
    school = work.told.options.get("sweep", "slow")
    slowest = max(r.value for r in work.readings if r.id in ("opening_s", "closing_s"))
    if school == "slow" and slowest < SLOW_S * 0.95:
        text = f"the slowest movement takes {slowest:.2g} s from 10 to 90 %; slow sweeps of {SLOW_S:g} s are wanted" + (
            f", though {travel_samples:.0f} samples across the travel still show short faults" if dense else ""
        )
    elif school == "any" and not dense:
        text = (
            f"{travel_samples:.0f} samples across the quickest travel; at this speed "
            f"{ANY_SPEED_SAMPLES} or more are wanted"
        )
    else:
        return
    work.setup("sweep_too_fast", text, "signal", span, hides=not dense)


def read_reversal(work: Sweep) -> None:
    """The largest step against the travel that stays, on the trend smoothed over 60 ms."""
    # A fall that returns is a dropout's business, with the shoulders that the smoothing would make of it.
    shoulder = max(1, round(0.5 * _SMOOTH_S / work.capture.interval_s))
    size = work.clean.size
    clear = bridged(work.clean, [(max(0, e.start - shoulder), min(size, e.stop + shoulder)) for e in work.excursions])
    grid, grid_s = on_grid(work, clear)
    width = max(1, round(_SMOOTH_S / grid_s))
    smooth = running_mean(grid, width)
    worst: tuple[float, int] | None = None
    for phase in (*work.phases_of("opening"), *work.phases_of("closing")):
        start = round((phase.from_s - work.capture.start_s) / grid_s)
        stop = round((phase.to_s - work.capture.start_s) / grid_s)
        found = largest_reversal(smooth, start, stop, phase.name == "opening")
        if stop > start and (worst is None or found[0] > worst[0]):
            worst = found
    if worst is None:
        work.miss("reversal_v", "no movement in this capture")
        return
    # The largest of many noisy differences is never zero: what noise alone would give is taken off.
    sigma = robust_sigma(np.diff(smooth[::width])) if worst[0] > 0 else 0.0
    at = work.capture.start_s + worst[1] * grid_s
    noise = robust_sigma(np.diff(grid)) / np.sqrt(2.0) / np.sqrt(width)
    value = max(0.0, worst[0] - 4 * min(noise, sigma))
    work.add("reversal_v", value, "V", float(noise), (max(work.capture.start_s, at - 0.15), at), "signal")
