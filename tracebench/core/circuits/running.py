"""Steps that circuits of a running engine share: grids, levels of phases, dropouts, slips, set-up checks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import NormalDist
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Phase
from tracebench.core.capture import Samples
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.work import TRIM, Span, Work, inner
from tracebench.core.measure.excursions import Excursion, find_excursions
from tracebench.core.measure.levels import Level, level_of
from tracebench.core.measure.noise import resolution, sample_noise
from tracebench.core.measure.series import block_medians, joined, runs
from tracebench.core.measure.transitions import Transition

_QUANTILE = NormalDist().inv_cdf

LEAST_EVENTS_S = 0.1
"""Less than a turn of an idling engine: a shorter record may lie between two events of a cylinder."""

SLIP_ZERO_V = 0.08
SLIP_SHORTEST_S = 0.150


@dataclass(frozen=True, slots=True, eq=False)
class Grid:
    """A lane on a coarser grid of block medians."""

    values: Samples
    interval_s: float
    start_s: float

    def time_s(self, index: float) -> float:
        return self.start_s + index * self.interval_s

    def index(self, time_s: float) -> int:
        return int(min(max(round((time_s - self.start_s) / self.interval_s), 0), self.values.size - 1))

    def phase(self, name: str, start: int, stop: int) -> Phase:
        return Phase(name, self.time_s(start), self.time_s(stop))


def on_grid(work: Work, samples: Samples, grid_s: float) -> Grid:
    """Block medians of about `grid_s`; a slower recording stays as it is."""
    block = max(1, round(grid_s / work.capture.interval_s))
    return Grid(block_medians(samples, block), block * work.capture.interval_s, work.capture.start_s)


def thin(samples: Samples) -> Samples:
    return samples[:: max(1, samples.size // 400_000)]


def level_in(work: Work, lane: str, span_s: Span, trim: float = TRIM) -> Level:
    """Level of a lane in a span, its ends trimmed."""
    start, stop = work.indices(span_s, trim)
    return level_of(work.samples(lane)[start:stop], work.code(lane))


def read_level(
    work: Work, reading_id: str, phase: Phase | None, lane: str, unit: str = "V", trim: float = TRIM
) -> Level | None:
    """The level of a lane in a phase, its ends trimmed, as a reading; noted as missing without the phase or lane."""
    if lane not in work.capture.lanes:
        work.miss(reading_id, f"no {lane.replace('_', ' ')} lane in this capture")
        return None
    if phase is None:
        return None
    level = level_in(work, lane, (phase.from_s, phase.to_s), trim)
    work.add(reading_id, level.value, unit, level.uncertainty, inner(phase), lane)
    return level


def read_steady_lane(work: Work, reading_id: str, lane: str, unit: str = "V") -> Level | None:
    """The level of a lane that should not move, over the whole record."""
    samples = work.lane(lane)
    if samples is None:
        work.miss(reading_id, f"no {lane.replace('_', ' ')} lane in this capture")
        return None
    level = level_of(thin(samples))
    work.add(reading_id, level.value, unit, level.uncertainty, work.whole, lane)
    return level


def state_level(samples: Samples, *, below: float | None = None, above: float | None = None) -> Level:
    """Level of one state of a two-level signal, two samples off every edge; of all its samples if that leaves few."""
    mask = samples < below if below is not None else samples > (above or 0.0)
    inside = np.zeros_like(mask)
    inside[2:-2] = mask[2:-2] & mask[1:-3] & mask[3:-1] & mask[:-4] & mask[4:]
    return level_of(thin(samples[inside] if inside.sum() >= 16 else samples[mask]), resolution(samples))


def top_of(part: Samples, rest: float, peak: float) -> float:
    """The upper state level of a transition: the median of what lies within 5 % of the step of its peak.

    A peak is the largest of many noisy medians; a flat top's own level is not pushed up by its noise.
    """
    return float(np.median(part[part >= rest + 0.95 * (peak - rest)]))


class Extreme(NamedTuple):
    """A largest or smallest value, the sample where it is, and its standard uncertainty."""

    value: float
    at: int
    uncertainty: float


def extreme_of(samples: Samples, interval_s: float, width_s: float, largest: bool) -> Extreme:
    """Largest (or smallest) median over about `width_s`, less what noise adds by being the largest of many.

    The largest of N medians of one level lies above it by the mean of the largest of N normal values (Blom's
    approximation), N those medians that noise could have made the largest; that is taken off.
    """
    block = max(1, round(width_s / interval_s))
    medians = block_medians(samples, block)
    at = int(np.argmax(medians) if largest else np.argmin(medians))
    value = float(medians[at])
    step = resolution(samples)
    own = sample_noise(samples, step) * (1.2533 / np.sqrt(block) if block > 2 else 1.0)
    excess, doubt = excess_of_largest(own, int(np.sum(np.abs(medians - value) <= 3 * own)))
    value -= excess if largest else -excess
    doubt = float(np.hypot(doubt, step / np.sqrt(12)))
    return Extreme(value, min(at * block + block // 2, samples.size - 1), doubt)


def excess_of_largest(sigma: float, rivals: int) -> tuple[float, float]:
    """How far the largest of `rivals` values of one level lies over it by noise `sigma`, and what stays in doubt."""
    if rivals <= 1:
        return 0.0, sigma
    excess = sigma * _QUANTILE((rivals - 0.375) / (rivals + 0.25))
    # Half the width in which 68 % of such largest values lie, and how far the count of rivals is known.
    spread = 0.5 * sigma * (_QUANTILE(0.8413 ** (1 / rivals)) - _QUANTILE(0.1587 ** (1 / rivals)))
    return excess, float(np.hypot(spread, 0.05 * excess))


def read_extreme(
    work: Work, reading_id: str, samples: Samples, lane: str, width_s: float, largest: bool, start: int = 0
) -> Extreme:
    """The largest or smallest median of a stretch that begins at sample `start`, as a reading in the lane's unit."""
    found = extreme_of(samples, work.capture.interval_s, width_s, largest)
    here = work.capture.time_s(start + found.at)
    unit = work.capture.lanes[lane].unit
    work.add(reading_id, found.value, unit, found.uncertainty, (here - width_s / 2, here + width_s / 2), lane)
    return found


