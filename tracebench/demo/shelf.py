"""References of the demo's shelf, and scenarios of its ready cards: what each circuit's folder says, as values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from tracebench.core.circuits.catalogue import Rooms

VEHICLES = ("hatchback", "van", "board", "diesel")
"""What the folders call the vehicles of the cast, in their order."""


@dataclass(frozen=True, slots=True)
class DemoReference:
    """Limits and options are the reference's own; a throttle's limits are the maker's of the vehicle."""

    circuit: str
    title: str
    vehicle: int
    part: dict[str, Any]
    seed: int
    notes: str
    tags: tuple[tuple[str, str], ...]
    publish: bool = True
    limits: list[dict[str, Any]] | None = None
    options: dict[str, str] | None = None
    duration_s: float | None = None
    manoeuvre: str = ""
    records: tuple[tuple[str, list[dict[str, str]]], ...] = ()
    """Records beside the capture: their kind and rows."""


@dataclass(frozen=True, slots=True)
class Ready:
    """One circuit's scenarios, and the faults of its second and third level."""

    sound: str
    plain: tuple[str, str]
    hard: tuple[str, str]
    severity: float = 1.0
    """Of the third level's fault, 0 to 1."""
    readings: tuple[str, ...] = ()
    """In place of those that a new card begins with, where an inductive sensor has none of them: *none here* would be
    had without looking."""
    options: Mapping[str, str] | None = None
    """What no trace says of itself."""


_REFERENCES: Mapping[str, Sequence[Mapping[str, Any]]] = Rooms("shelf", "REFERENCES")
_READY: Mapping[str, Mapping[str, Any]] = Rooms("shelf", "READY")


def references(code: str) -> list[DemoReference]:
    """A circuit's, in the order of its folder."""
    return [
        DemoReference(**{**told, "circuit": code, "vehicle": VEHICLES.index(told["vehicle"])})
        for told in _REFERENCES[code]
    ]


def ready(code: str) -> Ready:
    return Ready(**_READY[code])
