"""Cautions: read and acknowledged before the work."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result


@dataclass(frozen=True, slots=True)
class Acknowledged(Given):
    read: tuple[str, ...] = ()

    def as_json(self) -> dict[str, object]:
        return {"read": list(self.read)}


@dataclass(frozen=True, slots=True)
class CautionsStep(Step[Acknowledged]):
    kind: ClassVar[str] = "cautions"

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        return cls(step_id(cls.kind, capture), json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Acknowledged:
        known = {c.key for c in circuit.cautions}
        read = {str(key) for key in json_fields.listed(given.get("read"), f"{self.id}: read", BadAnswer)}
        if not read <= known:
            raise BadAnswer(f"{self.id}: expected read: a list of {', '.join(sorted(known))}")
        return Acknowledged(tuple(sorted(read)))

    def open(self, given: Acknowledged | None, has_capture: bool) -> str | None:
        return None if given is not None and given.read else "the cautions are not acknowledged"


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, CautionsStep)]


def _one(attempt: Attempt, step: CautionsStep, points: float) -> Result:
    given = attempt.given(step)
    wanted = [c.key for c in attempt.card.cautions_of(step.capture)]
    read = [key for key in wanted if given is not None and key in given.read]
    share = len(read) / len(wanted) if wanted else 1.0
    reason = (
        f"All {len(wanted)} cautions were acknowledged before the work."
        if share == 1
        else f"{len(read)} of {len(wanted)} cautions were acknowledged."
    )
    return Result.of(CAUTIONS, step, share, points, sure.CERTAIN, reason)


CAUTIONS = Criterion(
    "cautions",
    "Cautions",
    "connect",
    1.0,
    "The share of the circuit's cautions that were acknowledged.",
    _judge,
)
