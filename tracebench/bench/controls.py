"""What is done with the trainer's controls while it runs: moves in order of time, laid on the engine's grid.

A run begins with the key off. Every move holds until the next of the same control.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from tracebench.bench.vehicle.script import STEP_S, Script
from tracebench.core.errors import BadOption

Course = NDArray[np.float64]

LONGEST_RUN_S = 900.0
MOST_MOVES = 6000


@dataclass(frozen=True, slots=True)
class Control:
    """One control: the values that it can have, and its title."""

    key: str
    title: str
    highest: float


OFF, ON, START = 0.0, 1.0, 2.0
"""Places of the key; it springs back from the last."""

KEY = Control("key", "Key", START)
TRAVEL = Control("travel", "Throttle", 1.0)
PEDAL = Control("travel", "Pedal", 1.0)
SPEED = Control("speed", "Held at", 6000.0)
LOAD = Control("load", "Lamps, blower and cooling", 1.0)
HEAT = Control("heat", "Warm air on the part", 1.0)
WIGGLE = Control("wiggle", "Wiggle the harness", 1.0)
PULL = Control("pull", "Pull the wheel round", 1.0)
PRESS = Control("press", "Press the trigger", 1.0)

ENGINE = (KEY, TRAVEL, SPEED, LOAD, HEAT, WIGGLE)
DIESEL = (KEY, PEDAL, HEAT, WIGGLE)

LOAD_A, LOAD_NM = 45.0, 6.0
"""What all that can be switched on draws from the battery beyond the rest, and its drag on the crank."""

HEAT_S, HOTTEST, RUNNING_HEAT = 10.0, 1.3, 0.62
"""Warm air takes a part past half of its way in some five seconds; an engine that runs takes about sixteen."""

WARM = 0.5
"""Warmth from which what fails hot fails."""

WARMED_K = 70.0
"""How much warmer a part of warmth 1 is than where it was soaked."""

_SMOOTH_S = 0.045
"""A pedal has mass: no jump within that time."""

Move = tuple[float, str, float]


class Controls:
    """Moves of a run as courses on the grid of `STEP_S`. Raises BadOption for moves that cannot be."""

    def __init__(self, offered: Sequence[Control], moves: Sequence[Move]) -> None:
        self._offered = {c.key: c for c in offered}
        self.moves = tuple(moves)
        if len(moves) > MOST_MOVES:
            raise BadOption(f"more than {MOST_MOVES:,} moves in one run; begin a new one")
        last = 0.0
        for at, key, value in moves:
            control = self._offered.get(key)
            if control is None:
                raise BadOption(f"control {key[:20]!r}: choose one of {', '.join(self._offered)}")
            if not (math.isfinite(at) and math.isfinite(value)) or not 0 <= value <= control.highest:
                raise BadOption(f"{control.title.lower()} at {value:g}: choose 0 to {control.highest:g}")
            if at < last:
                raise BadOption(f"a move at {at:g} s after one at {last:g} s; moves come in order of time")
            last = at

    def course(self, key: str, seconds: float) -> Course:
        """Value of a control on the grid, from the run's begin and a step longer than `seconds`; 0 before a move."""
        out = np.zeros(round(seconds / STEP_S) + 2)
        if key not in self._offered:
            return out
        own = [(round(at / STEP_S), value) for at, name, value in self.moves if name == key]
        for k, (begin, value) in enumerate(own):
            out[begin : own[k + 1][0] if k + 1 < len(own) else None] = value
        return out

    def script(self, seconds: float) -> Script:
        """Demands on an engine."""
        key = self.course("key", seconds)
        load = self.course("load", seconds) * (key > 0)
        return Script(
            (key > 0).astype(float),
            (key >= START).astype(float),
            smoothed(self.course("travel", seconds)),
            self.course("speed", seconds) * (key > 0),
            LOAD_A * load,
            LOAD_NM * load,
        )

    def warmth(self, seconds: float, running: Course | None = None) -> Course:
        """Warmth of the part on the grid: 0 soaked, `WARM` where it begins to fail; `running` is 1 with the engine."""
        aim = HOTTEST * self.course("heat", seconds)
        if running is not None:
            aim = np.maximum(aim, RUNNING_HEAT * running[: aim.size])
        alpha = STEP_S / HEAT_S
        return np.asarray(scipy.signal.lfilter([alpha], [1, alpha - 1], aim))


def smoothed(course: Course) -> Course:
    """A course of steps as a hand and a linkage make it: the mean of the last `_SMOOTH_S`."""
    size = round(_SMOOTH_S / STEP_S)
    total = np.cumsum(np.concatenate([np.full(size, course[0]), course]))
    return np.asarray((total[size:] - total[:-size]) / size)


class Chance:
    """When a loose contact opens, over a whole run: the same from one look at the run to the next."""

    SLOT_S = 0.35
    IDLY = 8
    """One slot of so many shows it with nothing but the engine's own shaking."""

    def __init__(self, seed: int) -> None:
        slots = round(LONGEST_RUN_S / self.SLOT_S)
        place, self._lasts = np.random.default_rng([seed, 7]).uniform(size=(2, slots))
        self._from_s = (np.arange(slots) + 0.7 * place) * self.SLOT_S

    def open(
        self, instants_s: Course, shaken: Course, running: Course, lasts_s: tuple[float, float]
    ) -> NDArray[np.bool_]:
        """Where the contact is open at the instants of a run; `shaken` and `running` are on the grid, 0 or 1."""
        begin = self._from_s
        inside = (begin >= instants_s[0] - lasts_s[1]) & (begin <= instants_s[-1])
        out = np.zeros(instants_s.size, dtype=np.bool_)
        for k in np.flatnonzero(inside):
            at = min(round(begin[k] / STEP_S), shaken.size - 1)
            if shaken[at] > 0 or (running[at] > 0 and k % self.IDLY == 0):
                end = begin[k] + lasts_s[0] + self._lasts[k] * (lasts_s[1] - lasts_s[0])
                out[np.searchsorted(instants_s, begin[k]) : np.searchsorted(instants_s, end)] = True
        return out
