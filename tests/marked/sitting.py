"""Sittings with the marks of two markers: what learners answered on drawn captures, and what each answer is worth.

The marks were set by the rules of marking from what is drawn, before the code that is held against them, in two passes
of one author: two figures where the second differs. One sitting has another answer since. `slips` names the mistakes
that must be told, by criterion.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from tracebench.core.capture import Capture

Mark = float | tuple[float, float]


@dataclass(frozen=True)
class Sitting:
    name: str
    circuit: str
    capture: Callable[[], Capture]
    answers: Mapping[str, Any]
    marks: Mapping[str, Mark]
    slips: Mapping[str, str] = field(default_factory=dict)
    card: Mapping[str, Any] = field(default_factory=dict)
    """What the card says besides its steps: limits, options, complaint."""

    @property
    def document(self) -> dict[str, Any]:
        """The card: its steps are those that are answered or marked."""
        steps: list[dict[str, Any]] = [{"kind": "capture"}]
        for key in self.answers:
            kind, _, rest = key.partition("-")
            reading, at, cylinder = rest.partition("@")
            if kind in ("reading", "compare"):
                steps.append({"kind": kind, "reading": reading, **({"cylinder": int(cylinder)} if at else {})})
        steps.append({"kind": "call"})
        base = {"circuit": self.circuit, "title": self.name, "source": {"kind": "upload"}, "steps": steps}
        return {**base, **self.card}


def call(verdict: str, cause: str, evidence: list[list[float]], next_test: str, sure: float = 80) -> dict[str, Any]:
    return {"verdict": verdict, "cause": cause, "evidence": evidence, "next_test": next_test, "confidence": sure}


def value(number: float, *pegs: float) -> dict[str, Any]:
    return {"value": number, "pegs": list(pegs)} if pegs else {"value": number}


def state(word: str) -> dict[str, str]:
    return {"state": word}


ABSENT = {"absent": True}
ALL = {"capture_quality": 1, "evidence": 1, "call": 1, "cause": 1, "next_test": 1}
NOTHING = {"evidence": 0, "call": 0, "cause": 0, "next_test": 0}
MAKER = {
    "limits": [
        {"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker"},
        {"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"},
    ]
}
FOUR = {"options": {"firing_order": "1-3-4-2"}}
THROTTLE, PEDAL, MANIFOLD, AIRFLOW = "throttle-position", "pedal-position", "manifold-pressure", "airflow-voltage"
OXYGEN, RAIL, CRANK, TEMPERATURE = "oxygen-switching", "rail-pressure", "crank-position", "temperature"
SUPPLY, CHARGING, INJ_V, INJ_A = "supply-ground", "charging", "injector-voltage", "injector-current"
PARADE, COIL_A, COIL_V, SPARK = (
    "injector-current-parade",
    "coil-primary-current",
    "coil-primary-voltage",
    "secondary-voltage",
)
MODULE = "igniter-bench"
SOUND_SWEEP = call("sound", "none", [[1.0, 6.5]], "none")
