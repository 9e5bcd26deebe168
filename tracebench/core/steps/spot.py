"""Which of several cylinders, events or lanes is the odd one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import ClassVar, Literal, Self, cast

from tracebench.core import json_fields
from tracebench.core.answer import Answer, Event, Finding
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result, Stretch

Among = Literal["cylinder", "event", "lane"]
AMONG: tuple[Among, ...] = ("cylinder", "event", "lane")
LANE: Among = "lane"
MOST = 100_000


@dataclass(frozen=True, slots=True)
class Spotted(Given):
    """The number of the odd one, a lane by its name, or that none is."""

    value: int | str | None = None
    absent: bool = False

    def as_json(self) -> dict[str, object]:
        if self.absent:
            return {"absent": True}
        if isinstance(self.value, str):
            return {"lane": self.value}
        return {} if self.value is None else {"value": self.value}


@dataclass(frozen=True, slots=True)
class SpotStep(Step[Spotted]):
    kind: ClassVar[str] = "spot"

    among: Among

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        among = cast(Among, json_fields.one_of(row.get("among", "cylinder"), AMONG, f"{where}: among", BadOption))
        prompt = json_fields.text(row.get("prompt"), PROMPT_LENGTH)
        return cls(step_id(f"{cls.kind}-{among}", capture), prompt, capture, among)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Spotted:
        if given.get("absent"):
            return Spotted(absent=True)
        if self.among == LANE:
            lane, lanes = given.get("lane"), [x.name for x in circuit.lanes]
            return Spotted(None if lane is None else json_fields.one_of(lane, lanes, f"{self.id}: lane", BadAnswer))
        value = given.get("value")
        return Spotted(None if value is None else json_fields.whole(value, 1, MOST, f"{self.id}: value", BadAnswer))

    def open(self, given: Spotted | None, has_capture: bool) -> str | None:
        return None if given is not None and (given.absent or given.value is not None) else "none was named"

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), "among": self.among}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    """The first of a card goes by the criterion's own key, as marks are kept of cards that could have but one."""
    steps = [step for step in attempt.card.steps if isinstance(step, SpotStep)]
    return [_one(attempt, step, points, step.among if k else "") for k, step in enumerate(steps)]


def _one(attempt: Attempt, step: SpotStep, points: float, key: str) -> Result:
    given, measured = attempt.given(step), attempt.measured_for(step)
    title = f"Finding the odd {step.among}"
    if measured is None:
        reason = "There is no capture to find an odd one in."
        return Result.of(SPOTTING, step, 0.0, points, sure.CERTAIN, reason, key=key, title=title)
    odd = odd_ones(measured, step.among)
    which = f"{step.among} {', '.join(map(str, in_order(odd)))}" if odd else "none"
    where = [Stretch(f.from_s, f.to_s, f.lane) for f in odd.values()]
    # An odd one that the set-up hides is nobody's miss.
    hidden = any(f.hides for f in measured.findings)
    if given is None or (given.value is None and not given.absent):
        score, reason = 0.0, f"None was named; the trace shows {which}."
    elif given.absent:
        score = 0.0 if odd else 1.0
        reason = "Right: none of them is odd." if not odd else f"You said that none is odd; the trace shows {which}."
    elif given.value in odd:
        score, reason = 1.0, f"Right: {odd[given.value].text}."
    else:
        score, reason = 0.0, f"You named {step.among} {given.value}; the trace shows {which}."
    certainty = sure.OPEN if hidden else sure.PLAIN
    return Result.of(SPOTTING, step, score, points, certainty, reason, where[:3], key=key, title=title)


def odd_ones(measured: Answer, among: Among) -> dict[int | str, Finding]:
    """Odd cylinders or events by number, lanes by name, with what shows them: those that a fault names or lies in."""
    faults = [f for f in measured.findings if f.kind == "fault"]
    if among == LANE:
        return {f.lane: f for f in reversed(faults) if f.lane is not None}
    if among == "cylinder":
        return {f.cylinder: f for f in reversed(faults) if f.cylinder is not None}
    return {e.number: f for f in reversed(faults) for e in _within(measured.events, f)}


def in_order(odd: Iterable[int | str]) -> list[int | str]:
    """Numbers by size, names by letters."""
    return sorted(odd, key=lambda one: (isinstance(one, str), one))


def _within(events: Sequence[Event], finding: Finding) -> list[Event]:
    return [e for e in events if any(e.from_s < to and start < e.to_s for start, to in finding.shows_in)]


SPOTTING = Criterion(
    "spot",
    "Finding the odd one",
    "recognise",
    2.0,
    "The cylinder, event or lane that a fault of the trace names, or that there is none.",
    _judge,
)
