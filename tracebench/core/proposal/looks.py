"""How each circuit looks on a scope, as spans of figures that `features.py` takes: facts only, each with its words.

Levels and times are common practice, no published source, unless a row says more; the outer ends of a span leave room
for faults, so that a worn part is still known for what it is.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tracebench.core.circuits.catalogue import Rooms

INF = float("inf")


@dataclass(frozen=True, slots=True)
class Row:
    """One figure and the span in which it speaks for a circuit: fully from `full[0]` to `full[1]`, not at all outside
    `some`, in proportion between. `words` may use {value}; a figure that cannot be taken speaks against it.
    """

    figure: str
    some: tuple[float, float]
    full: tuple[float, float]
    words: str = ""

    def fits(self, value: float) -> float:
        """0 to 1; 0 for NaN."""
        (none_low, none_high), (low, high) = self.some, self.full
        if low <= value <= high:
            return 1.0
        if none_low < value < low:
            return (value - none_low) / (low - none_low)
        if high < value < none_high:
            return (none_high - value) / (none_high - high)
        return 0.0


@dataclass(frozen=True, slots=True)
class Look:
    """Of the lane that a circuit is known by, and words that people call it in a lane's or a file's name."""

    lane: str
    rows: tuple[Row, ...]
    called: tuple[str, ...]
    beside: tuple[Row, ...] = ()
    """Of the lanes beside it; asked only where there are some."""

    still: tuple[tuple[float, float], ...] = ()
    """Where the lane lies when nothing of the circuit shows on it (a wire that is off, a part that never works): spans
    of its level. Empty for one that hardly moves when all is well.
    """

    taken: tuple[Row, ...] = ()
    """How long and how quickly the circuit is recorded: all that a lane which lies still can be asked besides."""


def quick(words: str = "", low: float = 0.0, high: float = 0.6) -> Row:
    """Nothing of it is a slow movement."""
    return Row("slow_share", (low - 0.1, high), (low - 0.05, 0.6 * high), words)


SLOW = Row("slow_share", (0.3, 1.1), (0.9, 1.05))
RESTS_AT_NOTHING = Row("rest", (-0.25, 0.25), (-0.1, 0.1), "rests at nothing between pulses")
ON_BATTERY = Row("middle", (6.0, 16.5), (10.5, 15.5), "rests at {value:.3g} V, the battery's")
PAIR = Row("pair_2v2_2v8", (0.4, 1.21), (0.9, 1.1), "references of 2.2 and 2.8 V beside it")
SINGLE = Row("spike_hz", (2.0, 25.0), (4.5, 16.0), "{value:.3g} events a second, those of one cylinder")
SEVERAL = Row("spike_hz", (3.0, 200.0), (10.0, 120.0), "{value:.3g} events a second, those of several cylinders")
LEVELS_OFF = Row("spike_peak_at", (-0.4, 1.2), (0.6, 1.1))

NOTHING = (-0.12, 0.12)
REFERENCE = (4.6, 5.3)
BATTERY = (9.0, 15.5)
PULLED = (NOTHING, REFERENCE)
"""A sensor's wire lies at ground, or at what pulls it up."""

BY_HAND = (Row("rate_hz", (5.0, 100_000.0), (50.0, 20_000.0)), Row("seconds", (1.0, 110.0), (4.0, 60.0)))
"""What a hand, a foot or a load moves is recorded over many seconds;"""

WARMING = (Row("rate_hz", (-1.0, 20_000.0), (0.0, 2_000.0)), Row("seconds", (25.0, INF), (60.0, INF)))
PULSES = (Row("rate_hz", (8_000.0, INF), (50_000.0, INF)), Row("seconds", (-1.0, 30.0), (0.0, 3.0)))
ROW_OF_PULSES = (Row("rate_hz", (8_000.0, INF), (20_000.0, INF)), Row("seconds", (-1.0, 40.0), (0.0, 12.0)))
SWITCHED_BY_HAND = (Row("rate_hz", (1_000.0, 500_000.0), (4_000.0, 60_000.0)), Row("seconds", (1.0, 60.0), (3.0, 15.0)))

NOT_FOR_PULSES = Row("rate_hz", (-1.0, 500_000.0), (0.0, 30_000.0))


LOOKS: Mapping[str, tuple[Look, ...]] = Rooms("look", "LOOKS")
