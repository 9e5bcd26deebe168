"""A step that holds a reading against a limit, a reference, what was before a repair, or the other cylinders."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Literal, Self, cast

from tracebench.core import json_fields
from tracebench.core.answer_rows import State
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit, ReadingSpec
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading.attempt import Attempt
from tracebench.core.steps.reading.criterion import was_read
from tracebench.core.steps.reading.step import ReadingStep, named, reading_of

Against = Literal["limit", "reference", "before", "siblings"]
AGAINST: tuple[Against, ...] = ("limit", "reference", "before", "siblings")
FROM_SHELF = ("reference", "before")
"""What another capture is needed for: its value comes from a reference of the shelf."""

Likeness = Literal["lower", "alike", "higher"]
STATES: tuple[State, ...] = ("inside", "marginal", "outside")
LIKENESSES: tuple[Likeness, ...] = ("lower", "alike", "higher")

WITHIN_PCT = 10.0
"""Parts of one kind are alike within so much, unless the card says otherwise (from memory)."""

BESIDE = {
    "limit": "against its limit",
    "reference": "beside the reference",
    "before": "beside before the repair",
    "siblings": "beside the other cylinders",
}


@dataclass(frozen=True, slots=True)
class Other:
    """What the other capture gives for the reading, in the reading's unit. Instants of it are seconds of its own."""

    value: float
    uncertainty: float
    from_s: float = 0.0
    to_s: float = 0.0

    @classmethod
    def parsed(cls, value: object, where: str) -> Self:
        row = json_fields.fields(value, where, BadOption)
        told = (json_fields.number(row.get(key, 0.0), f"{where}: {key}", BadOption) for key in ("from", "to"))
        return cls(
            json_fields.number(row.get("value"), f"{where}: value", BadOption),
            json_fields.number_within(row.get("uncertainty", 0.0), 0.0, 1e12, f"{where}: uncertainty", BadOption),
            *told,
        )

    def as_json(self) -> dict[str, float]:
        return {"value": self.value, "uncertainty": self.uncertainty, "from": self.from_s, "to": self.to_s}


@dataclass(frozen=True, slots=True)
class Compared(Given):
    state: State | Likeness | None = None

    def as_json(self) -> dict[str, object]:
        return {} if self.state is None else {"state": self.state}


@dataclass(frozen=True, slots=True)
class CompareStep(Step[Compared]):
    """Hold a reading against what `against` says; of one cylinder where `cylinder` names it.

    `version_id` is the version of a reference whose capture is the other one, `other` what it gives for the reading;
    values up to `within_pct` of it away are alike.
    """

    kind: ClassVar[str] = "compare"

    spec: ReadingSpec
    cylinder: int | None = None
    against: Against = "limit"
    within_pct: float = WITHIN_PCT
    version_id: int | None = None
    other: Other | None = None

    @property
    def reading(self) -> str:
        return self.spec.id

    @property
    def name(self) -> str:
        """The reading with whose it is, as the reading step of the same value is named."""
        return named(self.reading, self.cylinder)

    @property
    def key(self) -> str:
        return self.name if self.against == "limit" else f"{self.name}-{self.against}"

    @property
    def choices(self) -> tuple[State | Likeness, ...]:
        return STATES if self.against == "limit" else LIKENESSES

    @property
    def title(self) -> str:
        whose = f", cylinder {self.cylinder}" if self.cylinder is not None else ""
        return f"{self.spec.title}{whose} {BESIDE[self.against]}"

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        spec, cylinder = reading_of(row, circuit, where)
        against = cast(
            Against, json_fields.one_of(row.get("against") or "limit", AGAINST, f"{where}: against", BadOption)
        )
        if against == "siblings" and cylinder is None:
            raise BadOption(f"{where}: against: say which cylinder is held against the others")
        within = row.get("within_pct")
        version, other = row.get("version_id"), row.get("other")
        from_shelf = against in FROM_SHELF
        made = cls(
            "",
            json_fields.text(row.get("prompt"), PROMPT_LENGTH),
            capture,
            spec,
            cylinder,
            against,
            WITHIN_PCT
            if within is None
            else json_fields.number_within(within, 0.0, 100.0, f"{where}: within_pct", BadOption),
            json_fields.whole(version, 1, 1 << 62, f"{where}: version_id", BadOption)
            if from_shelf and version
            else None,
            Other.parsed(other, f"{where}: other") if from_shelf and other else None,
        )
        return replace(made, id=step_id(f"{cls.kind}-{made.key}", capture))

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Compared:
        state = given.get("state")
        if state is None:
            return Compared()
        chosen = json_fields.one_of(state, self.choices, f"{self.id}: state", BadAnswer)
        return Compared(cast("State | Likeness", chosen))

    def open(self, given: Compared | None, has_capture: bool) -> str | None:
        return None if given is not None and given.state is not None else "no state chosen"

    def as_json(self) -> dict[str, object]:
        base = {**Step.as_json(self), "reading": self.reading, "cylinder": self.cylinder}
        if self.against == "limit":
            return base
        other = {"other": self.other.as_json()} if self.other is not None else {}
        version = {"version_id": self.version_id} if self.version_id is not None else {}
        return {**base, "against": self.against, "within_pct": self.within_pct, **version, **other}

    def shown(self) -> dict[str, object]:
        return {key: value for key, value in self.as_json().items() if key != "version_id"}


def own_value(attempt: Attempt, step: CompareStep) -> float | None:
    """What the learner read for it in another step of the card; None for a figure that was not read on this trace."""
    for other in attempt.card.steps:
        if isinstance(other, ReadingStep) and (other.capture, other.name) == (step.capture, step.name):
            given = attempt.given(other)
            return given.value if given is not None and was_read(attempt, other) else None
    return None
