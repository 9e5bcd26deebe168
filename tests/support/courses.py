"""Signals drawn by hand: straight lines between points, with noise and codes. Independent of the trainer."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.capture import Capture, Lane, capture_from_stamps
from tracebench.core.circuits import circuit

Points = list[tuple[float, float]]


def course(points: Points, rate_hz: float, noise: float = 0.0, seed: int = 1, bits: int | None = None) -> np.ndarray:
    """Samples along (seconds, value) points."""
    times = np.arange(round(points[-1][0] * rate_hz)) / rate_hz
    values = np.interp(times, [p[0] for p in points], [p[1] for p in points])
    values = values + np.random.default_rng(seed).normal(0, noise, times.size) if noise else values
    if bits:
        step = 10.0 / 2**bits
        values = np.round(values / step) * step
    return values


def captured(code: str, rate_hz: float, **lanes: np.ndarray) -> Capture:
    """A capture of lanes by name, in each lane's own unit."""
    kind = circuit(code)
    size = min(v.size for v in lanes.values())
    made = {n: Lane(n, np.asarray(v[:size], dtype=np.float64), kind.lane(n).unit) for n, v in lanes.items()}
    return capture_from_stamps(np.arange(size) / rate_hz, made)


def codes(answer: Answer, kind: str | None = None) -> list[str]:
    return [f.code for f in answer.findings if kind is None or f.kind == kind]


def states(answer: Answer) -> dict[str, str]:
    """State of each deciding limit by reading."""
    return {j.limit.reading: j.state for j in answer.limits if j.decides}
