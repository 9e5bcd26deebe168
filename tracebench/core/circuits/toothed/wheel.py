"""Teeth of a wheel: their instants, the gaps between them, and each tooth's place in the turn."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.measure.edges import Edges, find_edges, swing_thresholds
from tracebench.core.robust.median import median, percentile, percentiles
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import block_medians, running_max, running_mean, running_median
from tracebench.core.samples import Samples

GAP_FROM = Threshold(1.5, "", "A period over this many of its neighbours' is a gap")

LEAST_TEETH = Count(8, "teeth", "Fewer are no wheel that a speed is taken from (from memory)")


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
    even: bool = False
    """True for a wheel that has no gap of its own."""

    @property
    def passes(self) -> int:
        """How often a place of the turn passed: the gaps seen, or the whole turns of a wheel without one."""
        return self.at.size // max(1, self.teeth) if self.even else self.gaps.size

    @property
    def counted(self) -> str:
        """Where places are counted from, in words."""
        return "from the record's first" if self.even else "after the gap"


HALL_V = Threshold(1.0, "V", "Least swing of a Hall sensor's output (from memory)")
LIFTED = Threshold(0.3, "", "Of its swing: an active sensor's lower level lies so far over zero, where no coil's does")


def digital(samples: Samples, active_from_v: float | None = None) -> bool:
    """True for a two-level (Hall) signal: most samples rest near one of two levels that are both not negative.

    With `active_from_v` also for the smaller swing of a sensor that tells by its current, well over zero.
    """
    thin = samples[:: max(1, samples.size // 200_000)]
    low, high = percentiles(thin, 1, 99)
    swing = high - low
    active = active_from_v is not None and swing >= active_from_v and low > LIFTED * swing
    if (swing < HALL_V and not active) or low < -0.15 * swing:
        return False
    return bool(np.mean((thin < low + 0.15 * (high - low)) | (thin > high - 0.15 * (high - low))) > 0.6)


DROWNED = Threshold(
    0.12, "", "Noise of a signal over its local amplitude from which its zero crossings are no longer teeth"
)


def levelled(samples: Samples, interval_s: float) -> Samples:
    """An inductive signal over its local amplitude, about zero, so that slow and fast teeth cross alike."""
    centred = samples - median(samples[:: max(1, samples.size // 200_000)])
    block = max(1, round(0.0005 / interval_s))
    peaks = np.maximum.reduceat(np.abs(centred), np.arange(0, centred.size, block))
    window = max(3, round(0.02 / (block * interval_s)) | 1)
    envelope = running_mean(running_max(running_median(peaks, 3), window), window)
    floor = 0.05 * percentile(envelope, 90)
    at = (np.arange(envelope.size) + 0.5) * block
    return centred / np.maximum(np.interp(np.arange(centred.size), at, envelope), floor)


def teeth_of(samples: Samples, interval_s: float, hall: bool) -> Edges:
    """Crossings of either sense that may stand for teeth, with hysteresis; `hall` for a two-level signal."""
    if hall:
        return find_edges(samples, *swing_thresholds(samples, 0.3))
    even = levelled(samples, interval_s)
    noise = sample_noise(even)
    if noise > DROWNED:
        # Crossings of noise outnumber the teeth: the strongest line of the spectrum is the teeth's.
        width = round(0.25 * _strongest_period(even))
        even = levelled(running_mean(samples, width), interval_s) if width >= 3 else even
        noise = sample_noise(even)
    # A damaged tooth may be a fifth as high; noise must stay under what is taken for one.
    reach = float(np.clip(8 * noise, 0.12, 0.35))
    edges = find_edges(even, -reach, reach, 0.0)
    tooth = median(np.diff(edges.falling)) if edges.falling.size > 3 else 0.0
    if tooth >= 24:  # finely sampled: a mean over a tenth of a tooth takes noise out of the gap
        reach = min(reach, 0.3)
        edges = find_edges(running_mean(even, round(tooth / 10)), -reach, reach, 0.0)
    return edges


def _strongest_period(samples: Samples) -> float:
    """Period of the strongest line of the spectrum of a record's first part, in samples."""
    part = samples[: 1 << 16]
    strength = np.abs(np.fft.rfft(part * np.hanning(part.size)))
    return part.size / float(max(1, 4 + int(np.argmax(strength[4:]))))


