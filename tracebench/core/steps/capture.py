"""The capture: where the ground lead was, and how good the record is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.answer import Finding
from tracebench.core.cards.schools import GROUNDS
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.result import Criterion, Result, Stretch

TENFOLD = "scale_suspect"
"""A factor of ten or more is wrong: every figure on the screen is then wrong, whatever the tool can put right."""


@dataclass(frozen=True, slots=True)
class Recorded(Given):
    """What a learner says of the capture. `ground` is where the ground lead was, None where nothing was said."""

    note: str = ""
    ground: str | None = None

    def as_json(self) -> dict[str, object]:
        return {"note": self.note, **({"ground": self.ground} if self.ground else {})}


@dataclass(frozen=True, slots=True)
class CaptureStep(Step[Recorded]):
    kind: ClassVar[str] = "capture"

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        return cls(step_id(cls.kind, capture), json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Recorded:
        ground = given.get("ground")
        if ground is not None:
            ground = json_fields.one_of(ground, GROUNDS, f"{self.id}: ground", BadAnswer)
        return Recorded(json_fields.text(given.get("note"), 2000), ground)

    def open(self, given: Recorded | None, has_capture: bool) -> str | None:
        return None if has_capture else "there is no capture yet"


def _judge(attempt: Attempt, points: float) -> list[Result]:
    # What is given is not theirs to be marked by.
    return [
        _one(attempt, step, points)
        for step in attempt.card.steps
        if isinstance(step, CaptureStep) and not attempt.card.asked(step.capture).source.given
    ]


def _one(attempt: Attempt, step: CaptureStep, points: float) -> Result:
    taken = attempt.taken_for(step)
    if taken is None:
        return Result.of(
            QUALITY, step, 0.0, points, sure.CERTAIN, "No capture was handed in, so there is nothing to measure."
        )
    allowed = attempt.card.allows_filter(step.capture)
    found = {
        f.code: f
        for f in taken.measured.findings_of("set-up")
        if not (allowed and f.code == "over_filtered" and not f.hides)
    }
    said = [_sentence(f.text) for f in found.values()]
    costs = len(found)
    if (ground := _wrong_ground(attempt, step, taken)) is not None:
        said.append(ground)
        costs += 1
    rubric = attempt.card.rubric
    if costs == 1 and CONDITION in found:
        # Nothing is wrong with the record: the call answers for what it did not show.
        score = 1.0 if step.prompt.strip() else rubric.condition_unmade
        said.append(
            "It was taken as the card told." if step.prompt.strip() else "Making the condition was yours to do."
        )
    elif any(_spoils(f) for f in found.values()):
        score = 0.0
    else:
        score = max(rubric.setup_least, 1.0 - rubric.setup_finding * costs) if costs else 1.0
    if not said:
        m = taken.measured
        said = [
            f"A clean capture: {m.duration_s:.3g} s at {m.rate_hz:,.0f} samples a second, nothing hides the answer."
        ]
    where = [Stretch(f.from_s, f.to_s, f.lane) for f in list(found.values())[:3]]
    certainty = sure.OPEN if ANOTHER in found else sure.CERTAIN if score in (0.0, 1.0) else sure.PARTLY
    return Result.of(QUALITY, step, score, points, certainty, " ".join(said), where)


CONDITION = "condition_not_shown"
"""The complaint's condition is missing from a record that may be clean otherwise."""

ANOTHER = "another_circuit"
"""Told by looks alone: a person decides."""


def _spoils(finding: Finding) -> bool:
    return finding.hides or finding.code == TENFOLD


def _wrong_ground(attempt: Attempt, step: CaptureStep, taken: Taken) -> str | None:
    """A sentence where the ground lead was not where the card's school wants it, as recorded or as the learner says."""
    wanted = attempt.card.ground_wanted(step.capture)
    given = attempt.given(step)
    was = taken.ground or (given.ground if given is not None else None)
    if wanted is None or was is None or was == wanted:
        return None
    return f"The ground lead was on the {was}, where this card wants it on the {wanted}: what drops between is in it."


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:].rstrip(".") + "."


QUALITY = Criterion(
    "capture_quality",
    "Quality of the capture",
    "capture",
    4.0,
    "Full points without a set-up finding; none for one that hides the answer or a factor of ten; half where only the "
    "complaint's condition was not made, which the card did not tell how to make; a quarter off for "
    "each other, not below a quarter.",
    _judge,
)
