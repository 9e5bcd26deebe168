"""Confidence: the Brier score of what was stated."""

from __future__ import annotations

from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.call.call_on_trace import CallOnTrace, judging


def brier_score(confidence_pct: float, right: bool) -> float:
    """1 less the squared distance of stated confidence from what happened, 0-1.

    A strictly proper rule: stating what one believes is the best one can do. Source: G. W. Brier,
    'Verification of forecasts expressed in terms of probability', Monthly Weather Review 78, 1950.
    """
    return 1 - (confidence_pct / 100 - (1.0 if right else 0.0)) ** 2


def _confidence(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    stated = case.given.confidence
    right = case.given.verdict in case.right_calls or case.share_of_what_follows == 1
    if stated is None:
        score, reason = 0.0, "You did not say how sure you are."
    elif case.given.verdict is None:
        score, reason = 0.0, "There is no call to be sure of."
    else:
        score = brier_score(stated, right)
        reason = f"You were {stated:.0f} % sure of a call that was {'right' if right else 'wrong'}."
    return Result.of(criterion, case.step, score, points, sure.CERTAIN, reason)


CONFIDENCE: Criterion = Criterion(
    "confidence",
    "Confidence",
    "conclude",
    1.0,
    "Brier score of the stated confidence: bluffing and false modesty both cost.",
    judging(lambda: CONFIDENCE, _confidence),
)
