"""Comparison with limits: inside, marginal or outside."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tracebench.core.answer import JudgedLimit, Reading
from tracebench.core.grading.result import Attempt, Criterion, Result, Stretch
from tracebench.core.limits import marginal_width

_ORDER = ("inside", "marginal", "outside")
_BASIS = {
    "maker": "the maker's limit",
    "own-fleet": "your own fleet's limit",
    "common-practice": "common practice",
}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card["steps"] if step["kind"] == "compare"]


def _one(attempt: Attempt, step: Mapping[str, Any], points: float) -> Result:
    spec = attempt.circuit.reading(step["reading"])
    title = f"{spec.title if spec else step['reading']} against its limit"
    state = (attempt.answers.get(step["id"]) or {}).get("state")
    measured = attempt.measured
    judged = measured.deciding_limit(step["reading"]) if measured else None
    reading = measured.reading(step["reading"]) if measured else None
    where = [Stretch(reading.from_s, reading.to_s, reading.lane)] if reading is not None else []

    def result(score: float, certainty: float, reason: str) -> Result:
        return Result(
            f"compare:{step['reading']}",
            title,
            "compare",
            step["id"],
            score,
            points,
            certainty,
            reason,
            where,
        )

    if judged is None or reading is None:
        return result(0.0, 0.6, "This capture gives no such reading to hold against a limit.")
    shown = f"{reading.value:.{spec.decimals if spec else 3}f} {reading.unit}"
    said = f"{shown} is {judged.state} {_BASIS[judged.limit.basis]}"
    limits = f"({_span(judged)})"
    if state is None:
        return result(0.0, 1.0, f"No state was chosen; {said} {limits}.")
    certainty = _certainty(judged, reading)
    if state == judged.state:
        return result(1.0, certainty, f"Right: {said} {limits}.")
    if abs(_ORDER.index(state) - _ORDER.index(judged.state)) == 1:
        return result(0.5, min(certainty, 0.6), f"You said {state}; {said} {limits}. One step off.")
    return result(0.0, certainty, f"You said {state}; {said} {limits}.")


def _span(judged: JudgedLimit) -> str:
    limit = judged.limit
    if limit.low is not None and limit.high is not None:
        return f"{limit.low:g} to {limit.high:g}"
    return f"at least {limit.low:g}" if limit.low is not None else f"at most {limit.high:g}"


def _certainty(judged: JudgedLimit, reading: Reading) -> float:
    """Low when the reading lies within two uncertainties of an edge of its state."""
    width = marginal_width(judged.limit)
    edges = []
    if judged.limit.low is not None:
        edges += [judged.limit.low, judged.limit.low - width]
    if judged.limit.high is not None:
        edges += [judged.limit.high, judged.limit.high + width]
    nearest = min(abs(reading.value - e) for e in edges)
    if reading.uncertainty == 0:
        return 1.0
    return 0.5 + 0.5 * min(1.0, nearest / (2 * reading.uncertainty))


COMPARISON = Criterion(
    "compare",
    "Comparison with limits",
    "compare",
    1.0,
    "The state chosen against the deciding limit; half one step off.",
    _judge,
)
