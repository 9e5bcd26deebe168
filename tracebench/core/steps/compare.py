"""Comparison with limits: inside, marginal or outside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self, cast

from tracebench.core import door
from tracebench.core.answer import Answer, JudgedLimit, Limit, Reading, State
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit, ReadingSpec
from tracebench.core.errors import BadAnswer
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.limits import state_of
from tracebench.core.steps.reading.step import ReadingStep, named, reading_of

STATES: tuple[State, ...] = ("inside", "marginal", "outside")

BASIS = {
    "maker": "the maker's limit",
    "own-fleet": "your own fleet's limit",
    "common-practice": "common practice",
}


@dataclass(frozen=True, slots=True)
class Compared(Given):
    state: State | None = None

    def as_json(self) -> dict[str, object]:
        return {} if self.state is None else {"state": self.state}


@dataclass(frozen=True, slots=True)
class CompareStep(Step[Compared]):
    """Hold a reading against the limit that decides; of one cylinder where `cylinder` names it."""

    kind: ClassVar[str] = "compare"

    spec: ReadingSpec
    cylinder: int | None = None

    @property
    def reading(self) -> str:
        return self.spec.id

    @property
    def name(self) -> str:
        return named(self.reading, self.cylinder)

    @classmethod
    def parsed(cls, row: door.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        spec, cylinder = reading_of(row, circuit, where)
        name = step_id(f"{cls.kind}-{named(spec.id, cylinder)}", capture)
        return cls(name, door.text(row.get("prompt"), PROMPT_LENGTH), capture, spec, cylinder)

    def checked(self, circuit: Circuit, given: door.Fields) -> Compared:
        state = given.get("state")
        if state is None:
            return Compared()
        return Compared(cast(State, door.one_of(state, STATES, f"{self.id}: state", BadAnswer)))

    def open(self, given: Compared | None, has_capture: bool) -> str | None:
        return None if given is not None and given.state is not None else "no state chosen"

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), "reading": self.reading, "cylinder": self.cylinder}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, CompareStep)]


def _one(attempt: Attempt, step: CompareStep, points: float) -> Result:
    given = attempt.given(step)
    measured = attempt.measured_for(step)
    reading = measured.reading(step.reading, cylinder=step.cylinder) if measured is not None else None
    score, certainty, reason, slip = _marked(
        attempt, step, given.state if given is not None else None, measured, reading
    )
    where = [Stretch(reading.from_s, reading.to_s, reading.lane)] if reading is not None else []
    whose = f", cylinder {step.cylinder}" if step.cylinder is not None else ""
    title = f"{step.spec.title}{whose} against its limit"
    return Result.of(COMPARISON, step, score, points, certainty, reason, where, slip, key=step.name, title=title)


Marked = tuple[float, float, str, str | None]


def _marked(
    attempt: Attempt, step: CompareStep, state: State | None, measured: Answer | None, reading: Reading | None
) -> Marked:
    decided = measured.deciding_limit(step.reading) if measured is not None else None
    own = _own_value(attempt, step)
    if measured is None or decided is None or reading is None:
        return _nothing_to_hold(attempt, step, state, own)
    held = decided.limit
    true = state_of(reading.value, held)
    shown = f"{reading.value:.{step.spec.decimals}f} {reading.unit}".strip()
    said = f"{shown} is {true} {BASIS[held.basis]} ({span(held)})"
    if state is None:
        return 0.0, 1.0, f"No state was chosen; {said}.", None
    certainty = _certainty(held, reading)
    if state == true:
        return 1.0, certainty, f"Right: {said}.", None
    if own is not None and state == state_of(own, held):
        text = f"Right for the value you read, {own:g} {reading.unit}".strip()
        share = attempt.card.rubric.follow_through
        return share, 0.8, f"{text}; {said}. The mistake was made at the reading.", "follow_through"
    lower = _by_lower_basis(measured, step, reading, state)
    if lower is not None:
        by = f"{BASIS[lower.limit.basis]} ({span(lower.limit)})"
        text = f"You said {state}, which is so by {by}; {said}, and it decides."
        return attempt.card.rubric.lower_basis, 0.9, text, "lower_basis"
    if abs(STATES.index(state) - STATES.index(true)) == 1:
        return attempt.card.rubric.one_off, min(certainty, 0.6), f"You said {state}; {said}. One step off.", None
    return 0.0, certainty, f"You said {state}; {said}.", None


def _nothing_to_hold(attempt: Attempt, step: CompareStep, state: State | None, own: float | None) -> Marked:
    """A capture without the reading: right is to choose none, or the state of the value that was given all the same."""
    text = "This capture gives no such reading to hold against a limit."
    if attempt.measured_for(step) is None:
        return 0.0, 1.0, text, None
    if state is None:
        return 1.0, 0.8, f"Right to choose none: {text[:1].lower()}{text[1:]}", None
    limit = next((x for x in attempt.card.limits_in_force(step.capture) if x.reading == step.reading), None)
    if own is not None and limit is not None and state == state_of(own, limit):
        return 1.0, 0.6, f"{text} The state is right for the value you gave.", "follow_through"
    return 0.0, 0.6, text, None


def _own_value(attempt: Attempt, step: CompareStep) -> float | None:
    """What the learner read for it in an earlier step of the card."""
    for other in attempt.card.steps:
        if isinstance(other, ReadingStep) and (other.capture, other.name) == (step.capture, step.name):
            given = attempt.given(other)
            return given.value if given is not None else None
    return None


def _by_lower_basis(measured: Answer, step: CompareStep, reading: Reading, state: State) -> JudgedLimit | None:
    notes = (j for j in measured.limits if j.limit.reading == step.reading and not j.decides)
    return next((j for j in notes if state_of(reading.value, j.limit) == state), None)


def span(limit: Limit) -> str:
    """A limit in words, with its marginal zone."""
    zone = f", marginal for a further {limit.zone:.3g}" if limit.zone else ""
    if limit.low is not None and limit.high is not None:
        return f"{limit.low:g} to {limit.high:g}{zone}"
    return f"at least {limit.low:g}{zone}" if limit.low is not None else f"at most {limit.high:g}{zone}"


def _certainty(limit: Limit, reading: Reading) -> float:
    """Low when the reading lies within two uncertainties of an edge of its state."""
    edges: list[float] = []
    if limit.low is not None:
        edges += [limit.low, limit.low - limit.zone]
    if limit.high is not None:
        edges += [limit.high, limit.high + limit.zone]
    nearest = min(abs(reading.value - e) for e in edges)
    if reading.uncertainty == 0:
        return 1.0
    return 0.5 + 0.5 * min(1.0, nearest / (2 * reading.uncertainty))


COMPARISON = Criterion(
    "compare",
    "Comparison with limits",
    "compare",
    0.5,
    "The state chosen against the deciding limit with its own zone; half one step off or by a lower basis; right for "
    "one's own reading.",
    _judge,
)
