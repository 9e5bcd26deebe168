"""What a learner rules out, and by which stretch of the trace."""

from __future__ import annotations

from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.call.case import Case, judging
from tracebench.core.steps.call.cause import causes
from tracebench.core.steps.call.evidence import WIDEST
from tracebench.core.steps.call.step import Excluded

WANTED, MOST_COUNTED = 2, 3
"""Causes that are asked to be ruled out, and so many that count."""

WITHOUT_A_PLACE = 0.5
"""What is left of one that is ruled out by nothing in particular."""


def _ruled_out(case: Case, criterion: Criterion, points: float) -> Result:
    named = case.given.ruled_out[:MOST_COUNTED]
    texts = {c.key: c.text for c in case.circuit.causes}
    if case.measured.call == "inconclusive":
        score = 0.0 if named else 1.0
        reason = "This capture hides the answer, so that it rules nothing out."
        return Result.of(criterion, case.step, score, points, 0.8, reason)
    if not named:
        return Result.of(criterion, case.step, 0.0, points, 1.0, "Nothing was ruled out.")
    supported = causes(case)
    said, earned = [], 0.0
    for one in named:
        if one.cause in supported:
            said.append(f"“{texts[one.cause]}” cannot be ruled out: the capture speaks for it.")
            continue
        shown = _is_a_place(case, one)
        earned += 1.0 if shown else WITHOUT_A_PLACE
        said.append(
            f"Right: not “{texts[one.cause]}”." if shown else f"Not “{texts[one.cause]}”, but say what shows it."
        )
    if len(named) < WANTED:
        said.append(f"{WANTED} were asked.")
    score = earned / max(WANTED, len(named))
    return Result.of(criterion, case.step, score, points, 0.75, " ".join(said))


def _is_a_place(case: Case, one: Excluded) -> bool:
    return one.by is not None and one.by.length <= WIDEST * case.measured.duration_s


RULED_OUT: Criterion = Criterion(
    "ruled_out",
    "What is ruled out",
    "conclude",
    1.5,
    "Two causes that the capture does not support, each with the stretch that shows it; half without one.",
    judging(lambda: RULED_OUT, _ruled_out, asked="ruled_out"),
)
