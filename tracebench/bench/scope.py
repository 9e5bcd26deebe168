"""A simulated scope's front end: range with clipping, converter bits, noise, mains hum, ground point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.errors import BadOption

RANGES_V = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0)
RATES_HZ = (10, 50, 100, 500, 1000, 2000, 5000, 10_000, 50_000)
GROUNDS = ("sensor ground", "battery negative", "engine metal")
MOST_SAMPLES = 2_000_000

_GROUND_OFFSET_V = {"sensor ground": 0.0, "battery negative": 0.018, "engine metal": 0.031}
_GROUND_NOISE_V = {"sensor ground": 0.0, "battery negative": 0.002, "engine metal": 0.005}


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

    def checked(self) -> ScopeSettings:
        """Itself, or BadOption that names the setting and what is possible."""
        if self.range_v not in RANGES_V:
            raise BadOption(f"range {self.range_v:g} V: choose one of {', '.join(f'{r:g}' for r in RANGES_V)} V")
        if self.rate_hz not in RATES_HZ:
            raise BadOption(f"rate {self.rate_hz:g}/s: choose one of {', '.join(str(r) for r in RATES_HZ)}")
        if not 0.5 <= self.duration_s <= 120:
            raise BadOption(f"record of {self.duration_s:g} s: choose 0.5 to 120 s")
        if self.duration_s * self.rate_hz > MOST_SAMPLES:
            raise BadOption(f"the memory holds {MOST_SAMPLES:,} samples; lower the rate or shorten the record")
        if self.duration_s * self.rate_hz < 50:
            raise BadOption("fewer than 50 samples; raise the rate or lengthen the record")
        if self.ground not in GROUNDS:
            raise BadOption(f"ground point {self.ground!r}: choose one of {', '.join(GROUNDS)}")
        return self


def digitised(settings: ScopeSettings, volts: NDArray[np.float64], rng: np.random.Generator) -> NDArray[np.float64]:
    """What the instrument stores: offset of the ground point, noise, hum, clipping and codes; same shape, volts.

    The range spans from a tenth below zero to `range_v`.
    """
    times = np.arange(volts.size) / settings.rate_hz
    noise = float(np.hypot(settings.noise_v, _GROUND_NOISE_V[settings.ground]))
    seen = volts + _GROUND_OFFSET_V[settings.ground] + rng.normal(0, noise, volts.size)
    seen += settings.hum_v * np.sin(2 * np.pi * 50.0 * times + rng.uniform(0, 2 * np.pi))
    low, high = -0.1 * settings.range_v, settings.range_v
    step = (high - low) / 2**settings.bits
    codes = np.round((np.clip(seen, low, high - step) - low) / step)
    return np.asarray(np.round(low + codes * step, 6))
