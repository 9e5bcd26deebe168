"""The burn of a spark in a row of samples: from the kick or firing line to where the arc goes out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.measure.crests import crests
from tracebench.core.robust import fits
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import MAD_TO_SIGMA, detrended
from tracebench.core.robust.series import running_mean, running_median
from tracebench.core.samples import Samples

COUNT_DOUBT = 0.5
"""Standard uncertainty of a count of rings that die away: the last one is just over the threshold or just under."""


@dataclass(frozen=True, slots=True)
class Burn:
    """A burn within a stretch: half-open samples, its level, its relative roughness and rings behind it."""

    start: int
    stop: int
    level: float
    roughness: float
    """1.4826 MAD about the slope, over the level."""
    rings: float
    """Count of them, NaN where noise would hide them."""


def smoothed_sigma(sigma: float, interval_s: float) -> float:
    """Noise that the median over some 40 us leaves, in which a burn is looked for."""
    return 1.2533 * sigma / float(np.sqrt(2 * max(1, round(20e-6 / interval_s)) + 1))


def find_burn(part: Samples, fired: int, interval_s: float, sigma: float, least_s: float = 0.12e-3) -> Burn | None:
    """The burn that follows the firing at sample `fired` of `part`, whose zero is the rest level; None without one.

    A burn rests at one sign for at least `least_s`; a coil that rings out without an arc swings about zero at once.
    """
    grace = max(2, round(0.05e-3 / interval_s))
    width = max(1, round(20e-6 / interval_s))
    smooth = running_median(part, max(3, 2 * width + 1)) if part.size > 5 else part
    # Out of the firing line: where the course no longer falls steeply.
    after = smooth[fired + grace :]
    own = smoothed_sigma(sigma, interval_s)
    if after.size < 8:
        return None
    window = after[: max(8, round(0.5e-3 / interval_s))]
    level = median(window[window > 0.0]) if np.any(window > 0) else 0.0
    top = float(part[fired])
    if level < max(4 * own, 0.012 * top):
        return None
    hold = max(2, round(0.04e-3 / interval_s))
    stop = _out(after, 0.45 * level, hold)
    inner = _middle(after, stop, grace)
    if inner.size >= 4:
        level = median(inner)
        stop = _left(after, _out(after, 0.5 * level, hold), own)
    if stop * interval_s < least_s:
        return None
    inner = _middle(after, stop, grace)
    level = median(inner) if inner.size >= 4 else level
    if level <= 0:
        # Between two codes of a range far too large nothing burns.
        return None
    begin = fired + grace
    raw = part[begin + int(0.15 * stop) : begin + max(int(0.15 * stop) + 8, int(0.85 * stop))]
    rough = MAD_TO_SIGMA * median(np.abs(detrended(raw))) if raw.size >= 8 else 0.0
    rough = float(np.sqrt(max(0.0, rough**2 - sigma**2)))
    return Burn(fired, begin + stop, level, rough / level, count_rings(part[begin + stop :], level, interval_s, sigma))


def _middle(after: Samples, stop: int, grace: int) -> Samples:
    """The middle three fifths of a burn that began `grace` samples before and goes on to `stop`."""
    begin = max(0, int(0.2 * (stop + grace)) - grace)
    return after[begin : max(begin + 1, int(0.8 * (stop + grace)) - grace)]


def _left(after: Samples, out: int, sigma: float) -> int:
    """Where the course leaves the line of the burn on its way out: the ring that follows may begin on its level."""
    begin, end = int(0.3 * out), max(int(0.3 * out) + 2, int(0.9 * out))
    if end - begin < 8:
        return out
    slope, offset = fits.line(after[begin:end])
    offset -= slope * begin
    line = offset + slope * np.arange(out)
    spread = max(4 * sigma, 3 * float(np.std(after[begin:end] - line[begin:end])), 0.12 * offset)
    on_line = np.flatnonzero(after[:out] >= line - spread)
    return int(on_line[-1]) + 1 if on_line.size and on_line[-1] > 0.5 * out else out


def _out(after: Samples, threshold: float, hold: int) -> int:
    """First sample from which the course stays under the threshold for `hold` samples; its length if it never does."""
    under = (after < threshold).astype(np.int32)
    if under.size < hold:
        return int(after.size)
    together = np.convolve(under, np.ones(hold, dtype=np.int32), mode="valid")
    full = np.flatnonzero(together == hold)
    return int(full[0]) if full.size else int(after.size)


def rings_of(
    samples: Samples, burns: Sequence[Burn | None], groups: NDArray[np.int64], interval_s: float, sigma: float
) -> Samples:
    """Rings behind each burn, shape (len(burns),); NaN without a burn.

    Where noise hides them behind single burns, they are counted on the mean of the group's tails, laid on each other by
    the ends of their burns, and every burn of the group is given that count.
    """
    out = np.array([np.nan if b is None else b.rings for b in burns])
    reach = max(8, round(3e-3 / interval_s))
    for group in np.unique(groups):
        own = [int(k) for k in np.flatnonzero(groups == group) if burns[int(k)] is not None]
        if not own or np.isfinite(out[own]).mean() > 0.5:
            continue
        tails, levels = [], []
        for k in own:
            burn = burns[k]
            if burn is not None and burn.stop + reach <= samples.size:
                tails.append(samples[burn.stop : burn.stop + reach])
                levels.append(burn.level)
        if tails:
            left = sigma / np.sqrt(len(tails))
            out[own] = count_rings(np.mean(tails, axis=0), median(levels), interval_s, left)
    return out


def count_rings(tail: Samples, level: float, interval_s: float, sigma: float) -> float:
    """Swings to the burn's side after it has gone out, as large as an eighth of its level at least."""
    reach = tail[: max(8, round(3e-3 / interval_s))]
    if reach.size < 8:
        return 0.0
    smooth = running_mean(reach, max(1, round(6e-6 / interval_s)))
    # From the highest crest to the lowest trough noise alone spans some seven sigma.
    own = 8 * sigma / np.sqrt(max(1, round(6e-6 / interval_s)))
    if own > 0.3 * level:
        return float("nan")
    least = max(0.12 * level, own)
    # Coils ring at some kHz: two crests closer than 60 us are one with noise on it.
    apart = max(1, round(60e-6 / interval_s))
    return float(crests(smooth, 0.3 * least, least, apart).size)
