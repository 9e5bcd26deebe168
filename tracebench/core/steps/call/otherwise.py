"""What is done where the next test does not cure it."""

from __future__ import annotations

from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.call.call_on_trace import CallOnTrace, judging
from tracebench.core.steps.call.evidence import kept
from tracebench.core.steps.call.next_test import fits


def _otherwise(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    share, shown = kept(case)
    case = case.as_read()
    texts = {t.key: t.text for t in case.circuit.next_tests}
    ranked = [test for test, fit in fits(case).items() if fit.score > 0]
    chosen, first = case.given.otherwise, case.given.next_test
    left = ranked if case.measured.call == "sound" else [t for t in ranked if t != first]
    wanted = " or ".join(texts[t] for t in left[:3]) or "nothing else follows"
    if chosen is None:
        score, reason = 0.0, f"Nothing was chosen for when it is not cured. It could be: {wanted}."
    elif chosen in left:
        score, reason = share, f"Right to go on with: {texts[chosen]}.{shown}"
    elif chosen == first:
        score, reason = 0.0, f"That was the first test; done once more it cures nothing. It could be: {wanted}."
    else:
        score, reason = 0.0, f"“{texts[chosen]}” does not follow from this capture. It could be: {wanted}."
    return Result.of(criterion, case.step, score, points, sure.BY_TABLE, reason)


OTHERWISE: Criterion = Criterion(
    "otherwise",
    "If that does not cure it",
    "conclude",
    1.0,
    "Another test that follows from the findings; of a sound part, that nothing is left.",
    judging(lambda: OTHERWISE, _otherwise, asked="otherwise"),
)
