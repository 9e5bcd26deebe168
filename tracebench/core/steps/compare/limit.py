"""A reading against the limit that decides: inside, marginal or outside, with the limit's own zone."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.core.answer import Answer, JudgedLimit, Limit, Reading
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.limits import state_of
from tracebench.core.steps.compare.step import STATES, CompareStep, own_value

BASIS = {
    "maker": "the maker's limit",
    "own-fleet": "your own fleet's limit",
    "common-practice": "common practice",
}

PLACE: Mapping[str, int] = {state: k for k, state in enumerate(STATES)}

Marked = tuple[float, float, str, str | None]


def against_limit(
    attempt: Attempt, step: CompareStep, state: str | None, measured: Answer | None, reading: Reading | None
) -> Marked:
    """Share, certainty, reason and slip of a chosen state."""
    decided = measured.deciding_limit(step.reading) if measured is not None else None
    own = own_value(attempt, step)
    if measured is None or decided is None or reading is None:
        return _nothing_to_hold(attempt, step, state, own)
    held = decided.limit
    true = state_of(reading.value, held)
    shown = f"{reading.value:.{step.spec.decimals}f} {reading.unit}".strip()
    said = f"{shown} is {true} {BASIS[held.basis]} ({span(held)})"
    if state is None:
        return 0.0, sure.CERTAIN, f"No state was chosen; {said}.", None
    certainty = _certainty(held, reading)
    if state == true:
        return 1.0, certainty, f"Right: {said}.", None
    if own is not None and state == state_of(own, held):
        text = f"Right for the value you read, {own:g} {reading.unit}".strip()
        share = attempt.card.rubric.follow_through
        return share, sure.BY_TABLE, f"{text}; {said}. The mistake was made at the reading.", "follow_through"
    lower = _by_lower_basis(measured, step, reading, state)
    if lower is not None:
        by = f"{BASIS[lower.limit.basis]} ({span(lower.limit)})"
        text = f"You said {state}, which is so by {by}; {said}, and it decides."
        return attempt.card.rubric.lower_basis, sure.FIRM, text, "lower_basis"
    if abs(PLACE[state] - PLACE[true]) == 1:
        return (
            attempt.card.rubric.one_off,
            min(certainty, sure.NEAR_A_BORDER),
            f"You said {state}; {said}. One step off.",
            None,
        )
    return 0.0, certainty, f"You said {state}; {said}.", None


def _nothing_to_hold(attempt: Attempt, step: CompareStep, state: str | None, own: float | None) -> Marked:
    """A capture without the reading: right is to choose none, or the state of the value that was given all the same."""
    text = "This capture gives no such reading to hold against a limit."
    if attempt.measured_for(step) is None:
        return 0.0, sure.CERTAIN, text, None
    if state is None:
        return 1.0, sure.BY_TABLE, f"Right to choose none: {text[:1].lower()}{text[1:]}", None
    limit = next((x for x in attempt.card.limits_in_force(step.capture) if x.reading == step.reading), None)
    if own is not None and limit is not None and state == state_of(own, limit):
        return 1.0, sure.NEAR_A_BORDER, f"{text} The state is right for the value you gave.", "follow_through"
    return 0.0, sure.NEAR_A_BORDER, text, None


def _by_lower_basis(measured: Answer, step: CompareStep, reading: Reading, state: str) -> JudgedLimit | None:
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
    return sure.away_from_a_border(nearest, reading.uncertainty)
