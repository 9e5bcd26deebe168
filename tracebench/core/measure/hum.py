"""Mains hum on a lane: a line at 45 to 65 Hz that goes through its rests, fitted there and taken off."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from tracebench.core.robust.median import median
from tracebench.core.robust.noise import MAD_TO_SIGMA
from tracebench.core.robust.series import running_mean
from tracebench.core.samples import Samples

LOWEST_HZ, HIGHEST_HZ = 45.0, 65.0
"""Where the mains of any country lies (50 and 60 Hz), and a generator that keeps it badly."""

BLOCK_S = 0.0005
"""Rests are fitted by their means over so long: a fortieth of a period."""

FEWEST_PERIODS = 1.5
LEAST_REST = 0.4
"""Periods that the rests must reach over, and part of the record that they must be."""

EXPLAINED = 0.8
"""Part of what moves in the rests that a line must explain before it is called hum."""

HINTED = 0.25
"""Part of what moves, pulses cut down, that lies at the mains' frequencies before a line is looked for at all."""

OUTSIDE = 3.0
"""Sigmas off the line from which a stretch is no rest of it."""

PARTS = 8
"""Of a record, by whose medians it is told where its level goes."""

SWING = 1.5
"""Sigmas by the median deviation that hold a sine, whose amplitude is 0.95 of them, and cut pulses down to it."""

LONGEST_S = 4.0
"""The mains keep their frequency so long; a longer record is taken in parts."""

FINER = 4
"""Bins of the periodogram for each that the record's length tells."""

STEPS = 4
"""Steps until a frequency stands: the first places the line, each further one squares what it is off by."""

WINDOW_S = 0.5
FEWEST_WINDOWS = 4
"""A lane of which nothing rests is looked at in windows, of which there must be so many."""

QUIETER = 25
"""Per cent of the windows that may hold less of a line: a wheel passes the mains' frequencies in some of them."""

SLOW_S = 0.04
"""Two periods of the mains: what a lane that follows a foot or a pressure moves within them is little."""


@dataclass(frozen=True, slots=True)
class Hum:
    """A line: its frequency in Hz, its amplitude in the lane's unit, and what it adds to every sample."""

    hertz: float
    amplitude: float
    wave: Samples


def hum_of(samples: Samples, interval_s: float) -> Hum | None:
    """The hum of a lane, fitted by least squares where it rests; None where there is none to be told.

    A lane rests where most of it goes along with the line, which a lane of short pulses does. The fit has a level and a
    slope beside the line, so that a zero that wanders is not taken for it. Time grows linearly with the samples.
    """
    parts = max(1, math.ceil(samples.size * interval_s / LONGEST_S))
    cuts = np.linspace(0, samples.size, parts + 1).astype(int)
    wave, found = np.zeros(samples.size), []
    for a, b in pairwise(cuts):
        hum = _of_part(samples[a:b], interval_s)
        if hum is not None:
            wave[a:b] = hum.wave
            found.append(hum)
    if len(found) < parts / 2:
        return None
    strongest = max(found, key=lambda hum: hum.amplitude)
    return Hum(strongest.hertz, strongest.amplitude, wave)


def hum_of_moving(samples: Samples, interval_s: float) -> Hum | None:
    """The hum of a lane that hardly rests, and moves slowly: of what is left of it beside its own running mean."""
    width = 2 * round(0.5 * SLOW_S / interval_s) + 1
    if width < 3:
        return None
    hum = hum_of(samples - running_mean(samples, width), interval_s)
    if hum is None:
        return None
    # The running mean took its part of the line too.
    gain = 1 / (1 - float(np.sinc(hum.hertz * width * interval_s)))
    return Hum(hum.hertz, gain * hum.amplitude, gain * hum.wave)


def hum_through(samples: Samples, interval_s: float) -> float:
    """Amplitude of the line that goes through most of a lane of which nothing rests; 0 for one too short to tell.

    What turns at a changing rate passes the mains' frequencies in some windows; hum is in each of them. Time grows
    linearly with the samples.
    """
    block = max(1, round(BLOCK_S / interval_s))
    window = round(WINDOW_S / (block * interval_s))
    count = samples.size // (block * window)
    if count < FEWEST_WINDOWS or window * block * interval_s < FEWEST_PERIODS / LOWEST_HZ:
        return 0.0
    values = samples[: count * window * block].reshape(count, window, block).mean(axis=2)
    weights = np.hanning(window)
    hertz = np.arange(LOWEST_HZ, HIGHEST_HZ, 0.5 / WINDOW_S)
    turned = 2 * np.pi * hertz[:, np.newaxis] * np.arange(window) * block * interval_s
    lines = np.abs((values - values.mean(axis=1, keepdims=True)) @ (np.exp(-1j * turned) * weights).T)
    return float(np.percentile(2 * lines / weights.sum(), QUIETER, axis=0).max())


