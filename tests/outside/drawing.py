"""What draws an outsider's records: passages, a recorder, and how far a reading may be off."""

from __future__ import annotations

import zlib
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from tests.support.courses import captured
from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure

EXACT = "exact"
TIMES = "times"
"""Of a duration or a rate: 2 % or three samples."""


@dataclass
class Drawn:
    """A record with what a careful reader says of it.

    `reads` has values with what they may be off by: a number is the step that a level belongs to (1 % of it), a text
    with % a share of the value.
    """

    circuit: str
    kind: str
    rate: float
    lanes: dict[str, np.ndarray]
    finds: tuple[str, ...] = ()
    reads: dict[str, tuple[float, float | str]] = field(default_factory=dict)
    options: dict[str, str] = field(default_factory=dict)
    cylinder: int | None = None
    calls: tuple[str, ...] = ()

    def capture(self) -> Capture:
        return captured(self.circuit, self.rate, **self.lanes)

    def off(self, reading_id: str) -> float:
        value, scale = self.reads[reading_id]
        if scale == EXACT:
            return 0.0
        if scale == TIMES:
            unit = 1000.0 if reading_id.endswith("_ms") else 1.0 if reading_id.endswith("_s") else 0.0
            return max(0.02 * abs(value), 3 * unit / self.rate)
        return float(scale[:-1]) / 100 * abs(value) if isinstance(scale, str) else 0.01 * abs(scale)

    def wrong(self) -> tuple[Answer, list[str]]:
        """What the core answers, and what of it is wrong, in words."""
        answer = measure(self.capture(), self.circuit, [], dict(self.options))
        told = []
        calls = self.calls or (("faulty",) if self.finds else ("sound",))
        if answer.call not in calls:
            told.append(f"called {answer.call} for {answer.because}")
        faults = [f for f in answer.findings if f.kind == "fault"]
        here = {f.code for f in faults if self.cylinder in (None, f.cylinder)}
        told += [f"{code} is missed" for code in self.finds if code not in here]
        if not self.finds:
            told += [f"{f.code} is no fault of it: {f.text}" for f in faults]
        for reading_id, (value, _) in self.reads.items():
            reading = answer.reading(reading_id)
            if reading is None:
                told.append(f"{reading_id} is absent")
            elif not abs(reading.value - value) <= self.off(reading_id):
                told.append(f"{reading_id} is {reading.value:.5g} for {value:.5g}")
        return answer, told


Maker = Callable[[np.random.Generator, str], Drawn]


def draw(maker: Maker, kind: str, seed: int) -> Drawn:
    return maker(np.random.default_rng([seed, zlib.crc32(f"{maker.__name__} {kind}".encode())]), kind)


def jerk(s: np.ndarray) -> np.ndarray:
    """A movement from 0 to 1 without a jolt, as a hand makes it (Flash and Hogan, J. Neurosci. 5, 1985)."""
    return s**3 * (10 - 15 * s + 6 * s * s)


_S = np.linspace(0, 1, 20001)
FROM_10_TO_90 = float(1 - 2 * np.interp(0.1, jerk(_S), _S))


def path(rate: float, points: list[tuple[float, float]]) -> tuple[np.ndarray, np.ndarray]:
    """Such movements between points of time and value."""
    t = axis(rate, points[-1][0])
    times, values = (np.array(x, dtype=float) for x in zip(*points, strict=True))
    k = np.clip(np.searchsorted(times, t, side="right") - 1, 0, times.size - 2)
    s = np.clip((t - times[k]) / (times[k + 1] - times[k]), 0, 1)
    return t, values[k] + (values[k + 1] - values[k]) * jerk(s)


def lagged(rate: float, target: np.ndarray, up_s: float, down_s: float) -> np.ndarray:
    """What follows a target with one time constant upward and one downward."""
    out = np.empty(target.size)
    value = target[0]
    up, down = 1 - np.exp(-1 / (rate * up_s)), 1 - np.exp(-1 / (rate * down_s))
    for k, wanted in enumerate(target.tolist()):
        value += (up if wanted > value else down) * (wanted - value)
        out[k] = value
    return out


def axis(rate: float, seconds: float) -> np.ndarray:
    return np.arange(round(seconds * rate)) / rate


def adc(
    rng: np.random.Generator, course: np.ndarray, full: float, noise: float, bits: int, low: float | None = None
) -> np.ndarray:
    """A recorder: white noise, and codes from `low` (else as far below zero) to `full`."""
    low = -full if low is None else low
    code = (full - low) / 2**bits
    codes = np.round((course + rng.normal(0, noise, course.size) - low) / code)
    return np.clip(codes * code + low, low, full - code)


def volts(rng: np.random.Generator, course: np.ndarray, noise: float | None = None) -> np.ndarray:
    """The same on the range of 10 V."""
    return adc(rng, course, 10.0, within(rng, 0.002, 0.012) if noise is None else noise, pick(rng, 10, 12, 14))


def pick(rng: np.random.Generator, *values: Any) -> Any:
    return values[rng.integers(len(values))]


def within(rng: np.random.Generator, low: float, high: float) -> float:
    return float(rng.uniform(low, high))
