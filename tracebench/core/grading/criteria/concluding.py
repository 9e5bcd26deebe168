"""The call and what goes with it: cause, evidence, next test and confidence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from tracebench.core.answer import Answer, Finding
from tracebench.core.circuits import finding_spec
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.grading.result import Attempt, Criterion, Result, Stretch

_WORDS = {"sound": "sound", "faulty": "faulty", "inconclusive": "cannot tell yet"}

_CREDIT = {("faulty", "inconclusive"): 0.4, ("sound", "inconclusive"): 0.4, ("inconclusive", "sound"): 0.0}
"""(tool, learner) -> share of the points; holding back is cheaper than condemning or passing wrongly."""

WIDEST_EVIDENCE = 0.5
"""Part of the record from which a chosen stretch points at nothing in particular."""


def _given(attempt: Attempt) -> tuple[Mapping[str, Any] | None, Mapping[str, Any]]:
    step = next((s for s in attempt.card["steps"] if s["kind"] == "call"), None)
    return step, (attempt.answers.get(step["id"]) or {}) if step else {}


def _deciding(measured: Answer) -> list[Finding]:
    """The findings that carry the call."""
    if measured.call == "faulty":
        return [f for f in measured.findings if f.kind == "fault"]
    if measured.call == "inconclusive":
        return [f for f in measured.findings if f.hides]
    return []


def _stretches(findings: Sequence[Finding]) -> list[Stretch]:
    return [Stretch(f.from_s, f.to_s, f.lane) for f in findings[:4]]


def _none(attempt: Attempt, criterion: Criterion, step: Mapping[str, Any], points: float) -> Result | None:
    if attempt.measured is not None:
        return None
    reason = "Without a capture there is nothing to conclude from."
    return Result(criterion.key, criterion.title, criterion.skill, step["id"], 0.0, points, 1.0, reason)


def _call(attempt: Attempt, points: float) -> list[Result]:
    step, given = _given(attempt)
    if step is None:
        return []
    if (empty := _none(attempt, CALL, step, points)) is not None or attempt.measured is None:
        return [empty] if empty else []
    measured, verdict = attempt.measured, given.get("verdict")
    findings = _deciding(measured)
    why = "; ".join(dict.fromkeys(f.text for f in findings[:2])) or "nothing is outside its limit and no finding stands"
    close = [j.limit.reading for j in measured.limits if j.decides and j.state == "marginal"]
    certainty = 0.95 if findings or not close else 0.6
    if verdict is None:
        score, reason = 0.0, f"No call was made; this capture says {_WORDS[measured.call]}: {why}."
    elif verdict == measured.call:
        score, reason = 1.0, f"Right: {_WORDS[verdict]}. On your capture {why}."
    else:
        score = _CREDIT.get((measured.call, verdict), 0.0)
        over = "more than the capture shows" if measured.call == "inconclusive" else "not what the capture shows"
        reason = f"You called it {_WORDS[verdict]}; that is {over}. It says {_WORDS[measured.call]}: {why}."
        certainty = min(certainty, 0.7 if score else 0.85)
    return [Result("call", CALL.title, CALL.skill, step["id"], score, points, certainty, reason, _stretches(findings))]


def _causes(circuit: Circuit, measured: Answer) -> set[str]:
    if measured.call == "sound":
        return {"none"}
    causes = {cause for f in _deciding(measured) if (cause := finding_spec(circuit, f.code).cause)}
    # A wrong reference moves every level: once it is seen, the levels' own causes are no longer needed.
    return {"supply"} if "supply" in causes else causes


def _cause(attempt: Attempt, points: float) -> list[Result]:
    step, given = _given(attempt)
    if step is None:
        return []
    if (empty := _none(attempt, CAUSE, step, points)) is not None or attempt.measured is None:
        return [empty] if empty else []
    wanted = _causes(attempt.circuit, attempt.measured)
    texts = {c.key: c.text for c in attempt.circuit.causes}
    named = " or ".join(texts[w] for w in sorted(wanted) if w in texts) or "no single cause"
    cause = given.get("cause")
    if cause is None:
        score, reason = 0.0, f"No cause was chosen. The evidence supports: {named}."
    elif cause in wanted:
        score, reason = 1.0, f"Right: {texts[cause]}."
    else:
        score, reason = 0.0, f"You chose “{texts[cause]}”. The evidence supports: {named}."
    certainty = 0.9 if len(wanted) == 1 else 0.6
    where = _stretches(_deciding(attempt.measured))
    return [Result("cause", CAUSE.title, CAUSE.skill, step["id"], score, points, certainty, reason, where)]


def _evidence(attempt: Attempt, points: float) -> list[Result]:
    step, given = _given(attempt)
    if step is None:
        return []
    if (empty := _none(attempt, EVIDENCE, step, points)) is not None or attempt.measured is None:
        return [empty] if empty else []
    measured = attempt.measured
    chosen = [(e[0], e[-1]) for e in given.get("evidence") or []]
    findings = _deciding(measured)
    pointing = [c for c in chosen if c[1] - c[0] <= WIDEST_EVIDENCE * measured.duration_s]
    if not chosen:
        reason = "No piece of the trace was chosen as evidence."
        return [
            Result(
                "evidence",
                EVIDENCE.title,
                EVIDENCE.skill,
                step["id"],
                0.0,
                points,
                1.0,
                reason,
                _stretches(findings),
            )
        ]
    if findings:
        slack = 0.02 * measured.duration_s
        hit = next((f for f in findings if any(_touches(c, f, slack) for c in pointing)), None)
        if hit is not None:
            reason, score = f"Right place: {hit.text}.", 1.0
        else:
            nearest = min(findings, key=lambda f: min(abs(f.from_s - c[0]) for c in chosen))
            said = "The stretch chosen does not show it" if pointing else "A stretch that long points at nothing"
            reason = f"{said}. Look at {nearest.from_s:.3g} s: {nearest.text}."
            score = 0.0
        return [
            Result(
                "evidence",
                EVIDENCE.title,
                EVIDENCE.skill,
                step["id"],
                score,
                points,
                0.9,
                reason,
                _stretches(findings),
            )
        ]
    # A sound part is shown by a whole movement, not by one instant of it.
    moving = [p for p in measured.phases if p.name in attempt.circuit.proof_phases]
    covered = [p for p in moving if any(c[0] <= p.from_s + 0.2 and c[1] >= p.to_s - 0.2 for c in chosen)]
    score = 1.0 if covered else 0.5
    reason = (
        "The whole of a phase that shows the part to be sound was chosen."
        if covered
        else f"Sound is shown by a whole {_either(attempt.circuit)}; the stretch chosen covers only part of one."
    )
    where = [Stretch(p.from_s, p.to_s, None) for p in moving[:2]]
    return [Result("evidence", EVIDENCE.title, EVIDENCE.skill, step["id"], score, points, 0.7, reason, where)]


def _touches(chosen: tuple[float, float], finding: Finding, slack: float) -> bool:
    return chosen[0] - slack <= finding.to_s and chosen[1] + slack >= finding.from_s


def _either(circuit: Circuit) -> str:
    return " or ".join(p.replace("_", " ") for p in circuit.proof_phases)


def _next_test(attempt: Attempt, points: float) -> list[Result]:
    step, given = _given(attempt)
    if step is None:
        return []
    if (empty := _none(attempt, NEXT_TEST, step, points)) is not None or attempt.measured is None:
        return [empty] if empty else []
    measured = attempt.measured
    texts = {c.key: c.text for c in attempt.circuit.next_tests}
    wanted: list[str] = []
    for finding in _deciding(measured):
        follow = finding_spec(attempt.circuit, finding.code).next_tests
        wanted += [t for t in follow if t not in wanted]
    if measured.call == "faulty" and not wanted:
        # Only a limit condemned it: prove the figure, then the wires.
        wanted = ["look-up", "supply-ground"]
    if measured.call == "sound":
        marginal = any(j.decides and j.state == "marginal" for j in measured.limits)
        wanted = ["look-up", "none"] if marginal else ["none"]
    chosen = given.get("next_test")
    if chosen in wanted:
        score, reason = 1.0, f"A fitting next step: {texts[str(chosen)]}."
    else:
        said = f"You chose “{texts[chosen]}”. " if chosen else "No next step was chosen. "
        score, reason = 0.0, f"{said}Here it should be: {' or '.join(texts[w] for w in wanted)}."
    return [Result("next_test", NEXT_TEST.title, NEXT_TEST.skill, step["id"], score, points, 0.8, reason)]


def brier_score(confidence_pct: float, right: bool) -> float:
    """1 less the squared distance of stated confidence from what happened, 0-1.

    A strictly proper rule: stating what one believes is the best one can do. Source: G. W. Brier,
    'Verification of forecasts expressed in terms of probability', Monthly Weather Review 78, 1950.
    """
    return 1 - (confidence_pct / 100 - (1.0 if right else 0.0)) ** 2


def _confidence(attempt: Attempt, points: float) -> list[Result]:
    step, given = _given(attempt)
    if step is None or attempt.measured is None:
        return []
    stated = given.get("confidence")
    right = given.get("verdict") == attempt.measured.call
    if stated is None:
        score, reason = 0.0, "You did not say how sure you are."
    else:
        score = brier_score(stated, right)
        reason = f"You were {stated:.0f} % sure of a call that was {'right' if right else 'wrong'}."
    return [Result("confidence", CONFIDENCE.title, CONFIDENCE.skill, step["id"], score, points, 1.0, reason)]


CALL = Criterion(
    "call",
    "The call",
    "conclude",
    4.0,
    "Sound, faulty or cannot tell, as the learner's own capture shows.",
    _call,
)
CAUSE = Criterion("cause", "Cause", "conclude", 2.0, "A cause that the findings in the capture support.", _cause)
EVIDENCE = Criterion(
    "evidence",
    "Evidence",
    "recognise",
    2.0,
    "A stretch of trace that shows what the call rests on.",
    _evidence,
)
NEXT_TEST = Criterion(
    "next_test", "Next test", "conclude", 1.0, "A next step that follows from the finding.", _next_test
)
CONFIDENCE = Criterion(
    "confidence", "Confidence", "conclude", 0.5, "Brier score of the stated confidence.", _confidence
)
