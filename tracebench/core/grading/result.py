"""What grading works from and what it answers."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from tracebench.core.answer import Answer
from tracebench.core.circuits.circuit import Circuit


@dataclass(frozen=True, slots=True)
class Stretch:
    """A piece of the learner's trace that a mark speaks of, seconds on the file's axis."""

    from_s: float
    to_s: float
    lane: str | None = None

    def as_json(self) -> dict[str, Any]:
        return {"from": self.from_s, "to": self.to_s, "lane": self.lane}


@dataclass(frozen=True, slots=True)
class Attempt:
    """One handed-in sitting: the card, the answers by step, and what the tool measures on the learner's capture.

    `measured` is None when there is no capture.
    """

    circuit: Circuit
    card: Mapping[str, Any]
    answers: Mapping[str, Mapping[str, Any]]
    measured: Answer | None


@dataclass(frozen=True, slots=True)
class Result:
    """A criterion's verdict: `score` 0-1 of its points, `certainty` 0-1 of the tool, reason in plain sentences."""

    criterion: str
    title: str
    skill: str
    step: str | None
    score: float
    points: float
    certainty: float
    reason: str
    stretches: Sequence[Stretch] = field(default=())
    slip: str | None = None

    def as_json(self) -> dict[str, Any]:
        return {
            "criterion": self.criterion,
            "title": self.title,
            "skill": self.skill,
            "step": self.step,
            "score": round(self.score, 4),
            "points": self.points,
            "earned": round(self.score * self.points, 2),
            "certainty": round(self.certainty, 3),
            "reason": self.reason,
            "stretches": [s.as_json() for s in self.stretches],
            "slip": self.slip,
        }


@dataclass(frozen=True, slots=True)
class Criterion:
    """A rule of marking; `judge` gives one result for each step it applies to, none if the card does not ask."""

    key: str
    title: str
    skill: str
    points: float
    about: str
    judge: Callable[[Attempt, float], list[Result]]
