"""What can be said of a lane before it is known what was recorded: levels, how it moves, what repeats.

Each figure is of the whole record, in the lane's unit, seconds or hertz. Times follow IEEE Std 181-2011 where it has a
term: an event here is a passage of the middle between the lane's low and high, with hysteresis, and back.
"""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

import numpy as np

from tracebench.core.circuits import thinning
from tracebench.core.measure.edges import find_edges
from tracebench.core.robust.median import median
from tracebench.core.samples import Samples

Features = Mapping[str, float]

FEW = 0.005
"""Part of a record that its low and its high leave out at either end."""

QUARTER = 0.25
"""Hysteresis of an event about the middle, as a part of the swing."""

BLOCK_S = 0.05
"""A movement slower than this is that of a hand, a pedal or an engine, and no event."""

SHAPED_EVENTS = 200
"""And so many to tell what one of them looks like."""

NOISE_BETWEEN = 0.65
"""Noise lies between its low and high: 88 % of a normal one's within 20 to 80 %, of a sine 41, of two levels none."""

NOISE_SLOW = 0.35
"""And hardly any of it is slow."""

NOISE_REACH = 0.35
"""Its extremes stand over its low and high by less than this part of its reach; narrow events by more."""

CODES = 4
"""A lane of no more codes than this from its least to its most that flips between them without order shows its last
digit and no event.
"""

DISORDER = 0.3
"""Of `uneven`: half of all gaps are a third longer or shorter than the one before. What comes in order is no noise, """

SMALL = 0.03
SMALL_PART = 0.02
"""but may be hum where it is this small, in the lane's unit or as a part of the level it lies at."""

MOST_EVENTS = 20_000
"""So many are enough to tell how they follow each other."""


def features_of(samples: Samples, interval_s: float) -> Features:
    """Figures of one lane by name; NaN where there is nothing to take it from. Time grows linearly with samples."""
    seen = thinning.thin(samples)
    low, middle, high = (float(v) for v in np.quantile(seen, (FEW, 0.5, 1 - FEW)))
    least, most = float(samples.min()), float(samples.max())
    out = {
        "seconds": samples.size * interval_s,
        "rate_hz": 1.0 / interval_s,
        "low": low,
        "middle": middle,
        "high": high,
        "least": least,
        "most": most,
        "swing": high - low,
        "reach": most - least,
        "above": (most - high) / max(most - least, 1e-12),
        "below": (low - least) / max(most - least, 1e-12),
        "balance": (most + least) / max(most - least, 1e-12),
        "between": float(np.mean((seen > low + 0.2 * (high - low)) & (seen < high - 0.2 * (high - low)))),
    }
    block = max(1, round(BLOCK_S / interval_s))
    block = min(block, samples.size)
    means = samples[: samples.size // block * block].reshape(-1, block).mean(axis=1)
    out["slow_share"] = float(np.var(means) / max(float(np.var(seen)), 1e-12))
    out["slow_swing"] = float(np.ptp(means))
    out |= _events("", samples, interval_s, low, high)
    out |= _events("spike_", samples, interval_s, middle, most)
    out |= _events("dip_", -samples, interval_s, -middle, -least)
    out["still"] = float(_is_still(out, seen))
    return MappingProxyType(out)


def _events(name: str, samples: Samples, interval_s: float, low: float, high: float) -> dict[str, float]:
    """How often a lane passes from low to high and back, for how long, how quickly and how evenly."""
    swing = high - low
    none = {f"{name}hz": 0.0, f"{name}width_s": np.nan, f"{name}edge_s": np.nan, f"{name}uneven": np.nan}
    none |= {f"{name}gaps": np.nan, f"{name}count": 0.0, f"{name}fall_s": np.nan, f"{name}peak_at": np.nan}
    if swing <= 0:
        return none
    edges = find_edges(samples, low + QUARTER * swing, high - QUARTER * swing)
    rising, falling = edges.rising[:MOST_EVENTS], edges.falling[: MOST_EVENTS + 1]
    if rising.size == 0:
        return none
    ends = np.searchsorted(falling, rising)
    closed = ends < falling.size
    widths = (falling[ends[closed]] - rising[closed]) * interval_s
    periods = np.diff(rising) * interval_s
    span = max((rising[-1] - rising[0]) * interval_s, interval_s)
    ratio = periods[1:] / periods[:-1] if periods.size > 1 else np.empty(0)
    usual = median(periods) if periods.size else np.nan
    return {
        f"{name}count": float(rising.size),
        f"{name}hz": (rising.size - 1) / span if rising.size > 1 else 0.0,
        f"{name}width_s": median(widths) if widths.size else np.nan,
        f"{name}edge_s": _edge_s(samples, rising, low, high) * interval_s,
        f"{name}fall_s": _edge_s(samples[::-1], samples.size - 1 - edges.falling[:MOST_EVENTS], low, high) * interval_s,
        f"{name}uneven": median(np.abs(ratio - 1)) if ratio.size else np.nan,
        f"{name}gaps": float(np.mean((ratio > 1.6) & (ratio < 4.5))) if ratio.size else np.nan,
        f"{name}usual_s": usual,
        f"{name}peak_at": _peak_at(samples, rising[closed], falling[ends[closed]]),
    }


def _is_still(f: Features, seen: Samples) -> bool:
    """Whether a lane shows noise about one level and nothing else."""
    codes = np.unique(seen)
    if codes.size == 1 and f["reach"] == 0:
        return True
    if codes.size > 1 and f["reach"] < CODES * np.diff(codes).min() and not f["uneven"] < DISORDER:
        return True
    if f["slow_share"] > NOISE_SLOW or max(f["above"], f["below"]) > NOISE_REACH:
        return False
    if f["swing"] <= SMALL_PART * abs(f["middle"]):
        return True
    in_order = f["uneven"] < DISORDER and f["swing"] > SMALL
    return not in_order and f["between"] > NOISE_BETWEEN


def _peak_at(samples: Samples, begun: Samples, ended: Samples) -> float:
    """Where in an event its peak stands, 0 at its beginning and 1 at its end: the median of the first events."""
    spans = zip(np.round(begun[:SHAPED_EVENTS]).astype(int), np.round(ended[:SHAPED_EVENTS]).astype(int), strict=True)
    at = [np.argmax(samples[a:b]) / (b - a) for a, b in spans if b > a]
    return median(np.array(at)) if at else np.nan


def _edge_s(samples: Samples, at: Samples, low: float, high: float) -> float:
    """Median of how many samples a rising edge takes between 10 and 90 % of the swing; NaN without one."""
    if at.size == 0:
        return np.nan
    under = np.flatnonzero(samples <= low + 0.1 * (high - low))
    over = np.flatnonzero(samples >= high - 0.1 * (high - low))
    # At the ends of the record a passage is cut off, and is as long as can be seen.
    before = np.concatenate(([0], under))[np.searchsorted(under, at)]
    after = np.concatenate((over, [samples.size - 1]))[np.searchsorted(over, at)]
    return median(after - before)
