"""The call itself: sound, faulty or cannot tell, as the learner's own capture shows."""

from __future__ import annotations

from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.call.call_on_trace import WORDS, CallOnTrace, judging, stretches
from tracebench.core.steps.call.evidence import kept


def _call(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    measured, verdict = case.measured, case.given.verdict
    certainty = sure.NEAR_A_BORDER if case.marginal and not case.deciding else sure.PLAIN
    slip = None
    if verdict is None:
        score, reason = 0.0, f"No call was made; this capture says {WORDS[measured.call]}: {_why(case)}."
    elif verdict == measured.call:
        score, shown = kept(case)
        reason = f"Right: {WORDS[verdict]}. On your capture {_why(case)}.{shown}"
    elif case.called_again:
        put_right = "; ".join(f.text for f in case.corrected)
        score, shown = kept(case)
        reason = f"Right: cannot tell yet. {put_right[:1].upper()}{put_right[1:]}, so capturing again is right.{shown}"
    elif case.share_of_what_follows > 0:
        score, slip = kept(case)[0], "follow_through"
        reason = (
            f"{WORDS[verdict].capitalize()} follows from what you read: {_why(case.as_read())}. The capture says "
            f"{WORDS[measured.call]}: {_why(case)}. The mistake was made at the reading."
        )
        certainty = sure.NEAR_A_BORDER
    elif verdict == "inconclusive":
        score, slip = case.attempt.card.rubric.held_back, "held_back"
        reason = f"You held back where the capture decides. It says {WORDS[measured.call]}: {_why(case)}."
        certainty = min(certainty, sure.WORTH_A_LOOK)
    else:
        score, slip = 0.0, "over_called" if verdict == "faulty" else "over_passed"
        how = "condemned" if verdict == "faulty" else "passed"
        over = f"{how} more than the capture shows"
        reason = f"You called it {WORDS[verdict]}: {over}. It says {WORDS[measured.call]}: {_why(case)}."
        if case.follows:
            reason += " It follows from what you read; the mistake was made there, and the trace decides."
        certainty = min(certainty, sure.LIKELY)
    return Result.of(criterion, case.step, score, points, certainty, reason, stretches(case.deciding), slip)


def _why(case: CallOnTrace) -> str:
    """What the call rests on: the first findings, readings outside their limits, or that nothing is wrong."""
    said = [f.text for f in case.deciding[:2]]
    said += [f"{j.limit.reading} is outside its limit" for j, _ in case.condemning]
    if not said and case.marginal:
        names = " and ".join(j.limit.reading for j, _ in case.marginal)
        return f"no finding stands; {names} is marginal, which condemns nothing"
    return "; ".join(dict.fromkeys(said)) or "nothing is outside its limit and no finding stands"


CALL: Criterion = Criterion(
    "call",
    "The call",
    "conclude",
    2.0,
    "Sound, faulty or cannot tell, as the learner's own capture shows.",
    judging(lambda: CALL, _call),
)