def _of_part(samples: Samples, interval_s: float) -> Hum | None:
    block = max(1, round(BLOCK_S / interval_s))
    count = samples.size // block
    if count * block * interval_s < FEWEST_PERIODS / LOWEST_HZ or count < 16:
        return None
    values = samples[: count * block].reshape(count, block).mean(axis=1)
    at = _middles(count, block * interval_s)
    rough, part = _strongest(_cut_down(values), block * interval_s)
    if part < HINTED:
        return None
    rests = _rests(at, values, rough)
    if rests.mean() < LEAST_REST or np.ptp(at[rests]) < FEWEST_PERIODS / LOWEST_HZ:
        return None
    at, values = at[rests], values[rests]
    line = _fitted(at, values, rough)
    total = float(np.sum((values - np.polyval(np.polyfit(at, values, 1), at)) ** 2))
    left = float(np.sum((values - line.through(at)) ** 2))
    if not LOWEST_HZ <= line.hertz <= HIGHEST_HZ or total <= 0 or 1 - left / total < EXPLAINED:
        return None
    # Means over a block are a little less than the line itself.
    gain = float(np.sinc(line.hertz * block * interval_s))
    wave = line.wave(_middles(samples.size, interval_s)) / gain
    return Hum(line.hertz, math.hypot(line.sine, line.cosine) / gain, wave)


def _middles(count: int, step_s: float) -> NDArray[np.float64]:
    return np.asarray((np.arange(count) + 0.5) * step_s, dtype=np.float64)


def _cut_down(values: Samples) -> Samples:
    """Values with pulses hardly higher than what most of them swing about a level that may wander evenly."""
    at = np.arange(values.size, dtype=np.float64)
    places = [float(part.mean()) for part in np.array_split(at, PARTS)]
    slope, level = np.polyfit(places, [median(part) for part in np.array_split(values, PARTS)], 1)
    middle = level + slope * at
    reach = SWING * MAD_TO_SIGMA * median(np.abs(values - middle))
    return np.clip(values, middle - reach, middle + reach)


def _strongest(values: Samples, step_s: float) -> tuple[float, float]:
    """The strongest frequency of the mains, and the part of what moves that lies at the mains', by the periodogram."""
    left = values - np.polyval(np.polyfit(np.arange(values.size), values, 1), np.arange(values.size))
    power = np.abs(np.fft.rfft(left, FINER * left.size)) ** 2
    hertz = np.fft.rfftfreq(FINER * left.size, step_s)
    wide = 2.0 / (left.size * step_s)
    near = (hertz > LOWEST_HZ - wide) & (hertz < HIGHEST_HZ + wide)
    if not near.any() or power.sum() == 0:
        return LOWEST_HZ, 0.0
    return float(hertz[near][np.argmax(power[near])]), float(power[near].sum() / power.sum())


def _rests(at: NDArray[np.float64], values: Samples, hertz: float) -> NDArray[np.bool_]:
    """Where a lane goes along with its line: pulses cut down first, then what lies off the line left out."""
    seen, rests = _cut_down(values), np.ones(values.size, dtype=bool)
    for _ in range(3):
        line = _fitted(at[rests], seen[rests], hertz)
        off = np.abs(values - line.through(at))
        rests, seen, hertz = off <= OUTSIDE * MAD_TO_SIGMA * median(off), values, line.hertz
    return rests


class _Line(NamedTuple):
    hertz: float
    level: float
    slope: float
    sine: float
    cosine: float

    def wave(self, at: NDArray[np.float64]) -> Samples:
        turned = 2 * np.pi * self.hertz * at
        return self.sine * np.sin(turned) + self.cosine * np.cos(turned)

    def through(self, at: NDArray[np.float64]) -> Samples:
        return self.level + self.slope * at + self.wave(at)


def _fitted(at: NDArray[np.float64], values: Samples, hertz: float) -> _Line:
    """Level, slope and line by least squares, the frequency by steps of Gauss and Newton from a rough one."""
    line = _Line(hertz, 0.0, 0.0, 0.0, 0.0)
    nearer = 0.5 / float(np.ptp(at))
    for _ in range(STEPS):
        turned = 2 * np.pi * line.hertz * at
        sine, cosine = np.sin(turned), np.cos(turned)
        turning = 2 * np.pi * at * (line.sine * cosine - line.cosine * sine)
        columns = [np.ones_like(at), at, sine, cosine, *([turning] if line.sine or line.cosine else [])]
        found = [float(x) for x in np.linalg.lstsq(np.column_stack(columns), values, rcond=None)[0]]
        by = found[4] if len(found) > 4 else 0.0
        line = _Line(line.hertz + max(-nearer, min(nearer, by)), *found[:4])
    return line
