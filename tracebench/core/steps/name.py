"""Names put on parts of the trace: the burn, the ring-out, the overrun."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.answer import Answer, Event, Phase
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.steps.reading.step import stretch

SLACK = 0.1
"""A mark may stand beside its part by so much of the part's length."""


@dataclass(frozen=True, slots=True)
class Named(Given):
    """Where each name was put: one or two instants, seconds."""

    marks: Mapping[str, tuple[float, ...]] = field(default_factory=dict)

    def as_json(self) -> dict[str, object]:
        return {"marks": {name: list(at) for name, at in self.marks.items()}} if self.marks else {}


@dataclass(frozen=True, slots=True)
class NameStep(Step[Named]):
    """`names` are phases of the circuit that are to be found on the trace."""

    kind: ClassVar[str] = "name"

    names: tuple[str, ...]

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        known = [p.name for p in circuit.phases]
        names = tuple(dict.fromkeys(str(n) for n in json_fields.listed(row.get("names"), f"{where}: names", BadOption)))
        if not names or not set(names) <= set(known):
            raise BadOption(f"{where}: names: one or more of {', '.join(known)}")
        return cls(step_id(cls.kind, capture), json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture, names)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Named:
        marks = json_fields.fields(given.get("marks") or {}, f"{self.id}: marks", BadAnswer)
        if not set(marks) <= set(self.names):
            raise BadAnswer(f"{self.id}: marks: expected {', '.join(self.names)}")
        return Named({name: stretch(at, f"{self.id}: {name}") for name, at in marks.items()})

    def open(self, given: Named | None, has_capture: bool) -> str | None:
        left = [n for n in self.names if given is None or n not in given.marks]
        return f"not named yet: {', '.join(n.replace('_', ' ') for n in left)}" if left else None

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), "names": list(self.names)}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [
        _one(attempt, step, name, points / len(step.names))
        for step in attempt.card.steps
        if isinstance(step, NameStep)
        for name in step.names
    ]


def _one(attempt: Attempt, step: NameStep, name: str, points: float) -> Result:
    given, measured = attempt.given(step), attempt.measured_for(step)
    mark = given.marks.get(name) if given is not None else None
    there = parts_of(measured, name) if measured is not None else []
    words, where = name.replace("_", " "), [Stretch(p.from_s, p.to_s) for p in there[:1]]
    if not there:
        score = 1.0 if mark is None and measured is not None else 0.0
        reason = f"This capture shows no {words}." + (" Right to name none." if score else "")
    elif mark is None:
        score, reason = 0.0, f"You named no {words}; it lies at {there[0].from_s:.4g} to {there[0].to_s:.4g} s."
    else:
        middle = sum(mark) / len(mark)
        score = 1.0 if any(_holds(p, middle) for p in there) else 0.0
        other = next((n for n in step.names if n != name and _in_any(measured, n, middle)), None)
        right = f"it lies at {there[0].from_s:.4g} to {there[0].to_s:.4g} s"
        what = f" you named the {other.replace('_', ' ')}" if other else " that is another part"
        reason = f"Right: the {words}." if score else f"At {middle:.4g} s{what}; {right}."
    return Result.of(NAMING, step, score, points, sure.PLAIN, reason, where, key=name, title=f"Named: {words}")


def _in_any(measured: Answer | None, name: str, at_s: float) -> bool:
    return measured is not None and any(p.from_s <= at_s <= p.to_s for p in parts_of(measured, name))


def _holds(part: Phase, at_s: float) -> bool:
    slack = SLACK * (part.to_s - part.from_s)
    return part.from_s - slack <= at_s <= part.to_s + slack


def parts_of(measured: Answer, name: str) -> list[Phase]:
    """All places of a part: its phases, and where they would lie in each event of a record whose phases show one."""
    found = [p for p in measured.phases if p.name == name]
    shown = next((e for p in found for e in measured.events if _belongs(e, p)), None)
    if shown is None:
        return found
    of_shown = [p for p in found if _belongs(shown, p)]
    moved = [
        Phase(name, p.from_s + e.from_s - shown.from_s, p.to_s + e.from_s - shown.from_s)
        for e in measured.events
        if e.number != shown.number
        for p in of_shown
    ]
    return [*found, *moved]


def _belongs(event: Event, phase: Phase) -> bool:
    """Whether a phase is a part of one event: it begins in it, and is no longer than twice that."""
    long = event.to_s - event.from_s
    return event.from_s - long <= phase.from_s <= event.to_s and phase.to_s - phase.from_s <= 2 * long


NAMING = Criterion(
    "name",
    "Naming parts of the trace",
    "recognise",
    3.0,
    "The share of the names that stand on the part they mean.",
    _judge,
)
