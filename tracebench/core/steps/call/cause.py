"""The cause that the deciding findings speak for."""

from __future__ import annotations

from tracebench.core.circuits import finding_spec
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.call.call_on_trace import CallOnTrace, judging, stretches
from tracebench.core.steps.call.evidence import kept
from tracebench.core.steps.call.step import CONNECTION, NO_PART, NONE, NOT_SHOWN


def causes(case: CallOnTrace) -> dict[str, float]:
    """Causes that earn something, with their share; those of the first finding come first, and its own before others.

    A shared supply, reference or ground explains the levels that hang on it: their own causes earn a part then.
    """
    measured, rubric = case.measured, case.attempt.card.rubric
    if case.called_again:
        return {CONNECTION: 1.0}
    if measured.call == "sound":
        return {NONE: 1.0}
    specs = [finding_spec(case.circuit, f.code) for f in case.deciding]
    first = dict.fromkeys(s.cause for s in specs if s.cause)
    named = dict.fromkeys((*first, *(cause for s in specs for cause in s.also)))
    if measured.call == "inconclusive":
        return dict.fromkeys(named or {NOT_SHOWN}, 1.0)
    if not named:
        # A figure outside its limit that no finding explains speaks for no single part.
        return {c.key: 1.0 for c in case.circuit.causes if c.key not in NO_PART}
    shared = {c.key for c in case.circuit.causes if c.shared} & set(first)
    return {cause: 1.0 if not shared or cause in shared else rubric.levels_cause for cause in named}


def _cause(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    share, shown = kept(case)
    case = case.as_read()
    wanted = causes(case)
    texts = {c.key: c.text for c in case.circuit.causes}
    best = [c for c in texts if wanted.get(c) == 1.0]
    named = " or ".join(texts[c] for c in best[:3]) or "no single cause"
    cause = case.given.cause
    if cause is None:
        score, reason = 0.0, f"No cause was chosen. The evidence supports: {named}."
    elif cause in wanted:
        score = wanted[cause] * share
        own = f"{texts[cause]}: that follows, but it hangs on: {named}."
        reason = (f"Right: {texts[cause]}." if wanted[cause] == 1 else own) + shown
    else:
        score, reason = 0.0, f"You chose “{texts[cause]}”. The evidence supports: {named}."
        if case.followed is not None and cause in causes(case.with_measured(case.followed)):
            reason += " It follows from what you read; the trace decides."
    # Where no finding names a cause, every part is as good, and an instructor knows better.
    unnamed = case.measured.call == "faulty" and not any(
        finding_spec(case.circuit, f.code).cause for f in case.deciding
    )
    certainty = sure.NEAR_A_BORDER if unnamed else sure.FIRM
    return Result.of(criterion, case.step, score, points, certainty, reason, stretches(case.deciding))


CAUSE: Criterion = Criterion(
    "cause",
    "Cause",
    "conclude",
    1.0,
    "A cause that the findings in the capture support; where a supply or ground explains the rest, that one.",
    judging(lambda: CAUSE, _cause),
)
