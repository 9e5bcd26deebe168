"""Teeth of a crank wheel: their instants, the gaps between them, and each tooth's place in the turn."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d

from tracebench.core.capture import Samples
from tracebench.core.measure.edges import find_edges, swing_thresholds
from tracebench.core.measure.series import block_medians, running_mean, running_median

GAP_FROM = 1.5
"""A period over this many of its neighbours' is a gap."""


@dataclass(frozen=True, slots=True, eq=False)
class Wheel:
    """Teeth as fractional sample indices. `place` counts from 0 at the first tooth after the gap, -1 before any.

    `ratio` is each period over the local tooth period (gap periods over those beside them); the period k runs
    from tooth k to tooth k + 1. `teeth` counts missing ones; 0 when fewer than one whole turn was seen.
    """

    at: NDArray[np.float64]
    ratio: NDArray[np.float64]
    usual: NDArray[np.float64]
    place: NDArray[np.int64]
    teeth: int
    gap: int
    gaps: NDArray[np.int64]


def digital(samples: Samples) -> bool:
    """True for a two-level (Hall) signal: most samples rest near one of two levels that are both not negative."""
    thin = samples[:: max(1, samples.size // 200_000)]
    low, high = (float(x) for x in np.percentile(thin, (1, 99)))
    if high - low < 1.0 or low < -0.15 * (high - low):
        return False
    return bool(np.mean((thin < low + 0.15 * (high - low)) | (thin > high - 0.15 * (high - low))) > 0.8)


def levelled(samples: Samples, interval_s: float) -> Samples:
    """An inductive signal over its local amplitude, about zero, so that slow and fast teeth cross alike."""
    centred = samples - float(np.median(samples[:: max(1, samples.size // 200_000)]))
    block = max(1, round(0.0005 / interval_s))
    peaks = np.maximum.reduceat(np.abs(centred), np.arange(0, centred.size, block))
    window = max(3, round(0.02 / (block * interval_s)) | 1)
    envelope = running_mean(maximum_filter1d(running_median(peaks, 3), window, mode="nearest"), window)
    floor = 0.05 * float(np.percentile(envelope, 90))
    at = (np.arange(envelope.size) + 0.5) * block
    return centred / np.maximum(np.interp(np.arange(centred.size), at, envelope), floor)


def teeth_at(samples: Samples, interval_s: float, rising: bool) -> NDArray[np.float64]:
    """Instants of the teeth: crossings of one sense, with hysteresis, as fractional sample indices."""
    if digital(samples):
        edges = find_edges(samples, *swing_thresholds(samples, 0.3))
    else:
        even = levelled(samples, interval_s)
        edges = find_edges(even, -0.35, 0.35, 0.0)
        tooth = float(np.median(np.diff(edges.falling))) if edges.falling.size > 3 else 0.0
        if tooth >= 24:  # finely sampled: a mean over a tenth of a tooth takes noise out of the gap
            edges = find_edges(running_mean(even, round(tooth / 10)), -0.3, 0.3, 0.0)
    return edges.rising if rising else edges.falling


def read_wheel(at: NDArray[np.float64]) -> Wheel:
    """Gaps and places of teeth. The widest kind of gap that keeps coming back marks the turn."""
    periods = np.diff(at)
    usual = running_median(periods, 7)
    # Beside a gap the running median may be the gap itself only when teeth are few: take the neighbours' smaller.
    ratio = periods / np.maximum(usual, 1e-9)
    wide = np.flatnonzero(ratio > GAP_FROM)
    place = np.full(at.size, -1, dtype=np.int64)
    if wide.size < 2:
        return Wheel(at, ratio, usual, place, 0, 0, wide)
    widths = np.round(ratio[wide]).astype(int)
    main = _main_gap(wide, widths)
    turns = np.diff(main)
    teeth_seen = int(np.median(turns)) if turns.size else 0
    gap = int(np.median(np.round(ratio[main]))) - 1
    for k, g in enumerate(main):
        stop = main[k + 1] + 1 if k + 1 < main.size else at.size
        place[g + 1 : stop] = np.arange(stop - g - 1)
    # Teeth that one turn lost are not taken off the wheel: the fullest usual turn counts.
    teeth = int(np.percentile(turns, 75)) + gap if turns.size else teeth_seen
    lost_each = _lost_each_turn(wide, widths, main)
    if turns.size:
        # Teeth before the first gap have their places too, counted back from it.
        place[: main[0] + 1] = int(np.percentile(turns, 75)) - 1 - np.arange(main[0], -1, -1)
    return Wheel(at, ratio, usual, place, teeth + lost_each if turns.size else 0, gap, main)


def _main_gap(wide: NDArray[np.int64], widths: NDArray[np.int64]) -> NDArray[np.int64]:
    widest = int(np.bincount(widths).size - 1)
    for width in range(widest, 1, -1):
        found = wide[widths == width]
        # A width seen as often as any other, or regularly, is the wheel's own; a lone wider one is a loss.
        if found.size >= 2 and found.size >= 0.4 * max(np.bincount(widths)):
            return np.asarray(found)
    return wide


def _lost_each_turn(wide: NDArray[np.int64], widths: NDArray[np.int64], main: NDArray[np.int64]) -> int:
    """Teeth missing beside the main gap in most turns (a broken tooth)."""
    per_turn = [int(np.sum(widths[(wide > a) & (wide < b)] - 1)) for a, b in itertools.pairwise(main)]
    return int(np.median(per_turn)) if per_turn else 0


def amplitudes(samples: Samples, at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Peak to peak between neighbouring teeth, shape (n - 1,): of each period."""
    bounds = np.clip(np.round(at).astype(np.int64), 0, samples.size - 1)
    keep = np.diff(bounds) > 0
    if not keep.all() or bounds.size < 2:
        bounds = np.unique(bounds)
    highs = np.maximum.reduceat(samples, bounds)[:-1]
    lows = np.minimum.reduceat(samples, bounds)[:-1]
    return np.asarray(highs - lows)


def polarity(samples: Samples, wheel: Wheel, interval_s: float) -> int:
    """1 if the last half-wave before the gap is negative (as wired right), -1 if positive, 0 if it cannot be told."""
    votes = 0
    for g in wheel.gaps[:20]:
        a, b = round(wheel.at[g]), round(wheel.at[g + 1])
        tooth = wheel.usual[g]
        # Half a tooth after the last crossing the gap is quiet, unless the crossing was at the tooth's beginning.
        wave, rest = samples[a : a + round(0.5 * tooth)], samples[a + round(0.6 * tooth) : a + round(0.95 * tooth)]
        if b < samples.size and wave.size > 2 and rest.size > 2:
            quiet = float(np.ptp(block_medians(rest, max(1, rest.size // 8))))
            votes += 1 if quiet < 0.4 * float(np.ptp(wave)) else -1
    return int(np.sign(votes))
