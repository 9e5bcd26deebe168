"""Free text, read by the instructor: the tool keeps it and never marks it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result

LONGEST = 4000
MOST_PHRASES = 12


@dataclass(frozen=True, slots=True)
class Explained(Given):
    words: str = ""

    def as_json(self) -> dict[str, object]:
        return {"words": self.words} if self.words else {}


@dataclass(frozen=True, slots=True)
class ExplainStep(Step[Explained]):
    """`phrases` are what the instructor ticks off in the text."""

    kind: ClassVar[str] = "explain"

    phrases: tuple[str, ...]

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        phrases = [
            json_fields.text(p, 200).strip()
            for p in json_fields.listed(row.get("phrases"), f"{where}: phrases", BadOption)
        ]
        if len(phrases) > MOST_PHRASES:
            raise BadOption(f"{where}: phrases: up to {MOST_PHRASES}")
        prompt = json_fields.text(row.get("prompt"), PROMPT_LENGTH)
        return cls(step_id(cls.kind, capture), prompt, capture, tuple(p for p in phrases if p))

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Explained:
        return Explained(json_fields.text(given.get("words"), LONGEST))

    def open(self, given: Explained | None, has_capture: bool) -> str | None:
        return None if given is not None and given.words.strip() else "nothing written yet"

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), "phrases": list(self.phrases)}

    def shown(self) -> dict[str, object]:
        return Step.as_json(self)


def _judge(attempt: Attempt, points: float) -> list[Result]:
    if attempt.card.practice:
        return []  # Nobody reads it there, so that it is worth nothing.
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, ExplainStep)]


def _one(attempt: Attempt, step: ExplainStep, points: float) -> Result:
    given = attempt.given(step)
    if given is None or not given.words.strip():
        return Result.of(EXPLAINING, step, 0.0, points, sure.CERTAIN, "Nothing was written.")
    look = f" Look for: {'; '.join(step.phrases)}." if step.phrases else ""
    return Result.of(
        EXPLAINING, step, 0.0, points, sure.LEFT_TO_THE_MARKER, f"Free text is the instructor's to mark.{look}"
    )


EXPLAINING = Criterion(
    "explain",
    "Explanation",
    "conclude",
    2.0,
    "Marked by the instructor alone, with the card's phrases to tick.",
    _judge,
)
