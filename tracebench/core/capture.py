"""A capture: lanes of samples on one uniform time axis."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from tracebench.core.errors import BadCapture
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import noise_within
from tracebench.core.samples import Samples

MIN_SAMPLES = 16

_OF_A_GAP, _OF_BLANKS = 0.2, 0.7
"""Standard uncertainty, in samples, of an edge of a record whose rows are uneven; and of one in a lane with blank
cells, by the root of their share: few edges fall into one, and those are off by half a sample."""


SHORTEST_INTERVAL_S, LONGEST_INTERVAL_S = 1e-12, 1e5
"""No recorder of a vehicle's signals is quicker than a picosecond, or slower than a day, from sample to sample."""

MOST_INTERVALS = 2.0**50
"""Of an instant, counted in intervals: more than a double tells apart."""


UNSEEN_CODES = 80
"""Codes from nothing up to a level whose recorder is not seen: of eight bits over both signs, three fifths of a half
(from memory)."""


@dataclass(frozen=True, eq=False)
class Lane:
    """One signal. `samples` is float64, shape (n,), in `unit`; no NaN.

    `column` and `factor` say where the samples came from and what they were multiplied by. `code` is the recorder's
    step where the samples no longer show it, as after interpolation; None where they do.
    """

    name: str
    samples: Samples
    unit: str
    column: str = ""
    factor: float = 1.0
    code: float | None = None

    @cached_property
    def step(self) -> float:
        """Step of the recorder: as it was before uneven rows were put on a grid, else as the samples show it.

        Samples that are all alike show none, and may be anywhere in it: then it is that of an everyday recorder.
        """
        if self.code is not None:
            return self.code
        first = float(self.samples[0]) if self.samples.size else 0.0
        return abs(first) / UNSEEN_CODES if np.all(self.samples == first) else resolution(self.samples)

    @cached_property
    def noise(self) -> float:
        """Sigma from sample to sample of what does not rest on the lane's highest or lowest value."""
        return noise_within(self.samples)

    def scaled(self, factor: float) -> Lane:
        """The same lane with every sample multiplied by `factor`."""
        code = None if self.code is None else abs(factor) * self.code
        return replace(self, samples=self.samples * factor, code=code)


@dataclass(frozen=True, slots=True, eq=False)
class Capture:
    """Lanes sampled together: sample k was taken at `start_s + k * interval_s`, on the file's own axis.

    `source_samples` is the number of rows that were read, before uneven stamps were put on the grid. `clock` is the
    relative standard uncertainty of the interval that coarse stamps leave.
    """

    lanes: Mapping[str, Lane]
    interval_s: float
    start_s: float = 0.0
    source_samples: int = 0
    notes: tuple[str, ...] = field(default=())
    clock: float = 0.0
    edge_s: float = 0.0
    """Standard uncertainty of an edge's instant where a gap may have swallowed it, seconds; 0 without gaps."""
    low_pass_hz: Mapping[str, float] = field(default_factory=dict)
    """Cut-off of a low-pass that lanes went through after they were recorded."""

    def __post_init__(self) -> None:
        if not self.lanes:
            raise BadCapture("the capture has no lanes; map at least one column to a lane")
        if not SHORTEST_INTERVAL_S <= self.interval_s <= LONGEST_INTERVAL_S:
            raise BadCapture(
                f"the sampling interval must be {SHORTEST_INTERVAL_S:g} to {LONGEST_INTERVAL_S:g} seconds, "
                f"not {self.interval_s:g}: are the times in seconds?"
            )
        if not abs(self.start_s) <= MOST_INTERVALS * self.interval_s:
            raise BadCapture(f"times of {self.start_s:g} s cannot tell samples {self.interval_s:g} s apart")
        sizes = {name: lane.samples.size for name, lane in self.lanes.items()}
        if len(set(sizes.values())) != 1:
            raise BadCapture(f"lanes differ in length: {sizes}")
        if self.samples < MIN_SAMPLES:
            raise BadCapture(f"the capture has {self.samples} samples; at least {MIN_SAMPLES} are needed")

    @property
    def samples(self) -> int:
        return int(next(iter(self.lanes.values())).samples.size)

    @property
    def rate_hz(self) -> float:
        return 1.0 / self.interval_s

    @property
    def duration_s(self) -> float:
        return self.samples * self.interval_s

    def times(self) -> Samples:
        """Instants of all samples, seconds on the file's axis."""
        return self.start_s + np.arange(self.samples, dtype=np.float64) * self.interval_s

    def time_s(self, index: float) -> float:
        """Instant of a (possibly fractional) sample index, seconds on the file's axis."""
        return self.start_s + index * self.interval_s

    def index(self, time_s: float) -> int:
        """Nearest sample to an instant, kept inside the record."""
        return round(min(max((time_s - self.start_s) / self.interval_s, 0.0), self.samples - 1.0))

    def with_lane(self, lane: Lane) -> Capture:
        """The same capture with one lane replaced or added."""
        return replace(self, lanes={**self.lanes, lane.name: lane})


