"""A simulated scope: attenuator or clamp, coupling, bandwidth, range, converter, memory, trigger, ground point."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

from tracebench.core.cards.schools import GROUNDS
from tracebench.core.errors import BadOption
from tracebench.core.measure.edges import find_edges

RANGES_V = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0)
RATES_HZ = (10, 50, 100, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000, 100_000, 200_000, 500_000, 1_000_000)
BITS = (8, 12, 16)
MOST_SAMPLES = 2_000_000

_GROUND_OFFSET_V = {"sensor ground": 0.0, "battery negative": 0.018, "engine metal": 0.031}
_GROUND_NOISE_V = {"sensor ground": 0.0, "battery negative": 0.002, "engine metal": 0.005}

Values = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Trigger:
    """An edge of one lane at a level; `pre` is the part of the record kept before it."""

    lane: str
    level: float
    edge: Literal["rising", "falling"] = "rising"
    pre: float = 0.2


@dataclass(frozen=True, slots=True)
class Input:
    """What hangs before one lane's input: the factor shown for the factor there is, zero error, coupling, bandwidth.

    A clamp of 100 mV/A told as 10 A/V shows amperes; told wrongly it shows a tenth or ten times of them.
    """

    factor: float = 1.0
    zero: float = 0.0
    gain_error: float = 0.0
    coupling: Literal["dc", "ac"] = "dc"
    bandwidth_hz: float | None = None


@dataclass(frozen=True, slots=True)
class ScopeSettings:
    """What is set on the instrument: full range in volts from zero, record length, rate, bits, ground point."""

    range_v: float = 10.0
    duration_s: float = 32.0
    rate_hz: float = 1000.0
    bits: int = 12
    noise_v: float = 0.004
    hum_v: float = 0.002
    ground: str = "sensor ground"
    peak_capture: bool = False
    trigger: Trigger | None = None

    def checked(self) -> ScopeSettings:
        """Itself, or BadOption that names the setting and what is possible."""
        if self.range_v not in RANGES_V:
            raise BadOption(f"range {self.range_v:g} V: choose one of {', '.join(f'{r:g}' for r in RANGES_V)} V")
        if self.rate_hz not in RATES_HZ:
            raise BadOption(f"rate {self.rate_hz:g}/s: choose one of {', '.join(str(r) for r in RATES_HZ)}")
        if self.bits not in BITS:
            raise BadOption(f"{self.bits} bits: choose one of {', '.join(map(str, BITS))}")
        if not 0.02 <= self.duration_s <= 600:
            raise BadOption(f"record of {self.duration_s:g} s: choose 0.02 to 600 s")
        if self.duration_s * self.rate_hz > MOST_SAMPLES:
            raise BadOption(f"the memory holds {MOST_SAMPLES:,} samples; lower the rate or shorten the record")
        if self.duration_s * self.rate_hz < 50:
            raise BadOption("fewer than 50 samples; raise the rate or lengthen the record")
        if self.ground not in GROUNDS:
            raise BadOption(f"ground point {self.ground!r}: choose one of {', '.join(GROUNDS)}")
        return self


def span_of(range_v: float, lowest: float) -> tuple[float, float]:
    """Ends of a range: from a tenth below zero, or as far below as above where the lane swings both ways."""
    return (-range_v, range_v) if lowest < -0.2 * range_v else (-0.1 * range_v, range_v)


def fitting_range(lowest: float, highest: float) -> float:
    """The smallest range with head room over a lane's reach."""
    top = max(abs(lowest) if lowest < -0.5 else 0.0, abs(highest)) * 1.05
    return next((r for r in RANGES_V if r >= top), RANGES_V[-1])


def shown(values: Values, before: Input, rate_hz: float) -> Values:
    """What arrives at the converter, in the unit that the learner told: factor, errors, coupling, bandwidth."""
    seen = values * (before.factor * (1 + before.gain_error)) + before.zero
    if before.bandwidth_hz is not None and before.bandwidth_hz < 0.5 * rate_hz:
        alpha = 1 - np.exp(-2 * np.pi * before.bandwidth_hz / rate_hz)
        seen, _ = scipy.signal.lfilter([alpha], [1, alpha - 1], seen, zi=[seen[0] * (1 - alpha)])
    if before.coupling == "ac":
        keep = np.exp(-2 * np.pi * 1.0 / rate_hz)  # a corner of 1 Hz
        seen = scipy.signal.lfilter([1, -1], [1, -keep], seen - seen[0])
    return np.asarray(seen, dtype=np.float64)


