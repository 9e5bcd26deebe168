"""A step that asks for a reading: of the whole capture, or of one cylinder or event of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.answer import Answer, Reading
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit, ReadingSpec
from tracebench.core.errors import BadAnswer, BadOption

MOST_CYLINDERS, MOST_EVENTS = 16, 100_000


@dataclass(frozen=True, slots=True)
class Read(Given):
    """A value, or that there is none here; `pegs` are the instants it was read at, in order, seconds."""

    value: float | None = None
    absent: bool = False
    pegs: tuple[float, ...] = ()

    def as_json(self) -> dict[str, object]:
        if self.absent:
            return {"absent": True}
        if self.value is None and not self.pegs:
            return {}
        return {"value": self.value, **({"pegs": list(self.pegs)} if self.pegs else {})}


@dataclass(frozen=True, slots=True)
class ReadingStep(Step[Read]):
    """`cylinder` and `event` name whose value is asked for; both None: the summary of the capture."""

    kind: ClassVar[str] = "reading"

    spec: ReadingSpec
    cylinder: int | None = None
    event: int | None = None

    @property
    def reading(self) -> str:
        return self.spec.id

    @property
    def named(self) -> bool:
        return self.cylinder is not None or self.event is not None

    @property
    def name(self) -> str:
        return named(self.reading, self.cylinder, self.event)

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        spec, cylinder = reading_of(row, circuit, where)
        event = row.get("event")
        event = None if event is None else json_fields.whole(event, 1, MOST_EVENTS, f"{where}: event", BadOption)
        name = step_id(f"{cls.kind}-{named(spec.id, cylinder, event)}", capture)
        return cls(name, json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture, spec, cylinder, event)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Read:
        if given.get("absent"):
            return Read(absent=True)
        value = given.get("value")
        pegs = given.get("pegs")
        return Read(
            None if value is None else json_fields.number(value, f"{self.id}: value", BadAnswer),
            pegs=stretch(pegs, self.id) if pegs else (),
        )

    def open(self, given: Read | None, has_capture: bool) -> str | None:
        return None if given is not None and (given.absent or given.value is not None) else "no value yet"

    def as_json(self) -> dict[str, object]:
        base = Step.as_json(self)
        return {**base, "reading": self.reading, "cylinder": self.cylinder, "event": self.event}

    def wanted(self, measured: Answer) -> Reading | None:
        """The reading that is asked for, in what the tool measured."""
        return (
            measured.reading(self.reading, self.event, self.cylinder) if self.event is None else _event(self, measured)
        )


def _event(step: ReadingStep, measured: Answer) -> Reading | None:
    return next((r for r in measured.readings if r.id == step.reading and r.cycle == step.event), None)


def named(reading: str, cylinder: int | None, event: int | None = None) -> str:
    """A reading with whose it is, as ids of steps and criteria have it: burn_ms, burn_ms@3, burn_ms#17."""
    whose = "" if cylinder is None else f"@{cylinder}"
    return f"{reading}{whose}" if event is None else f"{reading}{whose}#{event}"


def reading_of(row: json_fields.Fields, circuit: Circuit, where: str) -> tuple[ReadingSpec, int | None]:
    """The reading that a step's document names, and its cylinder if it names one. Raises BadOption."""
    spec = circuit.reading(str(row.get("reading")))
    if spec is None:
        raise BadOption(f"{where}: {circuit.code} has no reading {row.get('reading')!r}")
    cylinder = row.get("cylinder")
    if cylinder is not None:
        cylinder = json_fields.whole(cylinder, 1, MOST_CYLINDERS, f"{where}: cylinder", BadOption)
    return spec, cylinder


def stretch(value: object, where: str) -> tuple[float, ...]:
    """One or two instants in order. Raises BadAnswer."""
    if not isinstance(value, list | tuple) or not 1 <= len(value) <= 2:
        raise BadAnswer(f"{where}: a stretch is one or two instants in seconds")
    return tuple(sorted(json_fields.number(v, f"{where}: instant", BadAnswer) for v in value))
