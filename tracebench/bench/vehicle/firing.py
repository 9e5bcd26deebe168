"""When each cylinder of an engine run has its event: injection or spark, at an angle of the engine cycle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.script import STEP_S

ORDERS = {
    3: (1, 2, 3),
    4: (1, 3, 4, 2),
    5: (1, 2, 4, 5, 3),
    6: (1, 5, 3, 6, 2, 4),
    7: (1, 3, 5, 7, 2, 4, 6),
    8: (1, 8, 4, 3, 6, 5, 7, 2),
}
"""Usual firing orders by number of cylinders (from memory)."""


@dataclass(frozen=True, slots=True, eq=False)
class Firing:
    """One event: instant in seconds of the run, its cylinder, and its number in the order of time from 0."""

    at_s: float
    cylinder: int
    number: int


def firings(
    turns: NDArray[np.float64], order: Sequence[int], from_s: float, to_s: float, turn_part: float
) -> list[Firing]:
    """Events between two instants of a run whose crank turns stand on its grid of `STEP_S`.

    Cylinder order[k] has its event each two turns at (k / len(order) + turn_part) of the cycle.
    """
    times = np.arange(turns.size) * STEP_S
    begin, end = (float(np.interp(t, times, turns)) / 2 for t in (from_s, to_s))
    count = len(order)
    first = int(np.floor((begin - turn_part) * count))
    last = int(np.ceil((end - turn_part) * count))
    slots = np.arange(first, last + 1)
    # A crank that stands still has no instants: the run's turns never fall, and ties give the first.
    at = np.interp(2 * (slots / count + turn_part), turns, times)
    inside = (at >= from_s) & (at < to_s) & (slots >= 0)
    return [
        Firing(float(t), order[int(s) % count], n)
        for n, (s, t) in enumerate(zip(slots[inside], at[inside], strict=True))
    ]
