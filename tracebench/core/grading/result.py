"""What grading answers: a verdict on each criterion, with its reason and the stretch of trace that it speaks of."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Self, TypedDict

if TYPE_CHECKING:
    from tracebench.core.cards.step import Step
    from tracebench.core.grading.attempt import Attempt

AROUND = ("connect", "capture")
"""Skills whose points are earned around the trace; all others are earned by reading it."""


class StretchRow(TypedDict("StretchRow", {"from": float, "to": float})):
    """A stretch as it is kept and sent."""

    lane: str | None


@dataclass(frozen=True, slots=True)
class Stretch:
    """A piece of the learner's trace that a mark speaks of, seconds on the file's axis."""

    from_s: float
    to_s: float
    lane: str | None = None

    def as_json(self) -> StretchRow:
        return {"from": self.from_s, "to": self.to_s, "lane": self.lane}


class ResultRow(TypedDict):
    """A criterion's verdict as it is kept and sent."""

    criterion: str
    title: str
    skill: str
    step: str
    score: float
    points: float
    earned: float
    certainty: float
    reason: str
    stretches: list[StretchRow]
    slip: str | None


class Sum(TypedDict):
    points: float
    earned: float


class Grade(Sum):
    """A grade as it is kept: every result with the sums, over all, of reading the trace, and around it."""

    engine: str
    results: list[ResultRow]
    trace: Sum
    around: Sum
    certainty: float


@dataclass(frozen=True, slots=True)
class Result:
    """A criterion's verdict: `score` 0-1 of its points, `certainty` 0-1 of the tool, reason in plain sentences."""

    criterion: str
    title: str
    skill: str
    step: str
    score: float
    points: float
    certainty: float
    reason: str
    stretches: Sequence[Stretch] = ()
    slip: str | None = None

    @classmethod
    def of(
        cls,
        criterion: Criterion,
        step: Step[Any],
        score: float,
        points: float,
        certainty: float,
        reason: str,
        stretches: Sequence[Stretch] = (),
        slip: str | None = None,
        *,
        key: str = "",
        title: str = "",
    ) -> Self:
        """The verdict of a criterion on one step; `key` and `title` where it speaks of one reading among several."""
        place = step.id.rpartition("/")[0]
        name = f"{criterion.key}:{key}" if key else criterion.key
        return cls(
            f"{place}/{name}" if place else name,
            title or criterion.title,
            criterion.skill,
            step.id,
            score,
            points,
            certainty,
            reason,
            stretches,
            slip,
        )

    def as_json(self) -> ResultRow:
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
