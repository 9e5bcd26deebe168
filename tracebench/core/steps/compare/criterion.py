"""The criterion of comparing."""

from __future__ import annotations

from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.steps.compare.likeness import beside_another
from tracebench.core.steps.compare.limit import against_limit
from tracebench.core.steps.compare.step import CompareStep


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, CompareStep)]


def _one(attempt: Attempt, step: CompareStep, points: float) -> Result:
    given = attempt.given(step)
    measured = attempt.measured_for(step)
    reading = measured.reading(step.reading, cylinder=step.cylinder) if measured is not None else None
    state = given.state if given is not None else None
    if step.against == "limit":
        marked = against_limit(attempt, step, state, measured, reading)
    else:
        marked = beside_another(attempt, step, state, measured)
    score, certainty, reason, slip = marked
    where = [Stretch(reading.from_s, reading.to_s, reading.lane)] if reading is not None else []
    return Result.of(COMPARISON, step, score, points, certainty, reason, where, slip, key=step.key, title=step.title)


COMPARISON = Criterion(
    "compare",
    "Comparison",
    "compare",
    0.5,
    "The state chosen against the deciding limit with its own zone, or beside a reference, before a repair or the "
    "other cylinders; half one step off or by a lower basis; right for one's own reading.",
    _judge,
)
