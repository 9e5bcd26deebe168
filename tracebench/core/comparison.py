"""Readings of several captures of one circuit beside each other, those that part them most first."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tracebench.core.answer import JudgedLimit, Reading
from tracebench.core.circuits.circuit import Circuit

PART = 0.2
"""Of a one-sided limit, or of a value without any: a difference of so much matters as one across a whole limit does."""

SIGMAS = 2.0
"""Values nearer than so many standard uncertainties of their difference are not told apart (JCGM 100)."""


@dataclass(frozen=True, slots=True)
class Compared:
    """A reading of each capture, None where one has none, and how much they part: 1 is a limit's whole span."""

    reading: str
    values: tuple[float | None, ...]
    matters: float


def compared(
    circuit: Circuit, readings: Sequence[Sequence[Reading]], limits: Sequence[JudgedLimit]
) -> tuple[Compared, ...]:
    """Summaries of each capture by reading, in the order of how much the others part from the first.

    `limits` are those of the first. Readings that only one capture has come last.
    """
    rows = []
    for spec in circuit.readings:
        own = [_summary(spec.id, of) for of in readings]
        if any(r is not None for r in own):
            deciding = next((j for j in limits if j.limit.reading == spec.id and j.decides), None)
            rows.append(Compared(spec.id, tuple(None if r is None else r.value for r in own), _matters(own, deciding)))
    return tuple(sorted(rows, key=lambda row: -row.matters))


def _summary(reading_id: str, readings: Sequence[Reading]) -> Reading | None:
    return next((r for r in readings if r.id == reading_id and r.cycle is None and r.cylinder is None), None)


def _matters(own: Sequence[Reading | None], deciding: JudgedLimit | None) -> float:
    first, *others = own
    if first is None:
        return 0.0
    parts = [_apart(first, other, deciding) for other in others if other is not None]
    return max(parts, default=0.0)


def _apart(one: Reading, other: Reading, deciding: JudgedLimit | None) -> float:
    apart = abs(one.value - other.value)
    if apart <= SIGMAS * math.hypot(one.uncertainty, other.uncertainty):
        return 0.0
    scale = PART * max(abs(one.value), abs(other.value))
    if deciding is not None:
        low, high = deciding.limit.low, deciding.limit.high
        if low is not None and high is not None:
            scale = high - low
        else:
            side = low if low is not None else high
            scale = PART * abs(side or 0.0) or scale
    return apart / scale if scale > 0 else 0.0