def capture_from_stamps(times_s: Samples, lanes: Mapping[str, Lane]) -> Capture:
    """Put rows with time stamps on a uniform grid.

    Stamps that stray from an even grid by less than their own resolution, or by less than half a
    sample, are taken as that grid and the samples stay as they are. Anything else (gaps, drifting
    intervals) is interpolated linearly at the median interval. Repeated stamps are averaged then.
    Missing cells (NaN) are bridged by straight lines, on the recorder's codes where it has some.

    Raises BadCapture when a stamp runs backwards, or nothing but missing cells is left.
    """
    if times_s.size < MIN_SAMPLES:
        raise BadCapture(f"the capture has {times_s.size} samples; at least {MIN_SAMPLES} are needed")
    notes: list[str] = []
    blank = max((float(np.mean(~np.isfinite(lane.samples))) for lane in lanes.values()), default=0.0)
    lanes = {name: _bridged(lane, notes) for name, lane in lanes.items()}
    digit = _digit_of(times_s)
    span = float(times_s[-1] - times_s[0])
    if span <= 0:
        raise BadCapture("every row carries the same time stamp; a time axis is needed")
    grids = [(float(times_s[0]), span / (times_s.size - 1)), _fitted_grid(times_s)]
    # Stamps that repeat are rounded, the first and the last as well: many of them know the interval better than two.
    for start, step in reversed(grids) if digit else grids:
        if _largest_stray(times_s, start, step) <= max(0.5 * step, 1.01 * digit):
            # Slope of a straight line through n values that each are known to digit / sqrt(12).
            clock = digit / (span * float(np.sqrt(times_s.size)))
            edge_s = _OF_BLANKS * float(np.sqrt(blank)) * step
            return Capture(lanes, step, start, times_s.size, tuple(notes), clock, edge_s)
    notes.append("uneven time stamps were interpolated onto an even grid")
    steps = np.diff(times_s)
    return _interpolated(times_s, lanes, median(steps[steps > 0]), tuple(notes))


_BLOCK = 262_144
"""Stamps are looked at in blocks of this many, so that a long record needs no second one beside it."""


def _digit_of(times_s: Samples) -> float:
    """Smallest step of stamps that repeat, 0 if none repeats. Raises BadCapture for a missing or backward stamp."""
    least, repeats = np.inf, False
    for start in range(0, times_s.size - 1, _BLOCK):
        steps = np.diff(times_s[start : start + _BLOCK + 1])
        if not np.all(np.isfinite(steps)):
            row = start + int(np.flatnonzero(~np.isfinite(times_s[start : start + _BLOCK + 1]))[0]) + 1
            raise BadCapture(f"the time stamp of data row {row} is missing or not a number")
        if np.any(steps < 0):
            row = start + int(np.flatnonzero(steps < 0)[0]) + 2
            before, after = times_s[row - 2], times_s[row - 1]
            raise BadCapture(f"time runs backwards at data row {row} ({before:g} s, then {after:g} s)")
        repeats = repeats or bool(np.any(steps == 0))
        least = min(least, float(np.min(steps, where=steps > 0, initial=np.inf)))
    return least if repeats else 0.0


