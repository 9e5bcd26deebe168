"""What a learner rules out, and by which stretch of the trace."""

from __future__ import annotations

from tracebench.core.circuits.work import Span
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.grading.slack import slack_of
from tracebench.core.steps.call.call_on_trace import CallOnTrace, judging
from tracebench.core.steps.call.cause import causes
from tracebench.core.steps.call.evidence import WIDEST, covered
from tracebench.core.steps.call.step import Excluded

WANTED, MOST_COUNTED = 2, 3
"""Causes that are asked to be ruled out, and so many that count."""

EVENTS, RECORD = "events", "record"
"""Names beside those of phases in what a finding says of where it shows."""

PART_OF_A_PLACE = 0.5
"""Of a stretch, so much must lie where the cause would have shown."""

WITHOUT_A_PLACE = 0.5
"""What is left of one that is ruled out by nothing in particular."""


def _ruled_out(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    named = case.given.ruled_out[:MOST_COUNTED]
    texts = {c.key: c.text for c in case.circuit.causes}
    if case.measured.call == "inconclusive":
        score = 0.0 if named else 1.0
        reason = "This capture hides the answer, so that it rules nothing out."
        return Result.of(criterion, case.step, score, points, sure.BY_TABLE, reason)
    if not named:
        return Result.of(criterion, case.step, 0.0, points, sure.CERTAIN, "Nothing was ruled out.")
    supported = causes(case)
    said, earned = [], 0.0
    for one in named:
        if one.cause in supported:
            said.append(f"“{texts[one.cause]}” cannot be ruled out: the capture speaks for it.")
            continue
        shown = _shows(case, one)
        earned += 1.0 if shown else WITHOUT_A_PLACE
        why = f" It would show in {_in_words(case, one.cause)}." if one.by is not None else ""
        said.append(
            f"Right: not “{texts[one.cause]}”." if shown else f"Not “{texts[one.cause]}”, but say what shows it.{why}"
        )
    if len(named) < WANTED:
        said.append(f"{WANTED} were asked.")
    score = earned / max(WANTED, len(named))
    return Result.of(criterion, case.step, score, points, sure.PARTLY, " ".join(said))


def _shows(case: CallOnTrace, one: Excluded) -> bool:
    """True for a stretch, half of which at the least lies where that cause would have shown."""
    if one.by is None or one.by.length > WIDEST * case.measured.duration_s:
        return False
    places = would_show(case, one.cause)
    slack = slack_of(case.measured, among_events=False)
    return not places or covered(one.by, [(a - slack, b + slack) for a, b in places]) >= PART_OF_A_PLACE


def would_show(case: CallOnTrace, cause: str) -> list[Span]:
    """Where a cause would have shown: in the phases, events and readings of the findings that speak for it.

    Where nothing says so, in what shows a sound part; empty where that may be anywhere.
    """
    measured = case.measured
    names, readings, anywhere = _signs(case, cause)
    if anywhere:
        return []
    out = [(p.from_s, p.to_s) for p in measured.phases if p.name in names]
    out += [(r.from_s, r.to_s) for r in measured.readings if r.id in readings]
    if EVENTS in names or not out:
        out += [(e.from_s, e.to_s) for e in measured.events]
    return out or [(p.from_s, p.to_s) for p in measured.phases if p.name in case.circuit.proof.phases]


def _signs(case: CallOnTrace, cause: str) -> tuple[set[str], set[str], bool]:
    """Phases and readings in which the findings that speak for a cause show, and whether one may show anywhere."""
    codes = {f.code: f for f in case.circuit.findings if f.kind == "fault" and cause in (f.cause, *f.also)}
    names = {name for f in codes.values() for name in f.shows}
    readings: set[str] = set()
    for row in case.circuit.limit_findings:
        spec = case.circuit.reading(row.reading) if row.code in codes else None
        if spec is not None:
            readings.add(spec.id)
            names |= {spec.phase} if spec.phase else set()
    return names, readings, RECORD in names


def _in_words(case: CallOnTrace, cause: str) -> str:
    names, readings, anywhere = _signs(case, cause)
    titles = [spec.title.lower() for r in sorted(readings) if (spec := case.circuit.reading(r)) is not None]
    told = sorted(n.replace("_", " ") for n in names - {RECORD})
    return ", ".join(told or titles or case.circuit.proof.phases) if not anywhere else "any part of the record"


RULED_OUT: Criterion = Criterion(
    "ruled_out",
    "What is ruled out",
    "conclude",
    1.5,
    "Two causes that the capture does not support, each with a stretch where it would have shown; half without one.",
    judging(lambda: RULED_OUT, _ruled_out, asked="ruled_out"),
)
