"""Wires told apart before anything is connected: by their volts at rest and moving, or by shared colours."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar, Self

from tracebench.core import door
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result

MOST_WIRES = 12


@dataclass(frozen=True, slots=True)
class Wire:
    """`lane` is what the wire carries, the key; `seen` is what a meter or the loom tells of it."""

    label: str
    seen: str
    lane: str

    def as_json(self) -> dict[str, str]:
        return {"label": self.label, "seen": self.seen, "lane": self.lane}


@dataclass(frozen=True, slots=True)
class Connected(Given):
    wires: Mapping[str, str] = field(default_factory=dict)

    def as_json(self) -> dict[str, object]:
        return {"wires": dict(self.wires)} if self.wires else {}


@dataclass(frozen=True, slots=True)
class ConnectStep(Step[Connected]):
    kind: ClassVar[str] = "connect"

    wires: tuple[Wire, ...]

    @classmethod
    def parsed(cls, row: door.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        known = [lane.name for lane in circuit.lanes]
        wires: list[Wire] = []
        for place, one in enumerate(door.listed(row.get("wires"), f"{where}: wires", BadOption), start=1):
            wire = door.fields(one, f"{where}: wire {place}", BadOption)
            label = door.text(wire.get("label"), 60).strip()
            if not label or label in {w.label for w in wires}:
                raise BadOption(f"{where}: wire {place}: give it a name of its own")
            lane = door.one_of(wire.get("lane"), known, f"{where}: wire {place}: lane", BadOption)
            wires.append(Wire(label, door.text(wire.get("seen"), 200), lane))
        if not 2 <= len(wires) <= MOST_WIRES:
            raise BadOption(f"{where}: wires: 2 to {MOST_WIRES} to be told apart")
        return cls(step_id(cls.kind, capture), door.text(row.get("prompt"), PROMPT_LENGTH), capture, tuple(wires))

    def checked(self, circuit: Circuit, given: door.Fields) -> Connected:
        wires = door.fields(given.get("wires") or {}, f"{self.id}: wires", BadAnswer)
        known, lanes = {w.label for w in self.wires}, [lane.name for lane in circuit.lanes]
        if not set(wires) <= known:
            raise BadAnswer(f"{self.id}: wires: expected {', '.join(sorted(known))}")
        return Connected({k: door.one_of(v, lanes, f"{self.id}: {k}", BadAnswer) for k, v in wires.items()})

    def open(self, given: Connected | None, has_capture: bool) -> str | None:
        left = [w.label for w in self.wires if given is None or w.label not in given.wires]
        return f"not told apart yet: {', '.join(left)}" if left else None

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), "wires": [w.as_json() for w in self.wires]}

    def shown(self) -> dict[str, object]:
        return {**Step.as_json(self), "wires": [{"label": w.label, "seen": w.seen} for w in self.wires]}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, ConnectStep)]


def _one(attempt: Attempt, step: ConnectStep, points: float) -> Result:
    given = attempt.given(step)
    titles = {lane.name: lane.title.lower() for lane in attempt.card.circuit_of(step).lanes}
    said = given.wires if given is not None else {}
    wrong = [w for w in step.wires if said.get(w.label) != w.lane]
    share = 1 - len(wrong) / len(step.wires)
    if not wrong:
        reason = "Every wire was told apart."
    else:
        reason = " ".join(f"{w.label} ({w.seen}) is the {titles[w.lane]}." for w in wrong)
    return Result.of(CONNECTING, step, share, points, 1.0, reason)


CONNECTING = Criterion(
    "connect",
    "Telling wires apart",
    "connect",
    2.0,
    "The share of the wires that were told apart.",
    _judge,
)
