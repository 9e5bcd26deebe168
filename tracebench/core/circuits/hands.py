"""How people take readings off a trace, and how finely a hand does it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

How = Literal["level", "difference", "span", "number"]
"""How pegs give a reading: the level at or between them, their difference in value or in time, or typed."""


@dataclass(frozen=True, slots=True)
class Hand:
    """What a hand places a peg, or reads a figure, by: at least `least` in the reading's unit, or a `share` of it."""

    least: float
    share: float = 0.0

    def of(self, value: float) -> float:
        return max(self.least, self.share * abs(value))


HANDS: Mapping[tuple[str, How], Hand] = {
    ("V", "level"): Hand(0.02, 0.02),
    ("V", "difference"): Hand(0.03, 0.05),
    ("V", "number"): Hand(0.02, 0.05),
    ("mV", "number"): Hand(3.0, 0.2),
    ("s", "span"): Hand(0.02, 0.05),
    ("ms", "span"): Hand(0.02, 0.05),
    ("A", "level"): Hand(0.02, 0.03),
    ("A", "number"): Hand(0.01, 0.2),
    ("A/ms", "number"): Hand(0.02, 0.1),
    ("kV", "level"): Hand(0.1, 0.05),
    ("Hz", "number"): Hand(0.02, 0.03),
    ("rpm", "number"): Hand(5.0, 0.02),
    ("%", "number"): Hand(2.0, 0.02),
    ("%", "level"): Hand(2.0, 0.02),
    ("°", "number"): Hand(1.0, 0.02),
    ("°C", "number"): Hand(1.0, 0.02),
    ("°C/min", "number"): Hand(0.1, 0.1),
    ("kPa", "number"): Hand(0.5, 0.02),
    ("bar", "number"): Hand(5.0, 0.03),
    ("g/s", "number"): Hand(0.2, 0.03),
    ("", "number"): Hand(0.02, 0.05),
    ("", "level"): Hand(0.05, 0.05),
}
"""By unit and way of reading, where a reading states no other (common practice, no published source)."""

COUNT = Hand(0.0)
"""Something counted is right or, off by one, close: half of the last digit shown is all that is allowed."""
