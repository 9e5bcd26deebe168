"""Each cylinder of a capture against the same cylinder of a reference, less what all of them differ by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypedDict

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Reading
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import MAD_TO_SIGMA

LEAST_PART = Threshold(
    0.03, "", "Two engines of one kind differ by so much of a reading without meaning anything (from memory)"
)

TOLD_FROM = Threshold(5.0, "spreads", "Spreads from which a cylinder is told to differ from its reference")


class BesideRow(TypedDict):
    """A cylinder's reading beside what the reference lets expect of it, as it is sent."""

    reading: str
    unit: str
    cylinder: int | None
    value: float
    expected: float
    apart: float
    told: bool


@dataclass(frozen=True, slots=True)
class Beside:
    """One cylinder's reading, what the reference leads one to expect of it, and how many spreads lie between."""

    reading: str
    unit: str
    cylinder: int
    value: float
    expected: float
    apart: float

    @property
    def told(self) -> bool:
        return abs(self.apart) >= TOLD_FROM

    def as_json(self) -> BesideRow:
        return {
            "reading": self.reading,
            "unit": self.unit,
            "cylinder": self.cylinder,
            "value": self.value,
            "expected": self.expected,
            "apart": round(self.apart, 1),
            "told": self.told,
        }


def beside_reference(own: Sequence[Reading], reference: Sequence[Reading]) -> list[Beside]:
    """Readings by cylinder that both have, the furthest apart first. Empty without two cylinders in common.

    Another speed or supply moves all cylinders alike: with three and more, the difference that half of them share is
    expected of each, the smallest such. The spread is 1.4826 times how near that half lies to it, at least what both
    readings are known to and `LEAST_PART` of the reference's.
    """
    ours, theirs = _by_cylinder(own), _by_cylinder(reference)
    out: list[Beside] = []
    for reading_id, mine in ours.items():
        common = {c: (mine[c], theirs[reading_id][c]) for c in mine if c in theirs.get(reading_id, {})}
        if len(common) < 2 or reading_id.endswith("_count"):
            continue
        differences = np.array([a.value - b.value for a, b in common.values()])
        least = {
            c: max(float(np.hypot(a.uncertainty, b.uncertainty)), LEAST_PART * abs(b.value))
            for c, (a, b) in common.items()
        }
        shared, scatter = _shared(differences, median(list(least.values())))
        for cylinder, (a, b) in common.items():
            expected = b.value + shared
            spread = max(scatter, least[cylinder], 1e-12)
            out.append(Beside(reading_id, a.unit, cylinder, a.value, expected, (a.value - expected) / spread))
    return sorted(out, key=lambda x: -abs(x.apart))


def _shared(differences: NDArray[np.float64], alike: float) -> tuple[float, float]:
    """The difference that at least half of them share, the smallest in size, and 1.4826 times how near they lie.

    Differences that are no further apart than `alike` are one and the same.
    """
    if differences.size < 3:
        return 0.0, 0.0
    apart = np.sort(np.abs(differences[:, None] - differences[None, :]), axis=0)
    # Itself is the first of each row: of four it takes one other, of five two.
    near = apart[(differences.size - 1) // 2]
    best = np.flatnonzero(near <= max(float(near.min()), alike))
    place = int(best[np.argmin(np.abs(differences[best]))])
    return float(differences[place]), MAD_TO_SIGMA * float(near[place])


def _by_cylinder(readings: Sequence[Reading]) -> dict[str, dict[int, Reading]]:
    out: dict[str, dict[int, Reading]] = {}
    for r in readings:
        if r.cylinder is not None and r.cycle is None:
            out.setdefault(r.id, {})[r.cylinder] = r
    return out
