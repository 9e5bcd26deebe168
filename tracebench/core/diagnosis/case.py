"""A case as the suspects see it: vehicle, complaint, history, costs and the evidence so far."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from tracebench.core.answer import CONDITION_TITLES
from tracebench.core.diagnosis.evidence import Seen
from tracebench.core.diagnosis.vehicle import Vehicle

WHENS = ("always", "idle", "load", "hot", "cold", "moved", "wet", "speed")

CONDITIONS = (*CONDITION_TITLES, "wet", "speed")
"""What evidence may have been taken under: what captures show, and what is made besides."""

SATISFIED_BY: Mapping[str, frozenset[str]] = {
    "load": frozenset({"load", "snap"}),
    "speed": frozenset({"speed", "load", "snap"}),
}
"""Conditions that stand for another; each stands for itself besides."""


@dataclass(frozen=True, slots=True)
class Code:
    """A stored code: what it names, with a cylinder or what is wrong where it says so."""

    names: str
    cylinder: int | None = None
    what: str = ""


@dataclass(frozen=True, slots=True)
class Case:
    """What is known of a vehicle and its complaint; `renewed` names parts with their places."""

    vehicle: Vehicle
    symptoms: tuple[str, ...] = ()
    when: tuple[str, ...] = ()
    renewed: tuple[str, ...] = ()
    codes: tuple[Code, ...] = ()
    costs: Mapping[str, float] = field(default_factory=dict)
    evidence: tuple[Seen, ...] = ()

    @property
    def named(self) -> frozenset[str]:
        """Conditions that the complaint names."""
        return frozenset(self.when) - {"always"}


def holds(needed: frozenset[str], shown: frozenset[str]) -> bool:
    """Whether what was shown holds each condition that is needed."""
    return all(shown & SATISFIED_BY.get(n, frozenset({n})) for n in needed)
