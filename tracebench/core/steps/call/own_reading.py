"""Follow-through: the conclusion that a learner's own wrong readings lead to, by the limits that decide."""

from __future__ import annotations

from dataclasses import replace

from tracebench.core.answer import Answer
from tracebench.core.circuits import verdict
from tracebench.core.circuits.setup_findings import CORRECTED
from tracebench.core.grading.attempt import Attempt
from tracebench.core.limits import judge
from tracebench.core.steps.call.step import CallStep
from tracebench.core.steps.reading.criterion import earned
from tracebench.core.steps.reading.step import ReadingStep

NOTHING_FOLLOWS = frozenset(("cold_capture", "other_design", *CORRECTED))
"""Set-up findings under which no reading leads anywhere: a limit condemns nothing, or the scale itself is suspect."""


def followed(attempt: Attempt, step: CallStep, measured: Answer) -> Answer | None:
    """What the capture would say with the learner's own values in place of its own, where that makes another call.

    Only a figure of this trace counts, taken wrongly in a way that has a name or nearly right: one from nowhere
    leads nowhere. Where set-up hides the answer, withdraws a limit or makes the scale suspect, no reading gives one.
    None where the learner's readings change nothing.
    """
    if measured.call == "inconclusive" or any(f.hides or f.code in NOTHING_FOLLOWS for f in measured.findings):
        return None
    own = _own_values(attempt, step)
    readings = tuple(
        replace(r, value=own[r.id]) if r.id in own and r.cycle is None and r.cylinder is None else r
        for r in measured.readings
    )
    judged = judge(readings, [j.limit for j in measured.limits])
    before = {j.limit.reading: j.state for j in measured.limits if j.decides}
    moved = {j.limit.reading for j in judged if j.decides and j.state != before[j.limit.reading]}
    if not moved:
        return None
    circuit = attempt.card.circuit_of(step)
    theirs = {row.code for row in circuit.limit_findings if row.reading in moved}
    values = {r.value for r in measured.readings if r.id in moved}
    findings = [f for f in measured.findings if not (f.code in theirs and f.value in values)]
    findings += verdict.from_limits(circuit, readings, judged, {f.code for f in findings})
    call, because = verdict.call(circuit, findings, judged)
    if call == measured.call:
        return None
    return replace(measured, readings=readings, limits=judged, findings=tuple(findings), call=call, because=because)


def _own_values(attempt: Attempt, step: CallStep) -> dict[str, float]:
    """Values that the learner gave for whole readings of the same capture, those that are of this trace."""
    out: dict[str, float] = {}
    for other in attempt.card.steps:
        if not isinstance(other, ReadingStep) or other.capture != step.capture or other.named:
            continue
        given = attempt.given(other)
        if given is not None and given.value is not None and earned(attempt, other) > 0:
            out[other.reading] = given.value
    return out