def _fitted_grid(times_s: Samples) -> tuple[float, float]:
    """Start and interval of the even grid nearest to the stamps (least squares): jittered ends do not tilt it."""
    middle = (times_s.size - 1) / 2
    level = float(times_s.mean())
    moment = spread = 0.0
    for start in range(0, times_s.size, _BLOCK):
        part = times_s[start : start + _BLOCK]
        rows = np.arange(start, start + part.size) - middle
        moment += float(rows @ (part - level))
        spread += float(rows @ rows)
    interval = moment / spread
    return level - middle * interval, interval


def _largest_stray(times_s: Samples, start_s: float, interval_s: float) -> float:
    worst = 0.0
    for start in range(0, times_s.size, _BLOCK):
        part = times_s[start : start + _BLOCK]
        grid = start_s + interval_s * np.arange(start, start + part.size)
        worst = max(worst, float(np.abs(part - grid).max()))
    return worst


def _interpolated(times_s: Samples, lanes: Mapping[str, Lane], interval: float, notes: tuple[str, ...]) -> Capture:
    span = float(times_s[-1] - times_s[0])
    # A single tiny step must not blow the record up: at most four times the rows that were read.
    interval = max(interval, span / (4 * times_s.size))
    unique, first, counts = np.unique(times_s, return_index=True, return_counts=True)
    grid = times_s[0] + np.arange(int(span / interval) + 1) * interval
    even = {}
    for name, lane in lanes.items():
        between = np.interp(grid, unique, np.add.reduceat(lane.samples, first) / counts)
        even[name] = replace(lane, samples=_on_codes(between, lane.samples), code=lane.step)
    # An edge that falls into a gap is placed within it by a straight line.
    return Capture(even, interval, float(times_s[0]), times_s.size, notes, edge_s=_OF_A_GAP * interval)


def _bridged(lane: Lane, notes: list[str]) -> Lane:
    missing = ~np.isfinite(lane.samples)
    count = int(missing.sum())
    if count == 0:
        return lane
    if count == missing.size:
        raise BadCapture(f"lane {lane.name} (column {lane.column or lane.name}) holds no numbers")
    notes.append(f"{count} missing cells in lane {lane.name} were bridged by straight lines")
    rows = np.arange(missing.size)
    samples = lane.samples.copy()
    known = samples[~missing]
    samples[missing] = _on_codes(np.interp(rows[missing], rows[~missing], known), known)
    return replace(lane, samples=samples, code=resolution(known))


MOST_CODES = 4096
"""Of a recorder of 12 bits; more values than that, or more than one in so many samples, are no codes."""

SAMPLES_A_CODE = 4
_LOOKED_AT = 16_384


def _on_codes(between: Samples, known: Samples) -> Samples:
    """What lies between two samples as the recorder would have given it: on the nearest of the codes that it gave.

    A straight line from code to code runs between them, and hides that the lane has codes and what they leave in doubt.
    Lanes without codes stay as they are.
    """
    seen = known[:: max(1, known.size // _LOOKED_AT)]
    if np.unique(seen).size > min(MOST_CODES, seen.size / SAMPLES_A_CODE):
        return between
    codes = np.unique(known)
    if not 1 < codes.size <= MOST_CODES:
        return between
    right = np.clip(np.searchsorted(codes, between), 1, codes.size - 1)
    lower, upper = codes[right - 1], codes[right]
    nearest: Samples = np.where(between - lower <= upper - between, lower, upper)
    return nearest
