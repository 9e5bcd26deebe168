"""What is put between a part and the scope's input, and how far each reaches (figures from memory)."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Probe:
    """It takes up to `highest` of a unit; what stays under `fine_from` it shows in few steps."""

    key: str
    title: str
    unit: str
    highest: float
    fine_from: float


PROBES = (
    Probe("lead", "Test lead, straight into the scope", "V", 50.0, 0.0),
    Probe("attenuator", "Attenuator, 20:1", "V", 1000.0, 50.0),
    Probe("clamp-60", "Current clamp to 60 A", "A", 60.0, 0.0),
    Probe("clamp-600", "Current clamp to 600 A", "A", 600.0, 30.0),
    Probe("pickup", "Rated pickup round the lead", "kV", 60.0, 0.0),
)


def probe(key: str) -> Probe | None:
    return next((p for p in PROBES if p.key == key), None)


def fitting(unit: str, reach: float) -> Probe | None:
    """The one that shows a signal of that reach best, None for a unit that no probe takes."""
    return next((p for p in PROBES if p.unit == unit and p.fine_from <= reach <= p.highest), None)
