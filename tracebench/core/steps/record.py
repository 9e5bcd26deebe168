"""A record beside the trace that the card asks for: a drop test, resistances, a wiggle log."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.answer import Answer
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.records.judging import checked as checked_rows
from tracebench.core.records.judging import judged
from tracebench.core.records.kinds import KINDS, METER_SWEEP, RecordKind

MOST_ROWS = 40


@dataclass(frozen=True, slots=True)
class RecordedRows(Given):
    rows: tuple[Mapping[str, str], ...] = ()

    def as_json(self) -> dict[str, object]:
        return {"rows": [dict(row) for row in self.rows]} if self.rows else {}


@dataclass(frozen=True, slots=True)
class RecordStep(Step[RecordedRows]):
    """`of` is the kind of record; `least` rows make it whole."""

    kind: ClassVar[str] = "record"

    of: RecordKind
    least: int

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        of = KINDS.get(str(row.get("of")))
        if of is None:
            raise BadOption(f"{where}: of: one of {', '.join(KINDS)}")
        least = json_fields.whole(row.get("least") or 1, 1, MOST_ROWS, f"{where}: least", BadOption)
        name = step_id(f"{cls.kind}-{of.key}", capture)
        return cls(name, json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture, of, least)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> RecordedRows:
        rows = json_fields.listed(given.get("rows"), f"{self.id}: rows", BadAnswer)
        if not rows:
            return RecordedRows()
        try:
            return RecordedRows(tuple(checked_rows(self.of.key, rows)))
        except BadOption as problem:
            raise BadAnswer(f"{self.id}: {problem}") from None

    def open(self, given: RecordedRows | None, has_capture: bool) -> str | None:
        count = len(given.rows) if given is not None else 0
        return None if count >= self.least else f"{count} of {self.least} rows"

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), "of": self.of.key, "least": self.least}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, RecordStep)]


def _one(attempt: Attempt, step: RecordStep, points: float) -> Result:
    given, measured = attempt.given(step), attempt.measured_for(step)
    rows = given.rows if given is not None else ()
    counted, why = _counted(step.of, rows, measured)
    share = min(1.0, counted / step.least)
    if not rows:
        reason = "Nothing was recorded."
    else:
        found = judged(step.of.key, rows, measured).findings
        says = "; ".join(text for _, _, text in found) or "nothing odd in it"
        reason = f"{counted} of {step.least} rows{why}. It says: {says}."
    return Result.of(RECORDING, step, share, points, sure.BY_TABLE, reason, key=step.of.key, title=step.of.title)


def _counted(of: RecordKind, rows: Sequence[Mapping[str, str]], measured: Answer | None) -> tuple[int, str]:
    """How many rows tell something of this vehicle and capture that no other row tells, and why the rest do not."""
    mine = [row for row in rows if _of_this(of, row, measured)]
    apart = {tuple(row.get(c, "").strip().lower() for c in of.about or row) for row in mine}
    why = [f"{len(rows) - len(mine)} are not of this vehicle or record"] if len(mine) < len(rows) else []
    why += ["the same thing twice counts once"] if len(apart) < len(mine) else []
    return len(apart), f" ({'; '.join(why)})" if why else ""


def _of_this(of: RecordKind, row: Mapping[str, str], measured: Answer | None) -> bool:
    """False for a cylinder that the capture shows not to be there, an instant outside it, or figures of other volts."""
    if measured is None:
        return True
    there = {e.cylinder for e in measured.events if e.cylinder is not None}
    if "cylinder" in of.about and there:
        return 1 <= float(row["cylinder"]) <= max(*there, len(there))
    if of.timed and not -1e-9 <= float(row["at_s"]) - measured.first_phase_s <= measured.duration_s:
        return False
    return of.key != METER_SWEEP or judged(of.key, [row], measured).rows[0].state != "outside"


RECORDING = Criterion(
    "record",
    "Records beside the trace",
    "capture",
    1.0,
    "The share of the rows that are there, of this vehicle and each of something else; what they say is told, not "
    "marked.",
    _judge,
)
