"""Arithmetic beside the trace: a result with the figures it was worked from, so that a slip can be named."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.arithmetic import CALCULATIONS, Calculation, Input, Worked, figure, worked
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit, ReadingSpec
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.steps.reading.criterion import earned
from tracebench.core.steps.reading.step import ReadingStep
from tracebench.core.steps.reading.tolerance import tolerance, within

ROUNDING = 0.01
"""A result may be off by so much for rounding on the way."""

FROM_TRACE = 0.05
"""A figure read from the trace may be off by so much."""

FACTORS: Mapping[float, str] = {
    1000.0: "a thousand times too large: thousandths taken for whole units",
    0.001: "a thousand times too small: a unit's thousandths forgotten",
    10.0: "ten times too large: a clamp's or probe's factor the wrong way",
    0.1: "a tenth of it: a clamp's or probe's factor the wrong way",
    100.0: "a hundred times too large: a clamp's or probe's factor the wrong way",
    0.01: "a hundredth of it: a clamp's or probe's factor the wrong way",
    2.0: "twice as much: turns a cycle counted wrongly",
    0.5: "half of it: turns a cycle counted wrongly",
}
"""Slips of arithmetic by the factor that a result is off by."""


@dataclass(frozen=True, slots=True)
class WorkedOut(Given):
    value: float | None = None
    figures: Mapping[str, float] = field(default_factory=dict)

    def as_json(self) -> dict[str, object]:
        return {} if self.value is None and not self.figures else {"value": self.value, "figures": dict(self.figures)}


@dataclass(frozen=True, slots=True)
class WorkOutStep(Step[WorkedOut]):
    """`figures` are given by the card, `readings` are to be read from the trace; together they are all that goes in.

    Where it `comes_to` a reading of the capture, any other figure is the learner's to find on the trace, as the two
    instants of a response.
    """

    kind: ClassVar[str] = "work_out"

    calculation: Calculation
    figures: Mapping[str, float]
    readings: Mapping[str, str]
    comes_to: ReadingSpec | None = None

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        calculation = CALCULATIONS.get(str(row.get("calculation")))
        if calculation is None:
            raise BadOption(f"{where}: calculation: one of {', '.join(CALCULATIONS)}")
        figures, readings = {}, {}
        for key, value in json_fields.fields(row.get("figures") or {}, f"{where}: figures", BadOption).items():
            figures[str(key)] = json_fields.number(value, f"{where}: {key}", BadOption)
        for key, value in json_fields.fields(row.get("readings") or {}, f"{where}: readings", BadOption).items():
            if circuit.reading(str(value)) is None:
                raise BadOption(f"{where}: {circuit.code} has no reading {value!r}")
            readings[str(key)] = str(value)
        wanted = {i.key for i in calculation.inputs}
        comes_to = None
        if row.get("comes_to"):
            comes_to = circuit.reading(str(row["comes_to"]))
            if comes_to is None:
                raise BadOption(f"{where}: {circuit.code} has no reading {row['comes_to']!r}")
            if calculation.unit not in ("", comes_to.unit):
                raise BadOption(
                    f"{where}: comes_to: {comes_to.id} is in {comes_to.unit}, the sum in {calculation.unit}"
                )
        told = {*figures, *readings}
        if not told <= wanted or (told != wanted and comes_to is None) or set(figures) & set(readings):
            raise BadOption(f"{where}: say of each of {', '.join(sorted(wanted))} its figure, or where it is read")
        name = step_id(f"{cls.kind}-{calculation.key}", capture)
        return cls(
            name, json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture, calculation, figures, readings, comes_to
        )

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> WorkedOut:
        value = given.get("value")
        figures = json_fields.fields(given.get("figures") or {}, f"{self.id}: figures", BadAnswer)
        known = {i.key for i in self.calculation.inputs}
        if not set(figures) <= known:
            raise BadAnswer(f"{self.id}: figures: expected {', '.join(sorted(known))}")
        return WorkedOut(
            None if value is None else json_fields.number(value, f"{self.id}: value", BadAnswer),
            {k: json_fields.number(v, f"{self.id}: {k}", BadAnswer) for k, v in figures.items()},
        )

    def open(self, given: WorkedOut | None, has_capture: bool) -> str | None:
        if given is None or given.value is None:
            return "no result yet"
        missing = [i.title for i in self.calculation.inputs if i.key not in given.figures]
        return f"the working lacks {', '.join(missing).lower()}" if missing else None

    def as_json(self) -> dict[str, object]:
        told = {"calculation": self.calculation.key, "figures": dict(self.figures), "readings": dict(self.readings)}
        comes_to = {"comes_to": self.comes_to.id} if self.comes_to is not None else {}
        return {**Step.as_json(self), **told, **comes_to}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, WorkOutStep)]


def _one(attempt: Attempt, step: WorkOutStep, points: float) -> Result:
    score, certainty, reason, slip = _marked(attempt, step, attempt.given(step))
    measured = attempt.measured_for(step) if step.comes_to is not None else None
    reading = measured.reading(step.comes_to.id) if measured is not None and step.comes_to is not None else None
    where = [Stretch(reading.from_s, reading.to_s, reading.lane)] if reading is not None else []
    key, title = step.calculation.key, step.calculation.title
    return Result.of(WORKING, step, score, points, certainty, reason, where, slip, key=key, title=title)


Marked = tuple[float, float, str, str | None]


def _marked(attempt: Attempt, step: WorkOutStep, given: WorkedOut | None) -> Marked:
    if step.comes_to is not None:
        return _held_to_reading(attempt, step, step.comes_to, given)
    true = _true_figures(attempt, step)
    if true is None:
        missing = "This capture does not give every figure that goes in."
        return (
            (1.0, sure.BY_TABLE, f"Right to give none: {missing}", None)
            if _empty(given)
            else (0.0, sure.OPEN, missing, None)
        )
    right = worked(step.calculation.key, true)
    how = f"{'; '.join(right.lines)}"
    if given is None or given.value is None:
        return 0.0, sure.CERTAIN, f"No result was given. {how}.", None
    share = FROM_TRACE if step.readings else ROUNDING
    if _near(given.value, right.value, share):
        return 1.0, sure.CERTAIN, f"Right: {how}.", None
    own = _own(step, given)
    wrong = [i for i in step.calculation.inputs if not _given_right(step, given, true, i)]
    said = f"You came to {figure(given.value)} {right.unit}".strip()
    if own is not None and _near(given.value, own.value, ROUNDING):
        where = ", ".join(i.title.lower() for i in wrong)
        copied = [i for i in wrong if i.key in step.figures]
        if copied:
            text = f"{said}, rightly worked from what you put in, but {where} was given otherwise. {how}."
            return attempt.card.rubric.close, sure.FIRM, text, "copied_wrong"
        if not all(_was_read(attempt, step, given, i) for i in wrong):
            return (
                0.0,
                sure.FIRM,
                f"{said}, worked from {where} that no reading of this trace gave. {how}.",
                "from_nowhere",
            )
        text = f"{said}, rightly worked from your own reading of {where}. {how}. The mistake was made at the reading."
        return attempt.card.rubric.follow_through, sure.BY_TABLE, text, "follow_through"
    return _slipped(attempt, given.value, own.value if own is not None else right.value, share, said, how)


def _slipped(attempt: Attempt, value: float, base: float, share: float, said: str, how: str) -> Marked:
    """A result that neither the trace nor its own figures give, with the slip of arithmetic that leads to it."""
    for factor, words in FACTORS.items():
        if _near(value, base * factor, share):
            return attempt.card.rubric.close, sure.FIRM, f"{said}: {words}. {how}.", "factor"
    if base and _near(value, 1 / base, share):
        return 0.0, sure.FIRM, f"{said}: divided the wrong way round. {how}.", "inverted"
    return 0.0, sure.CERTAIN, f"{said}. {how}.", None


def _held_to_reading(attempt: Attempt, step: WorkOutStep, spec: ReadingSpec, given: WorkedOut | None) -> Marked:
    """A result whose figures the learner found on the trace, held to what the capture gives."""
    measured = attempt.measured_for(step)
    reading = measured.reading(spec.id) if measured is not None else None
    if reading is None:
        missing = f"This capture gives no {spec.title.lower()}."
        return (
            (1.0, sure.BY_TABLE, f"Right to give none: {missing}", None)
            if _empty(given)
            else (0.0, sure.OPEN, missing, None)
        )
    gives = f"The capture gives {reading.value:.{spec.decimals}f} {spec.unit}".strip()
    if given is None or given.value is None:
        return 0.0, sure.CERTAIN, f"No result was given. {gives}.", None
    allowed = max(tolerance(spec, reading), FROM_TRACE * abs(reading.value))
    own = _own(step, given)
    how = f"{gives}; your working: {'; '.join(own.lines)}" if own is not None else gives
    said = f"You came to {figure(given.value)} {spec.unit}".strip()
    if within(given.value, reading, allowed):
        return 1.0, sure.CERTAIN, f"Right: {how}.", None
    if own is not None and not _near(given.value, own.value, ROUNDING):
        return _slipped(attempt, given.value, own.value, FROM_TRACE, said, how)
    if within(given.value, reading, 2 * allowed):
        return attempt.card.rubric.close, sure.WORTH_A_LOOK, f"{said}, close to it. {how}.", None
    if own is not None:
        return 0.0, sure.CERTAIN, f"{said}, rightly worked from other figures than the trace has. {how}.", None
    return _slipped(attempt, given.value, reading.value, FROM_TRACE, said, how)


def _empty(given: WorkedOut | None) -> bool:
    return given is None or given.value is None


def _true_figures(attempt: Attempt, step: WorkOutStep) -> dict[str, float] | None:
    measured = attempt.measured_for(step)
    out = dict(step.figures)
    for key, reading_id in step.readings.items():
        reading = measured.reading(reading_id) if measured is not None else None
        if reading is None:
            return None
        out[key] = reading.value
    return out


def _own(step: WorkOutStep, given: WorkedOut) -> Worked | None:
    """What the learner's own figures come to, None where they are not all there or cannot be worked with."""
    try:
        return worked(step.calculation.key, given.figures)
    except BadOption:
        return None


def _given_right(step: WorkOutStep, given: WorkedOut, true: Mapping[str, float], wanted: Input) -> bool:
    share = FROM_TRACE if wanted.key in step.readings else ROUNDING
    return wanted.key in given.figures and _near(given.figures[wanted.key], true[wanted.key], share)


def _was_read(attempt: Attempt, step: WorkOutStep, given: WorkedOut, wanted: Input) -> bool:
    """True if the card asks for the reading that a figure is, and the learner took that figure from this trace."""
    for other in attempt.card.steps:
        if not isinstance(other, ReadingStep) or other.capture != step.capture:
            continue
        own = attempt.given(other)
        if other.reading != step.readings.get(wanted.key) or own is None or own.value is None:
            continue
        if _near(own.value, given.figures[wanted.key], FROM_TRACE) and earned(attempt, other) > 0:
            return True
    return False


def _near(one: float, other: float, share: float) -> bool:
    return math.isclose(one, other, rel_tol=share, abs_tol=1e-12)


WORKING = Criterion(
    "work_out",
    "Working it out",
    "measure",
    2.0,
    "The result within rounding; a slip of unit, factor or way round is named from the working; right for one's own "
    "reading.",
    _judge,
)
