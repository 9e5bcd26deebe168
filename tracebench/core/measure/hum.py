"""Mains hum on a lane: a line at 45 to 65 Hz that goes through the rests between pulses, fitted there and taken off."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tracebench.core.samples import Samples

HERTZ = np.arange(45.0, 65.01, 0.25)
"""Where the mains of any country lies (50 and 60 Hz), and a generator that keeps it badly."""

BLOCK_S = 0.0005
"""Rests are fitted by their means over so long: a fortieth of a period."""

FEWEST_PERIODS = 1.5
LEAST_REST = 0.4
"""Periods that the rests must reach over, and part of the record that they must be."""

EXPLAINED = 0.8
"""Part of what moves in the rests that a line must explain before it is called hum."""


@dataclass(frozen=True, slots=True)
class Hum:
    """A line: its frequency in Hz, its amplitude in the lane's unit, and what it adds to every sample."""

    hertz: float
    amplitude: float
    wave: Samples


LONGEST_S = 4.0
"""The mains keep their frequency so long; a longer record is taken in parts."""


def hum_of(samples: Samples, interval_s: float, resting: NDArray[np.bool_]) -> Hum | None:
    """The hum of a lane, fitted by least squares where it rests; None where there is none to be told.

    The fit has a level and a slope beside the line, so that a zero that wanders is not taken for it. Time grows
    linearly with the samples.
    """
    parts = max(1, math.ceil(samples.size * interval_s / LONGEST_S))
    cuts = np.linspace(0, samples.size, parts + 1).astype(int)
    wave, found = np.zeros(samples.size), []
    for a, b in pairwise(cuts):
        hum = _of_part(samples[a:b], interval_s, resting[a:b])
        if hum is not None:
            wave[a:b] = hum.wave
            found.append(hum)
    if len(found) < parts / 2:
        return None
    strongest = max(found, key=lambda hum: hum.amplitude)
    return Hum(strongest.hertz, strongest.amplitude, wave)


def _of_part(samples: Samples, interval_s: float, resting: NDArray[np.bool_]) -> Hum | None:
    block = max(1, round(BLOCK_S / interval_s))
    count = samples.size // block
    if count * block * interval_s < FEWEST_PERIODS / 50.0 or count < 16:
        return None
    whole = resting[: count * block].reshape(count, block).all(axis=1)
    if whole.mean() < LEAST_REST:
        return None
    values = samples[: count * block].reshape(count, block).mean(axis=1)[whole]
    at = (np.flatnonzero(whole) + 0.5) * block * interval_s
    if np.ptp(at) < FEWEST_PERIODS / 50.0:
        return None
    straight = np.stack((np.ones_like(at), at - at.mean()), axis=1)
    left = values - straight @ np.linalg.lstsq(straight, values, rcond=None)[0]
    total = float(left @ left)
    fits = [_fitted(at, values, straight, f) for f in HERTZ]
    best = int(np.argmin([error for error, _ in fits]))
    fine = HERTZ[best] + np.arange(-0.25, 0.251, 0.02)
    error, (hertz, sine, cosine) = min((_fitted(at, values, straight, f) for f in fine), key=lambda fit: fit[0])
    if total <= 0 or 1 - error / total < EXPLAINED:
        return None
    # Means over a block are a little less than the line itself.
    gain = np.sinc(hertz * block * interval_s)
    turned = 2 * np.pi * hertz * (np.arange(samples.size) + 0.5) * interval_s
    wave = (sine * np.sin(turned) + cosine * np.cos(turned)) / gain
    return Hum(float(hertz), float(np.hypot(sine, cosine) / gain), wave)


def _fitted(
    at: NDArray[np.floating[Any]], values: Samples, straight: NDArray[np.float64], hertz: float
) -> tuple[float, tuple[float, float, float]]:
    """Sum of squares that a line leaves, and the line."""
    turned = 2 * np.pi * hertz * at
    table = np.column_stack((straight, np.sin(turned), np.cos(turned)))
    found = np.linalg.lstsq(table, values, rcond=None)[0]
    rest = values - table @ found
    return float(rest @ rest), (float(hertz), float(found[2]), float(found[3]))
