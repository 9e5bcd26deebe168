"""Notices that the machine's clock was set, or that the machine slept: wall time that passed beside time that did.

What is written down as an instant, as the end of a sitting's time, would else come an hour early or a day late.
"""

from __future__ import annotations

import time
from collections.abc import Callable

LEAST_S = 20.0
"""Less is a clock that is led gently to the right time."""


class ClockWatch:
    """Called again and again; tells by how many seconds the clock was set since the last time, 0 mostly."""

    def __init__(self, wall: Callable[[], float] = time.time, passed: Callable[[], float] = time.monotonic) -> None:
        self._wall, self._passed = wall, passed
        self._apart = wall() - passed()

    def set_by_s(self) -> float:
        apart = self._wall() - self._passed()
        jump = apart - self._apart
        if abs(jump) < LEAST_S:
            # Gently led, many times over, is no jump either.
            self._apart += max(-1.0, min(1.0, jump))
            return 0.0
        self._apart = apart
        return jump