def read_wheel(at: NDArray[np.float64]) -> Wheel:
    """Gaps and places of teeth. The widest kind of gap that keeps coming back marks the turn.

    A place counts the teeth that should have passed since the gap, so that one lost tooth moves no other's place.
    """
    periods = np.diff(at)
    usual = running_median(periods, 7)
    ratio = periods / np.maximum(usual, 1e-9)
    wide = np.flatnonzero(ratio > GAP_FROM)
    place = np.full(at.size, -1, dtype=np.int64)
    if wide.size < 2:
        return Wheel(at, ratio, usual, place, 0, 0, wide)
    widths = np.round(ratio).astype(np.int64)
    main = _main_gap(wide, widths[wide])
    width = int(np.median(widths[main]))
    passed = np.concatenate([[0], np.cumsum(widths)])
    wider = wide[(widths[wide] > width) & ~np.isin(wide, main)]
    turn, first = _turn(passed, main, wider, widths[wider] - width)
    if turn == 0:
        return Wheel(at, ratio, usual, place, 0, width - 1, main)
    # A gap that a lost tooth beside it made wider is the wheel's own too.
    widened = wider[_off(passed[wider + 1], first, turn) <= widths[wider] - width]
    gaps = np.sort(np.concatenate([main, widened]))
    place = passed - passed[gaps[0] + 1]
    for g in gaps[1:]:
        place[g + 1 :] = passed[g + 1 :] - passed[g + 1]
    return Wheel(at, ratio, usual, place % turn, turn, width - 1, gaps)


def without_gap(at: NDArray[np.float64], teeth: int = 0) -> Wheel:
    """A wheel of even teeth, of which so many were told; places count from the record's first tooth.

    Untold, the number is how far the same loss keeps coming back, where it does; 0 where nothing tells it.
    """
    periods = np.diff(at)
    usual = running_median(periods, 7)
    ratio = periods / np.maximum(usual, 1e-9)
    passed = np.concatenate([[0], np.cumsum(np.maximum(1, np.round(ratio)).astype(np.int64))])
    if teeth == 0:
        apart = np.diff(passed[np.flatnonzero(ratio > GAP_FROM)])
        teeth = int(apart[0]) if apart.size > 1 and np.all(apart == apart[0]) and apart[0] >= LEAST_TEETH else 0
    place = passed % teeth if teeth else np.full(at.size, -1, dtype=np.int64)
    return Wheel(at, ratio, usual, place, teeth, 0, np.empty(0, dtype=np.int64), even=True)


def _off(ends: NDArray[np.int64], first: int, turn: int) -> NDArray[np.int64]:
    """Teeth by which ends of gaps miss a whole number of turns from the first."""
    return np.asarray(np.abs((ends - first + turn // 2) % turn - turn // 2))


def _turn(
    passed: NDArray[np.int64], main: NDArray[np.int64], wider: NDArray[np.int64], extra: NDArray[np.int64]
) -> tuple[int, int]:
    """Teeth of a turn, missing ones counted, and the tooth where one begins; 0 when no whole turn was seen.

    The turn that explains most gaps and expects fewest that are not there. A wider gap may be the wheel's own with a
    lost tooth beside it, or teeth lost elsewhere, so that it counts half.
    """
    ends = np.concatenate([passed[main + 1], passed[wider + 1]])
    weight = np.concatenate([np.ones(main.size), np.full(wider.size, 0.5)])
    slack = np.concatenate([np.ones(main.size), extra])
    own = passed[main + 1]
    best, turn, start = 0.0, 0, 0
    steps, counts = np.unique(np.diff(np.sort(ends)), return_counts=True)
    common = steps[np.argsort(-counts, kind="stable")][:8]
    for step in np.sort(common[common > 1]):
        for first in own[:3]:
            hits = float(weight[_off(ends, int(first), int(step)) <= slack].sum())
            expected = (int(ends.max()) - int(ends.min())) // int(step) + 1
            score = hits**2 / (expected * float(weight.sum()))
            if score > best:
                best, turn, start = score, int(step), int(first)
    return turn, start


def _main_gap(wide: NDArray[np.int64], widths: NDArray[np.int64]) -> NDArray[np.int64]:
    widest = int(np.bincount(widths).size - 1)
    for width in range(widest, 1, -1):
        found = wide[widths == width]
        # A width seen as often as any other, or regularly, is the wheel's own; a lone wider one is a loss.
        if found.size >= 2 and found.size >= 0.4 * max(np.bincount(widths)):
            return np.asarray(found)
    return wide


def own_share(wheel: Wheel) -> float:
    """Part of all wide periods that are the wheel's own gap."""
    return wheel.gaps.size / max(1, int(np.sum(wheel.ratio > GAP_FROM)))


def amplitudes(samples: Samples, at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Peak to peak between neighbouring teeth, shape (n - 1,): of each period."""
    bounds = np.clip(np.round(at).astype(np.int64), 0, samples.size - 1)
    keep = np.diff(bounds) > 0
    if not keep.all() or bounds.size < 2:
        bounds = np.unique(bounds)
    highs = np.maximum.reduceat(samples, bounds)[:-1]
    lows = np.minimum.reduceat(samples, bounds)[:-1]
    return np.asarray(highs - lows)


def heights(samples: Samples, at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Peak to peak of each tooth, shape (n,): halfway from its neighbours; NaN at the ends."""
    out = np.full(at.size, np.nan)
    if at.size < 3:
        return out
    bounds = np.clip(np.round(0.5 * (at[1:] + at[:-1])).astype(np.int64), 0, samples.size - 1)
    bounds = np.maximum.accumulate(bounds)
    out[1:-1] = (np.maximum.reduceat(samples, bounds) - np.minimum.reduceat(samples, bounds))[:-1]
    return out


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
