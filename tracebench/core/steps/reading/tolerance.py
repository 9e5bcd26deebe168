"""How far a learner's value may lie from the tool's and be right."""

from __future__ import annotations

from tracebench.core.answer import Reading
from tracebench.core.circuits.circuit import ReadingSpec

COVERAGE = 3.0
"""Standard uncertainties of the measurement that are allowed (JCGM 100)."""


def tolerance(spec: ReadingSpec, reading: Reading) -> float:
    """The largest of three standard uncertainties, what a hand reads by, and half of the last digit shown."""
    return max(COVERAGE * reading.uncertainty, spec.hand.of(reading.value), spec.half_digit)


def within(value: float, reading: Reading, allowed: float) -> bool:
    """True if a value is the reading's; on the limit is right."""
    return abs(value - reading.value) <= allowed + 1e-9 * max(abs(reading.value), allowed)
