"""Grading: the list of criteria, and `grade`, which applies them to one attempt."""

from __future__ import annotations

from typing import Any

from tracebench.core import ENGINE_VERSION
from tracebench.core.grading.criteria.comparison import COMPARISON
from tracebench.core.grading.criteria.concluding import CALL, CAUSE, CONFIDENCE, EVIDENCE, NEXT_TEST
from tracebench.core.grading.criteria.reading_values import READING
from tracebench.core.grading.criteria.setting_up import CAUTIONS, QUALITY
from tracebench.core.grading.result import Attempt, Criterion, Result

CRITERIA: tuple[Criterion, ...] = (
    CAUTIONS,
    QUALITY,
    READING,
    COMPARISON,
    EVIDENCE,
    CALL,
    CAUSE,
    NEXT_TEST,
    CONFIDENCE,
)


def grade(attempt: Attempt) -> dict[str, Any]:
    """Every criterion that the card asks for, with the sum. The same attempt always gives the same grade.

    `certainty` of the whole is that of its least certain criterion that carries points.
    """
    points = attempt.card.get("points") or {}
    results: list[Result] = []
    for criterion in CRITERIA:
        worth = float(points.get(criterion.key, criterion.points))
        if worth > 0:
            results += criterion.judge(attempt, worth)
    total = sum(r.points for r in results)
    earned = sum(r.points * r.score for r in results)
    return {
        "engine": ENGINE_VERSION,
        "results": [r.as_json() for r in results],
        "points": round(total, 2),
        "earned": round(earned, 2),
        "certainty": round(min((r.certainty for r in results), default=1.0), 3),
    }
