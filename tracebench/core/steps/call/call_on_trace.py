"""What a capture decides, as the criteria of a call share it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Self

from tracebench.core.answer import Answer, Finding, JudgedLimit, Reading
from tracebench.core.answer_rows import Call
from tracebench.core.circuits.circuit import Choice, Circuit
from tracebench.core.circuits.setup_findings import CORRECTED
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.steps.call.own_reading import followed
from tracebench.core.steps.call.step import Called, CallStep

WORDS = {"sound": "sound", "faulty": "faulty", "inconclusive": "cannot tell yet"}

NOT_THERE = ("missing_phase", "too_short", "condition_not_shown", "cold_only")
"""What hides an answer by not being in the record: nothing on the trace can be pointed at for it."""


@dataclass(frozen=True, slots=True)
class CallOnTrace:
    """A call step with its answer and what the learner's capture shows."""

    attempt: Attempt
    step: CallStep
    given: Called
    circuit: Circuit
    taken: Taken
    followed: Answer | None = None
    """What the learner's own wrong readings lead to, where that is another call."""

    @property
    def follows(self) -> bool:
        """True where the learner's call is wrong for the capture and right for what was read of it."""
        return self.followed is not None and self.given.verdict == self.followed.call

    @property
    def share_of_what_follows(self) -> float:
        """What a call that follows from one's own wrong reading earns on this card; the trace decides by default."""
        return self.attempt.card.rubric.call_follows if self.follows else 0.0

    def as_read(self) -> Self:
        """The case that the learner concluded on, where the card lets a call count that follows from the readings."""
        if self.followed is None or self.share_of_what_follows == 0:
            return self
        return self.with_measured(self.followed)

    def with_measured(self, measured: Answer) -> Self:
        return replace(self, taken=replace(self.taken, measured=measured))

    @property
    def measured(self) -> Answer:
        return self.taken.measured

    @property
    def deciding(self) -> Sequence[Finding]:
        """The findings that carry the call."""
        if self.measured.call == "faulty":
            return [f for f in self.measured.findings if f.kind == "fault"]
        return [f for f in self.measured.findings if f.hides] if self.measured.call == "inconclusive" else []

    @property
    def corrected(self) -> Sequence[Finding]:
        """Set-up findings that the tool put right, so that there are two right calls."""
        return [f for f in self.measured.findings if f.code in CORRECTED and not f.hides]

    @property
    def right_calls(self) -> Sequence[Call]:
        """The call, and beside it 'cannot tell' where it rests on values that were put right."""
        call = self.measured.call
        return (call, "inconclusive") if self.corrected and call != "inconclusive" else (call,)

    @property
    def called_again(self) -> bool:
        """True where the learner would capture again what the tool put right: that is as right as its call."""
        return self.given.verdict == "inconclusive" and self.measured.call != "inconclusive" and bool(self.corrected)

    @property
    def condemning(self) -> Sequence[tuple[JudgedLimit, Reading]]:
        """Readings outside a deciding limit that condemn by themselves, without a finding that says the same."""
        return _limits(self.measured, "outside")

    @property
    def marginal(self) -> Sequence[tuple[JudgedLimit, Reading]]:
        return _limits(self.measured, "marginal")

    def choice(self, kind: Sequence[Choice], key: str | None) -> Choice | None:
        return next((c for c in kind if c.key == key), None)


def _limits(measured: Answer, state: str) -> Sequence[tuple[JudgedLimit, Reading]]:
    out = []
    for j in measured.limits:
        reading = measured.reading(j.limit.reading)
        named = state == "marginal" or j.limit.reading in measured.because
        if j.decides and j.state == state and j.limit.condemns and named and reading is not None:
            out.append((j, reading))
    return out


def stretches(findings: Sequence[Finding]) -> list[Stretch]:
    return [Stretch(f.from_s, f.to_s, f.lane) for f in findings[:4]]


def judging(
    criterion: Callable[[], Criterion], one: Callable[[CallOnTrace, Criterion, float], Result], asked: str | None = None
) -> Callable[[Attempt, float], list[Result]]:
    """A criterion's judge from what it says of one case; without a capture there is nothing to conclude from.

    With `asked`, of the steps alone that ask for that.
    """

    def judge(attempt: Attempt, points: float) -> list[Result]:
        out = []
        for step in attempt.card.steps:
            if not isinstance(step, CallStep) or (asked is not None and asked not in step.asks):
                continue
            taken = attempt.taken_for(step)
            if taken is None:
                reason = "Without a capture there is nothing to conclude from."
                out.append(Result.of(criterion(), step, 0.0, points, sure.CERTAIN, reason))
                continue
            given = attempt.given(step) or Called()
            own = followed(attempt, step, taken.measured)
            case = CallOnTrace(attempt, step, given, attempt.card.circuit_of(step), taken, own)
            out.append(one(case, criterion(), points))
        return out

    return judge
