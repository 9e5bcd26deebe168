"""A job card: the captures it asks for, its steps, and how its answers are marked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, field
from typing import Any, Literal

from tracebench.core.answer import Limit
from tracebench.core.cards.rubric import Rubric
from tracebench.core.cards.schools import Way, applying
from tracebench.core.cards.step import FIRST, Step
from tracebench.core.circuits.circuit import Choice, Circuit
from tracebench.core.circuits.conditions import ALWAYS
from tracebench.core.limits import merged, rank

AnyStep = Step[Any]


@dataclass(frozen=True, slots=True)
class Source:
    """Where a capture comes from. `part` is what the trainer is to be: its fault, severity, engine and figures.

    With `varied`, each learner is given a part of their own, a little apart from that one, and in turn with one of the
    faults `instead`. From the shelf all are given the same: a copy of that version of a reference.
    """

    kind: Literal["trainer", "upload", "shelf"]
    vehicle: str | None
    part: Mapping[str, object]
    varied: bool = False
    instead: tuple[str, ...] = ()
    version_id: int | None = None

    @property
    def given(self) -> bool:
        """True where learners take no capture themselves."""
        return self.kind == "shelf"


@dataclass(frozen=True, slots=True)
class Asked:
    """One capture that a card asks for: of which circuit, measured how, against which limits, for which complaint."""

    key: str
    circuit: Circuit
    source: Source
    options: Mapping[str, str]
    limits: tuple[Limit, ...]
    reference_version_id: int | None
    complaint: str = ALWAYS.key


@dataclass(frozen=True, slots=True)
class Card:
    """`captures` has one at the least; `schools` holds the way chosen of each question that applies to one of them.

    `hints` are texts by step, given for part of its points; `after` names the step that must be answered before
    another is shown. Before `opens`, an ISO date, nobody begins; `minutes` after its start a sitting is over. On a card
    for `practice` the tool's own marks are told at once, and count for nothing.
    """

    title: str
    brief: str
    attempts: int
    due: str | None
    captures: tuple[Asked, ...]
    steps: tuple[AnyStep, ...]
    schools: Mapping[str, str]
    rubric: Rubric
    points: Mapping[str, float]
    hints: Mapping[str, str] = field(default_factory=dict)
    after: Mapping[str, str] = field(default_factory=dict)
    opens: str | None = None
    minutes: int | None = None
    practice: bool = False

    @property
    def first(self) -> Asked:
        return self.captures[0]

    def asked(self, key: str) -> Asked:
        return next(c for c in self.captures if c.key == key)

    def circuit_of(self, step: AnyStep) -> Circuit:
        return self.asked(step.capture).circuit

    def step(self, step_id: str) -> AnyStep | None:
        return next((s for s in self.steps if s.id == step_id), None)

    def is_locked(self, step_id: str, answered: Set[str]) -> bool:
        """True while what must be answered before a step is not."""
        earlier = self.after.get(step_id)
        return earlier is not None and earlier not in answered

    def ways(self, key: str) -> Sequence[Way]:
        """The schools in force for one capture."""
        found = (s.way(self.schools.get(s.key, s.ways[0].key)) for s in applying(self.asked(key).circuit.code))
        return [w for w in found if w is not None]

    def options(self, key: str) -> dict[str, str]:
        """What the measuring core is told of one capture: the reference's options, the schools, the complaint."""
        asked = self.asked(key)
        by_school = {k: v for way in self.ways(key) for k, v in way.options.items()}
        complaint = {"complaint": asked.complaint} if asked.complaint != ALWAYS.key else {}
        return {**asked.options, **by_school, **complaint}

    def limits_in_force(self, key: str) -> tuple[Limit, ...]:
        """Limits that a capture's readings are held against, the highest-ranking of each reading first.

        Those that depend on the capture itself (a key state, the day's barometer, a condition) come only with it.
        """
        asked = self.asked(key)
        waived = (
            {r.id for r in asked.circuit.readings if r.school} if self.options(key).get("sweep") == "any" else set()
        )
        held = merged([x for x in asked.circuit.limits if x.reading not in waived], asked.limits)
        return tuple(sorted((x for x in held if not x.when), key=rank))

    def cautions_of(self, key: str) -> Sequence[Choice]:
        """Cautions that the schools in force do not waive."""
        waived = {c for way in self.ways(key) for c in way.waives}
        return [c for c in self.asked(key).circuit.cautions if c.key not in waived]

    def ground_wanted(self, key: str) -> str | None:
        return next((way.ground for way in self.ways(key) if way.ground is not None), None)

    def allows_filter(self, key: str) -> bool:
        return any(way.filters for way in self.ways(key))

    def trainer_part(self, key: str = FIRST) -> dict[str, object]:
        """What the trainer is to be for a capture: its part, in an engine that fires as the card will be marked by."""
        asked = self.asked(key)
        order = asked.options.get("firing_order")
        return {**asked.source.part, **({"firing_order": order} if order else {})}