def read_rise(work: Work, reading_id: str, moved: Transition, lane: str) -> None:
    """The 10 to 90 % duration of a transition as a reading in milliseconds."""
    scale = 1000 * work.capture.interval_s
    span = (work.capture.time_s(moved.at_10.index), work.capture.time_s(moved.at_90.index))
    work.add(reading_id, scale * moved.samples, "ms", scale * moved.uncertainty, span, lane)


# --- the signal made fit for measuring ---


def take_slips(work: Work, lane: str, zero: float = SLIP_ZERO_V) -> list[tuple[int, int]]:
    """Stretches over 150 ms in which a lane that is never at zero rests there, come to and left at once."""
    samples = work.samples(lane)
    grid = on_grid(work, samples, 0.002)
    block = round(grid.interval_s / work.capture.interval_s)
    out = []
    for a, b in joined(runs(np.abs(grid.values) < zero), round(0.01 / grid.interval_s)):
        if a == 0 or b >= grid.values.size or (b - a) * grid.interval_s < SLIP_SHORTEST_S:
            continue
        edge = max(1, round(0.006 / grid.interval_s))
        before, after = grid.values[max(0, a - edge)], grid.values[min(grid.values.size - 1, b - 1 + edge)]
        if min(before, after) < zero + 0.15:
            continue
        start, stop = max(0, (a - 1) * block), min(samples.size, (b + 1) * block)
        span = work.span(start, stop)
        text = f"the {lane} vanishes to 0 V at once for {1000 * (span[1] - span[0]):.0f} ms and returns: the connection"
        work.setup("probe_slip", text, lane, span, hides=True)
        out.append((start, stop))
    return out


def judge_dropouts(work: Work, samples: Samples, lane: str, floor: float, longest_s: float = 0.150) -> list[Excursion]:
    """Short falls off a lane's trend, each a `dropout` fault; the excursions, both ways, for bridging."""
    found = find_excursions(samples, work.capture.interval_s, longest_s, floor)
    for e in found:
        if e.depth < 0:
            note_dropout(work, e, lane)
    return found


def note_dropout(work: Work, e: Excursion, lane: str) -> None:
    """A fall off the trend as a `dropout` fault, with its depth, place and length."""
    span = work.span(e.start, e.stop)
    unit = work.capture.lanes[lane].unit
    text = f"{lane} falls {-e.depth:.2f} {unit} below its trend for {1000 * (span[1] - span[0]):.3g} ms"
    work.fault("dropout", text, span, lane, -e.depth, unit)


def between_events(work: Work, lane: str) -> bool:
    """True, with the finding, for a record so short that it may lie between two events."""
    if work.capture.duration_s >= LEAST_EVENTS_S:
        return False
    text = f"nothing happens in {work.capture.duration_s:.3g} s, less than an engine cycle at idle"
    work.setup("too_short", text, lane, hides=True)
    return True


def note_nothing(work: Work, lane: str, text: str) -> None:
    """A lane without an event: too short a record may lie between two of them, else the connection."""
    if not between_events(work, lane):
        work.setup("flat_line", text, lane, hides=True)


