"""The list of criteria, and `grade`, which applies them to one attempt."""

from __future__ import annotations

from dataclasses import replace

from tracebench.core import ENGINE_VERSION
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import AROUND, Criterion, Grade, Result, Sum
from tracebench.core.steps.call.cause import CAUSE
from tracebench.core.steps.call.confidence import CONFIDENCE
from tracebench.core.steps.call.evidence import EVIDENCE
from tracebench.core.steps.call.next_test import NEXT_TEST
from tracebench.core.steps.call.otherwise import OTHERWISE
from tracebench.core.steps.call.ruled_out import RULED_OUT
from tracebench.core.steps.call.verdict import CALL
from tracebench.core.steps.capture import QUALITY
from tracebench.core.steps.cautions import CAUTIONS
from tracebench.core.steps.compare.criterion import COMPARISON
from tracebench.core.steps.connect import CONNECTING
from tracebench.core.steps.explain import EXPLAINING
from tracebench.core.steps.name import NAMING
from tracebench.core.steps.reading.criterion import READING
from tracebench.core.steps.record import RECORDING
from tracebench.core.steps.set_up import SETTING_UP
from tracebench.core.steps.spot import SPOTTING
from tracebench.core.steps.work_out import WORKING

CRITERIA: tuple[Criterion, ...] = (
    CAUTIONS,
    CONNECTING,
    SETTING_UP,
    QUALITY,
    READING,
    WORKING,
    NAMING,
    SPOTTING,
    COMPARISON,
    RECORDING,
    EVIDENCE,
    CALL,
    CAUSE,
    NEXT_TEST,
    OTHERWISE,
    RULED_OUT,
    CONFIDENCE,
    EXPLAINING,
)


def grade(attempt: Attempt) -> Grade:
    """Every criterion that the card asks for, with the sum. The same attempt always gives the same grade.

    `certainty` of the whole is that of its least certain criterion that carries points. Points earned by reading the
    trace (`trace`) are also summed apart from those earned around it (`around`: connecting, cautions, capturing).
    """
    results: list[Result] = []
    for criterion in CRITERIA:
        worth = float(attempt.card.points.get(criterion.key, criterion.points))
        if worth > 0:
            results += (_less_hint(attempt, r) for r in criterion.judge(attempt, worth))
    return {
        "engine": ENGINE_VERSION,
        "results": [r.as_json() for r in results],
        **_sum(results),
        "trace": _sum([r for r in results if r.skill not in AROUND]),
        "around": _sum([r for r in results if r.skill in AROUND]),
        "certainty": round(min((r.certainty for r in results), default=1.0), 3),
    }


def _less_hint(attempt: Attempt, result: Result) -> Result:
    """What a hint that was taken costs, at the criteria of its step."""
    if result.step not in attempt.hinted or result.score == 0:
        return result
    off = attempt.card.rubric.hint
    reason = f"{result.reason} A hint was taken: {100 * off:.0f} % off."
    return replace(result, score=result.score * (1 - off), reason=reason)


def _sum(results: list[Result]) -> Sum:
    points = sum(r.points for r in results)
    return {"points": round(points, 2), "earned": round(sum(r.points * r.score for r in results), 2)}