def digitised(
    settings: ScopeSettings,
    volts: Values,
    rng: np.random.Generator,
    ends: tuple[float, float] | None = None,
    noise: float | None = None,
) -> Values:
    """What the instrument stores: offset of the ground point, noise, hum, clipping and codes; same shape and unit.

    `ends` are the ends of the lane's range; by default from a tenth below zero to `range_v`.
    """
    low, high = ends if ends is not None else span_of(settings.range_v, 0.0)
    step = (high - low) / 2**settings.bits
    sigma = float(np.hypot(settings.noise_v if noise is None else noise, _GROUND_NOISE_V[settings.ground]))
    seen = rng.standard_normal(volts.size, dtype=np.float32).astype(np.float64)
    seen *= sigma
    seen += volts
    seen += _GROUND_OFFSET_V[settings.ground]
    if settings.hum_v:
        seen += settings.hum_v * _hum(volts.size, settings.rate_hz, rng.uniform(0, 2 * np.pi))
    np.clip(seen, low, high - step, out=seen)
    seen -= low
    seen *= 1 / step
    np.rint(seen, out=seen)
    seen *= step
    seen += low
    return np.round(seen, 6, out=seen)


def _hum(size: int, rate_hz: float, phase: float) -> Values:
    """Mains hum of 50 Hz; one second of it is worked out and repeated where that is exact."""
    period = round(rate_hz)
    if size <= period or rate_hz % 50:
        return np.asarray(np.sin(2 * np.pi * 50.0 * np.arange(size) / rate_hz + phase))
    one = np.sin(2 * np.pi * 50.0 * np.arange(period) / rate_hz + phase)
    return np.resize(one, size)


def decimated(values: Values, factor: int, peak_capture: bool) -> Values:
    """Every `factor`-th sample, or with peak capture by turns the least and the most of each two runs."""
    if factor <= 1:
        return values
    whole = values[: values.size // factor * factor].reshape(-1, factor)
    if not peak_capture:
        return np.ascontiguousarray(whole[:, 0])
    out = np.empty(whole.shape[0])
    pairs = whole[: whole.shape[0] // 2 * 2].reshape(-1, 2 * factor)
    out[0 : 2 * pairs.shape[0] : 2], out[1 : 2 * pairs.shape[0] : 2] = pairs.min(axis=1), pairs.max(axis=1)
    if whole.shape[0] % 2:
        out[-1] = whole[-1, 0]
    return out


def triggered(lanes: Mapping[str, Values], trigger: Trigger, rate_hz: float, count: int) -> tuple[int, int]:
    """Samples [start, stop) of the record that a trigger cuts out. Raises BadOption when it never fires."""
    if trigger.lane not in lanes:
        raise BadOption(f"trigger on {trigger.lane!r}: choose one of {', '.join(lanes)}")
    samples = lanes[trigger.lane]
    slack = 0.02 * float(np.ptp(samples)) + 1e-9
    edges = find_edges(samples, trigger.level - slack, trigger.level + slack)
    found = edges.rising if trigger.edge == "rising" else edges.falling
    before = round(trigger.pre * count)
    for at in found:
        start = round(float(at)) - before
        if start >= 0 and start + count <= samples.size:
            return start, start + count
    if found.size:
        raise BadOption(
            f"the trigger fires first at {found[0] / rate_hz:.2f} s and never with {count / rate_hz:g} s of record "
            "round it; shorten the record or keep less of it before the trigger"
        )
    low, high = float(samples.min()), float(samples.max())
    raise BadOption(
        f"the trigger never fires: {trigger.lane} lies between {low:.2f} and {high:.2f}, its level at {trigger.level:g}"
    )