def note_dead(work: Work, lane: str, level: float) -> None:
    """A lane that rests where nothing is: the connection first, never the part."""
    work.setup("flat_line", f"stays at {level:.2f} V: probe, key or plug first", lane, hides=True)


def put_polarity_right(work: Work, lane: str) -> None:
    """A lane that lies below zero throughout is read inverted, with the finding."""
    found = work.capture.lanes.get(lane)
    if found is None:
        return
    low, high = np.percentile(thin(found.samples), (1, 99))
    if high < 0.05 and low < -0.3:
        work.setup("reversed_polarity", f"the {lane} lies below zero: leads reversed; read inverted", lane)
        work.capture = work.capture.with_lane(found.scaled(-1.0))


def unswap(work: Work, one: str, other: str, reach_one: Span, reach_other: Span) -> None:
    """Two lanes whose levels fit each other's reach and not their own are read exchanged, with the finding."""
    first, second = work.capture.lanes.get(one), work.capture.lanes.get(other)
    if first is None or second is None:
        return
    a, b = float(np.median(thin(first.samples))), float(np.median(thin(second.samples)))
    if _within(a, reach_one) or _within(b, reach_other) or not (_within(a, reach_other) and _within(b, reach_one)):
        return
    exchange(work, one, other, f"{one} lies at {a:.2f} and {other} at {b:.2f}: read exchanged")


def exchange(work: Work, one: str, other: str, text: str) -> None:
    """Read two lanes as each other, with the finding."""
    first, second = work.capture.lanes[one], work.capture.lanes[other]
    work.setup("lanes_swapped", text)
    lanes = {**work.capture.lanes, one: replace(second, name=one), other: replace(first, name=other)}
    work.capture = replace(work.capture, lanes=lanes)


def _within(value: float, reach: Span) -> bool:
    return reach[0] <= value <= reach[1]


# --- set-up checks ---


def check_rate(work: Work, feature: str, feature_s: float, lane: str = "signal") -> None:
    """Fewer than ten samples across the shortest feature that the circuit needs."""
    across = feature_s / work.capture.interval_s
    if across < setup.FEWEST_SAMPLES:
        text = (
            f"{work.capture.rate_hz:,.0f} samples a second put {across:.2g} across {feature}; "
            f"{setup.FEWEST_SAMPLES} are needed"
        )
        work.setup("undersampled", text, lane, hides=True)


def check_clipped(work: Work, lane: str, longest_s: float = 0.02, tops_only: bool = False) -> None:
    """Samples that rest on the highest or lowest value while noise stirs the rest of the lane.

    `tops_only` where nothing that matters lies at the lower end, as under a kick that rings out.
    """
    samples = work.samples(lane)
    middle = float(np.median(thin(samples))) if tops_only else -np.inf
    for a, b in setup.clipped_stretches(samples, setup.noise_within(samples)):
        if samples[a] < middle:
            continue
        if (b - a) * work.capture.interval_s > longest_s and not abs(float(samples[a])) < SLIP_ZERO_V:
            text = f"rests dead flat at {samples[a]:.3g}, the end of the range; choose a larger range or shift the zero"
            work.setup("clipped", text, lane, work.span(a, b), hides=True)
            return


def check_capped(work: Work, lane: str, samples: Samples, at: NDArray[np.int64]) -> None:
    """Tops of spikes that all end at one code while noise would part them: the range ends there."""
    step = resolution(samples)
    tops = samples[at]
    if work.has("clipped") or at.size < 3 or sample_noise(samples) < 0.8 * step or step == 0:
        return
    end = float(samples.max())
    if float(np.mean(tops >= end - 0.5 * step)) > 0.5:
        text = f"{at.size} tops end at {end:.4g} dead level, the end of the range; choose a larger one"
        here = work.capture.time_s(int(at[0]))
        work.setup("clipped", text, lane, (here, here + work.capture.interval_s), hides=True)


def check_edges(work: Work, lane: str, passing: float, slowest_s: float, what: str) -> None:
    """Edges of `passing` samples that are slower than the circuit's own, on a lane without any noise: a filter."""
    took = passing * work.capture.interval_s
    if took > slowest_s and setup.is_noiseless(work.samples(lane)):
        text = f"{what} takes {1e6 * took:.3g} us and there is no noise: a filter is on"
        work.setup("over_filtered", text, lane, hides=True)


def need_phases(work: Work, required: Sequence[str], why: str) -> None:
    """A required phase that does not occur is a finding that hides the answer."""
    have = {p.name for p in work.phases}
    for name in required:
        if name not in have:
            words = name.replace("_", " ")
            work.setup("missing_phase", f"no {words} phase in this capture: {why}", hides=True)
