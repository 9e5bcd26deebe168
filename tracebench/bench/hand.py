"""How a hand moves a pedal or throttle: eased strokes with pauses and tremor."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.errors import BadOption

MOVEMENT_HZ = 200.0
"""Movements are worked out at this rate; no hand has anything faster."""


@dataclass(frozen=True, slots=True)
class SweepPlan:
    """Sweeps closed-open-closed: seconds each way, seconds of hold, how many, and how unsteady the hand is (0-1)."""

    sweeps: int = 2
    way_s: float = 6.0
    hold_s: float = 0.8
    unsteady: float = 0.3


def swept(plan: SweepPlan, duration_s: float, rng: np.random.Generator) -> NDArray[np.float64]:
    """Travel 0-1 at 200 Hz over the record; what does not fit into the record is not done."""
    parts = [np.zeros(_count(rng.uniform(0.7, 1.2)))]
    for _ in range(plan.sweeps):
        for start, stop in ((0.0, 1.0), (1.0, 0.0)):
            way = plan.way_s * (1 + plan.unsteady * rng.uniform(-0.12, 0.25))
            parts.append(_stroke(start, stop, way, plan.unsteady, rng))
            parts.append(np.full(_count(plan.hold_s * rng.uniform(0.8, 1.3)), stop))
    travel = np.concatenate(parts)
    wanted = _count(duration_s) + 1
    travel = np.pad(travel, (0, max(0, wanted - travel.size)), mode="edge")[:wanted]
    return travel


def _stroke(start: float, stop: float, way_s: float, unsteady: float, rng: np.random.Generator) -> NDArray[np.float64]:
    u = np.linspace(0, 1, max(2, _count(way_s)))
    # A wavering pace that never turns back: a positive speed, integrated.
    waver = np.cumsum(rng.normal(0, 1, 6))
    pace = np.exp(unsteady * 0.35 * np.interp(u, np.linspace(0, 1, 6), waver - waver.mean()))
    pace *= np.clip(np.minimum(u, 1 - u) / 0.12, 0.03, 1.0)
    path = np.concatenate(([0.0], np.cumsum(pace[1:])))
    return np.asarray(start + (stop - start) * path / path[-1])


def followed(points: Sequence[tuple[float, float]], duration_s: float) -> NDArray[np.float64]:
    """Travel at 200 Hz along (seconds, travel 0-1) points of a movement made by the learner. Raises BadOption."""
    if len(points) < 2:
        raise BadOption("the movement has fewer than two points; move the pedal while recording")
    times = np.array([p[0] for p in points], dtype=np.float64)
    travel = np.array([p[1] for p in points], dtype=np.float64)
    if not (np.all(np.isfinite(times)) and np.all(np.isfinite(travel))) or np.any(np.diff(times) < 0):
        raise BadOption("the movement's points must be numbers in order of time")
    grid = np.arange(_count(duration_s) + 1) / MOVEMENT_HZ
    moved = np.interp(grid, times, np.clip(travel, 0, 1))
    smooth = np.ones(9) / 9  # a pedal has mass: no jump within 45 ms
    return np.convolve(np.pad(moved, 4, mode="edge"), smooth, mode="valid")


def _count(seconds: float) -> int:
    return round(seconds * MOVEMENT_HZ)
