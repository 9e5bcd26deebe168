"""Excursions: short departures from the local trend that come back (dropouts and spikes)."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from itertools import accumulate

import numpy as np

from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import ENOUGH, MAD_TO_SIGMA, robust_sigma, sample_noise
from tracebench.core.robust.series import course_medians, joined, running_mean, running_median, runs
from tracebench.core.samples import Samples

GRID_S = 0.002
"""The trend is followed on block medians of this length."""

_MOST = 2000
_FEWEST_STEPS = 8
_WINDOW_S = 1.0
_SAMPLED_PER_WINDOW = 256
_FEWEST_MEANS = 8

_LONG = 1 << 18
_PIECE = 1 << 15
_PIECE_WIDTH = 1 << 10
"""Records from which it is first asked whether anything stands out, in pieces that stay near the processor."""


@dataclass(frozen=True, slots=True)
class Excursion:
    """Samples [start, stop) that leave the trend; `depth` is signed, in the samples' unit, `trend` the level left."""

    start: int
    stop: int
    peak: int
    depth: float
    trend: float
    sigma: float


def find_excursions(
    samples: Samples,
    interval_s: float,
    longest_s: float = 0.150,
    floor: float = 0.060,
    sigmas: float = 5.0,
    least: float = 1.0,
    medians_of: Callable[[Samples, int], Samples] = course_medians,
) -> list[Excursion]:
    """Departures of at most `longest_s` deeper than `floor` and than `sigmas` of the local noise, in order.

    The trend is a running median over a little more than twice the longest excursion, which leaves every
    monotone movement alone. Departures are looked for in means over 1, 2, 4, ... samples, so that a shallow
    one that lasts is found as surely as a deep one that does not. The threshold rises with the logarithm
    of the number of means, or long records would show chance peaks. What both neighbouring slopes, carried
    on, would explain (the turn of a quick sweep) is no excursion. With `least` under 1 those are answered too that
    stand out by this part of what is asked of one alone, for callers who know where to look for company.
    `medians_of` gives medians of runs of so many samples, from callers who know them already.
    """
    # Two codes of a coarse recorder are chance, not depth.
    # A step is the recorder's only if it is seen again and again: a lone dropout makes one too.
    stirs = any(np.count_nonzero(np.diff(samples[:some])) >= _FEWEST_STEPS for some in (ENOUGH, 2_000_000))
    step = resolution(samples) if stirs else 0.0
    floor = max(floor, 2.5 * step)
    trend = _trend(samples, interval_s, longest_s, medians_of)
    longest = max(2, round(longest_s / interval_s))
    gap = max(2, round(0.005 / interval_s))
    out: list[Excursion] = []
    # On a steep slope the running median picks the very samples it is held against: differences see that noise.
    some = slice(None, None, max(1, samples.size // ENOUGH))
    sigma_raw = max(robust_sigma(samples[some] - trend.every(some.step, samples.size), step), sample_noise(samples))
    if samples.size >= _LONG and not _anything(samples, trend, longest, floor, sigmas, sigma_raw):
        return []
    residual = samples - trend.stretch(0, samples.size)
    tight: dict[float, list[tuple[int, int]]] = {}
    for sign, flagged in _flagged(residual, interval_s, longest, floor, sigmas, sigma_raw).items():
        if not flagged:
            continue
        signed = sign * residual
        strongest = _strongest(joined(flagged, gap), signed)
        tight[sign] = joined([_limits_of(signed, f, sigma_raw, longest) for f in strongest], 1)
    every = sorted((a, b, s) for s, intervals in tight.items() for a, b in intervals)
    heights = [float(np.abs(residual[a:b]).max()) for a, b, _ in every]
    starts = [a for a, _, _ in every]
    # The furthest that any has reached so far: where those begin that can lie beside one.
    reached = list(accumulate((b for _, b, _ in every), max))
    for sign in tight:
        signed = sign * residual
        for (start, stop, own), height in zip(every, heights, strict=True):
            if own != sign:
                continue
            beside = range(bisect_right(reached, start - longest), bisect_left(starts, stop + longest))
            # A deep one bends the trend beside it: its neighbours are judged without it, not it without them.
            others = [every[k][:2] for k in beside if every[k][2] == sign or heights[k] > height]
            found = _examined(samples, signed, sign, (start, stop), others, longest, floor, sigmas, sigma_raw, least)
            if found is not None:
                out.append(found)
    return sorted(out, key=lambda e: e.start)


@dataclass(frozen=True, slots=True)
class _Trend:
    """Levels at the middles of blocks of `block` samples, straight lines between them, level before and after."""

    levels: Samples
    block: int

    def stretch(self, start: int, stop: int) -> Samples:
        """At samples [start, stop): the same as np.interp between the middles, whose places are even."""
        first = self.block // 2
        share = (np.arange(self.block) + first - (self.block - 1) / 2) / self.block
        lo, hi = (start - first) // self.block, -(-(stop - first) // self.block)
        ends = self.levels[np.clip(np.arange(lo, hi + 1), 0, self.levels.size - 1)]
        lines = np.multiply(np.diff(ends)[:, np.newaxis], share)
        lines += ends[:-1, np.newaxis]
        begin = start - first - lo * self.block
        return lines.ravel()[begin : begin + stop - start]

    def every(self, stride: int, size: int) -> Samples:
        """At one of so many of the first `size` samples."""
        middles = np.arange(self.levels.size) * self.block + (self.block - 1) / 2
        return np.interp(np.arange(0, size, stride), middles, self.levels)


def _trend(
    samples: Samples, interval_s: float, longest_s: float, medians_of: Callable[[Samples, int], Samples]
) -> _Trend:
    block = max(1, round(GRID_S / interval_s))
    levels = running_median(medians_of(samples, block), round(2.15 * longest_s / (block * interval_s)) | 1)
    return _Trend(levels, block)


def _anything(samples: Samples, trend: _Trend, longest: int, floor: float, sigmas: float, sigma: float) -> bool:
    """Whether a mean over 1, 2, 4, ... samples stands out at all, asked of a long record a piece at a time.

    A piece is worked through while it is near the processor; what it leaves, means over a great many samples, is
    worked through together.
    """
    least = {
        width: _least(samples.size // width, floor, sigmas, sigma, width) if width <= longest else np.inf
        for width in (1 << np.arange(samples.size.bit_length())).tolist()
    }
    wide: list[Samples] = []
    for start in range(0, samples.size, _PIECE):
        piece = samples[start : start + _PIECE]
        means, width = piece - trend.stretch(start, start + piece.size), 1
        while width < _PIECE_WIDTH and means.size:
            if _highest(means) > least[width]:
                return True
            means, width = _halved(means), 2 * width
        wide.append(means)
    means, width = np.concatenate(wide), _PIECE_WIDTH
    while width <= longest and means.size >= _FEWEST_MEANS:
        if _highest(means) > least[width]:
            return True
        means, width = _halved(means), 2 * width
    return False


def _highest(means: Samples) -> float:
    return max(float(means.max()), -float(means.min()))


def _least(count: int, floor: float, sigmas: float, sigma: float, width: int) -> float:
    """What one of so many means over `width` samples has to exceed to stand out."""
    return max(floor, _z(count, sigmas) * sigma / float(np.sqrt(width)))


def _z(count: int, sigmas: float) -> float:
    return max(sigmas, float(np.sqrt(2 * np.log(max(1, count)))) + 1.2)


def _flagged(
    residual: Samples, interval_s: float, longest: int, floor: float, sigmas: float, sigma: float
) -> dict[float, list[tuple[int, int]]]:
    """Intervals in which a mean over 1, 2, 4, ... samples stands out, by the sign of the side."""
    out: dict[float, list[tuple[int, int]]] = {-1.0: [], 1.0: []}
    # A side has means of its own from where something stood out: that must not make a whole coarser block stand out.
    own: dict[float, Samples] = {}
    means, width = residual, 1
    while width <= longest and means.size >= _FEWEST_MEANS:
        window = max(16, round(_WINDOW_S / (interval_s * width)))
        z, known = _z(means.size, sigmas), sigma / np.sqrt(width)
        for sign, found in out.items():
            signed = own.get(sign)
            highest = signed.max() if signed is not None else means.max() if sign > 0 else -means.min()
            if highest <= _least(means.size, floor, sigmas, sigma, width):
                continue
            signed = sign * means if signed is None else signed
            above = _above(signed, window, floor, z, known)
            if above.any():
                found += [(a * width, b * width) for a, b in runs(above)]
                own[sign] = np.where(above, 0.0, signed)
        width *= 2
        own = {sign: _halved(signed) for sign, signed in own.items()}
        means = _halved(means)
    return out


def _halved(means: Samples) -> Samples:
    """Means of pairs; a last one without company is left out."""
    even = means.size // 2 * 2
    out = means[:even:2] + means[1:even:2]
    out *= 0.5
    return out


def _above(means: Samples, window: int, floor: float, z: float, sigma: float) -> np.ndarray:
    """Mask of means above the threshold of the largest of local (about a second), overall and known noise."""
    overall = max(sigma, MAD_TO_SIGMA * median(np.abs(means[:: max(1, means.size // 100_000)])))
    high = means > max(floor, z * overall)
    for start in range(0, means.size, window):
        part = means[start : start + window]
        if not high[start : start + window].any():
            continue
        thin = part[:: max(1, part.size // _SAMPLED_PER_WINDOW)]
        local = MAD_TO_SIGMA * median(np.abs(thin))
        high[start : start + window] &= part > z * local
    return high


def _strongest(flagged: list[tuple[int, int]], signed: Samples) -> list[tuple[int, int]]:
    if len(flagged) <= _MOST:
        return flagged
    ranked = sorted(flagged, key=lambda ab: -float(signed[ab[0] : ab[1]].max()))
    return sorted(ranked[:_MOST])


def _examined(
    samples: Samples,
    signed: Samples,
    sign: float,
    limits: tuple[int, int],
    others: list[tuple[int, int]],
    longest: int,
    floor: float,
    sigmas: float,
    sigma: float,
    least: float,
) -> Excursion | None:
    start, stop = limits
    # A departure that begins or ends with the record has not been seen to come back.
    if stop - start > longest or start == 0 or stop >= samples.size:
        return None
    peak = start + int(np.argmax(signed[start:stop]))
    side = min(max(2 * (stop - start), 8), longest)
    left = _line(samples, max(0, start - side), start, others)
    right = _line(samples, stop, min(samples.size, stop + side), others)
    if left is None or right is None:
        return None
    before, after = left.at(start), right.at(stop)
    x = np.arange(start, stop)
    chord = before + (after - before) * (x - start) / max(stop - start, 1)
    # What either neighbouring slope, carried on, reaches is a turn, a corner or a step of the movement.
    beyond = max(0.0, *(sign * (line.at(peak) - chord[peak - start]) for line in (left, right)))
    departure = sign * (samples[start:stop] - chord)
    mean_of = max(1, (stop - start) // 4)
    smooth = float(running_mean(departure, mean_of).max())
    around = running_mean(signed[max(0, start - 4 * longest) : stop + 4 * longest], mean_of)
    noise = max(sigma / np.sqrt(mean_of), MAD_TO_SIGMA * median(np.abs(around)))
    # The chord is itself drawn through noise: what its ends may be off is no excursion either.
    doubt = sigma * max(left.doubt(peak), right.doubt(peak))
    if smooth - beyond < least * max(0.8 * floor, sigmas * float(np.hypot(noise, doubt))):
        return None
    depth = sign * max(_bottom(departure, sigma), smooth)
    return Excursion(start, stop, peak, float(depth), float(chord[peak - start]), sigma)


def _limits_of(signed: Samples, flagged: tuple[int, int], sigma: float, longest: int) -> tuple[int, int]:
    """Outward from the flagged stretch until the departure is under a tenth of its height, or lost in noise."""
    start, stop = flagged
    mean_of = max(1, (stop - start) // 6)
    offset = max(0, start - longest - 1)
    smooth = running_mean(signed[offset : stop + longest + 1], mean_of)
    core = slice(start - offset, stop - offset)
    edge = max(0.1 * float(smooth[core].max()), 2 * sigma / np.sqrt(mean_of))
    above = smooth >= edge
    at = start - offset + int(np.argmax(smooth[core]))
    # Ups and downs inside the flagged stretch do not end it.
    above[core.start : core.stop] |= True
    below = ~above
    left = int(np.flatnonzero(below[:at])[-1]) + 1 if below[:at].any() else 0
    right = at + int(np.argmax(below[at:])) if below[at:].any() else above.size
    inner = np.flatnonzero(smooth[left:right] >= edge)
    if inner.size == 0:
        return flagged
    first, last = offset + left + int(inner[0]), offset + left + int(inner[-1])
    # The mean has widened it by up to half its length on either side.
    raw_edge = max(edge, 2 * sigma)
    narrow = np.flatnonzero(signed[first : first + mean_of // 2 + 1] >= raw_edge)
    first += int(narrow[0]) if narrow.size else mean_of // 2
    narrow = np.flatnonzero(signed[last - mean_of // 2 : last + 1] >= raw_edge)
    last -= (mean_of // 2 - int(narrow[-1])) if narrow.size else mean_of // 2
    return first, max(last, first) + 1


@dataclass(frozen=True, slots=True)
class _Line:
    """A straight line through `points` samples beside an excursion."""

    slope: float
    offset: float
    middle: float
    points: int

    def at(self, index: int) -> float:
        return self.slope * index + self.offset

    def doubt(self, index: int) -> float:
        """Standard error of the line there, in standard deviations of one sample (least squares of even points)."""
        return float(np.sqrt(1 / self.points + 12 * (index - self.middle) ** 2 / self.points**3))


def _line(samples: Samples, lo: int, hi: int, skip: list[tuple[int, int]]) -> _Line | None:
    x = np.arange(lo, hi)
    for a, b in skip:
        if a < hi and b > lo:
            x = x[(x < a) | (x >= b)]
    if x.size == 0:
        return None
    if x.size < 4:
        return _Line(0.0, median(samples[x]), float(x.mean()), int(x.size))
    slope, offset = np.polyfit(x - lo, samples[x], 1)
    return _Line(float(slope), float(offset - slope * lo), float(x.mean()), int(x.size))


def _bottom(departure: Samples, sigma: float) -> float:
    """Height of the far end: the median of a flat bottom (no wider than noise), the extreme of a pointed one."""
    extreme = float(departure.max())
    far = departure[departure >= 0.5 * extreme]
    if sigma > 0 and far.size >= 5 and robust_sigma(far) <= 1.6 * sigma:
        return median(far)
    return extreme
