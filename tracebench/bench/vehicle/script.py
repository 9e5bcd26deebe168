"""What the driver does: segments of a manoeuvre, laid on the engine model's time grid."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

STEP_S = 0.001
"""Time step of the engine model."""

Do = Literal["off", "key_on", "crank", "idle", "snap", "speed"]


@dataclass(frozen=True, slots=True)
class Segment:
    """One thing the driver does for `seconds`: a snap opens to `amount` of the travel, a speed holds `amount` rpm."""

    do: Do
    seconds: float
    amount: float = 1.0


@dataclass(frozen=True, slots=True, eq=False)
class Script:
    """Demands on the grid: key and starter (0 or 1), throttle travel 0-1, target speed in rpm (0: none).

    What is switched on besides draws amperes from the battery and newton metres from the crank; nothing where None.
    """

    key: NDArray[np.float64]
    starter: NDArray[np.float64]
    travel: NDArray[np.float64]
    target_rpm: NDArray[np.float64]
    load_a: NDArray[np.float64] | None = None
    load_nm: NDArray[np.float64] | None = None

    @property
    def seconds(self) -> float:
        return self.key.size * STEP_S


def laid_out(segments: Sequence[Segment], rng: np.random.Generator) -> Script:
    """Demands of a manoeuvre; a hand opens in 80 to 120 ms and shuts in as long, and pauses are not quite as told."""
    key, starter, travel, target = [], [], [], []
    for s in segments:
        count = max(1, round(s.seconds * rng.uniform(0.95, 1.05) / STEP_S))
        key.append(np.full(count, 0.0 if s.do == "off" else 1.0))
        starter.append(np.full(count, 1.0 if s.do == "crank" else 0.0))
        target.append(np.full(count, s.amount if s.do == "speed" else 0.0))
        travel.append(_snap(count, s.amount, rng) if s.do == "snap" else np.zeros(count))
    return Script(*(np.concatenate(x) for x in (key, starter, travel, target)))


def _snap(count: int, amount: float, rng: np.random.Generator) -> NDArray[np.float64]:
    up, down = (round(rng.uniform(0.08, 0.12) / STEP_S) for _ in range(2))
    hold = max(1, count - up - down)
    ramp = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, up))
    fall = 0.5 + 0.5 * np.cos(np.linspace(0, np.pi, down))
    return amount * np.concatenate([ramp, np.ones(hold), fall])[:count]
