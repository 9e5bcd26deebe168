"""The next test: ranked, with its reason; supply, ground and signal wire before any part."""

from __future__ import annotations

from dataclasses import dataclass

from tracebench.core.circuits import finding_spec
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.call.call_on_trace import CallOnTrace, judging
from tracebench.core.steps.call.evidence import kept
from tracebench.core.steps.call.step import CONNECTION

LOOK_UP, NONE, SECURE, CONDITION, HEAT = "look-up", "none", "recapture-secure", "recapture-condition", "heat"


@dataclass(frozen=True, slots=True)
class Fit:
    """How well a next test fits, 0 to 1, and why."""

    score: float
    why: str


def fits(case: CallOnTrace) -> dict[str, Fit]:
    """Next tests that earn something, the first in rank first."""
    call = case.measured.call
    if case.called_again:
        return {SECURE: Fit(1.0, "the probe or clip first, then capture again")}
    if call == "sound":
        out = {NONE: Fit(1.0, "nothing is left to test")}
        if case.marginal:
            out = {LOOK_UP: Fit(1.0, "a deciding figure is marginal"), **out}
        return out
    ranked = list(dict.fromkeys(t for f in case.deciding for t in finding_spec(case.circuit, f.code).next_tests))
    if call == "inconclusive":
        if not ranked:
            ranked = [t for t in (HEAT, CONDITION) if any(c.key == t for c in case.circuit.next_tests)]
            return {t: Fit(1.0, "cold on the bench shows nothing of hot") for t in ranked}
        return _in_rank(case, ranked)
    return _of_fault(case, ranked)


def _in_rank(case: CallOnTrace, ranked: list[str]) -> dict[str, Fit]:
    further = case.attempt.card.rubric.further_test
    out = {ranked[0]: Fit(1.0, "it comes first")}
    out |= {t: Fit(further, "it follows, but others come before it") for t in ranked[1:]}
    as_good = [t for f in case.deciding[:1] for t in finding_spec(case.circuit, f.code).as_first]
    return out | {t: Fit(1.0, "it tells as much as what comes first") for t in as_good}


def _of_fault(case: CallOnTrace, ranked: list[str]) -> dict[str, Fit]:
    tests = case.circuit.next_tests
    rubric = case.attempt.card.rubric
    out = _in_rank(case, ranked) if ranked else {}
    if _by_common_practice_alone(case) or any(j.state == "marginal" for j, _ in case.marginal):
        out[LOOK_UP] = Fit(1.0, "a rule of thumb decides here: the maker's figure first")
    for way in case.attempt.card.ways(case.step.capture):
        out |= {t: Fit(1.0, f"{way.title.lower()} is how this card goes on") for t in way.next_tests}
    # Before condemning any part, its supply, reference, ground and signal wire (common practice, no published source).
    for test in tests:
        if test.wires:
            out[test.key] = Fit(1.0, "supply, ground and signal wire come before any part")
    for test in tests:
        if test.renews and wires_shown(case):
            out[test.key] = Fit(1.0, "the wires were shown good, so that the part is left")
        elif test.renews:
            out[test.key] = Fit(rubric.renewed, "supply and ground were not shown good before the part was condemned")
    return out


def _by_common_practice_alone(case: CallOnTrace) -> bool:
    """True if limits decide and all of them are rules of thumb."""
    outside = [j for j in case.measured.limits if j.decides and j.state == "outside" and j.limit.condemns]
    return bool(outside) and all(j.limit.basis == "common-practice" for j in outside)


def wires_shown(case: CallOnTrace) -> bool:
    """True if supply or reference and ground were shown good, in the capture's other lanes or its records."""
    if case.taken.wires_shown:
        return True
    found = []
    for role in ("supply", "ground"):
        lanes = {lane.name for lane in case.circuit.lanes if lane.role == role}
        blamed = any(f.lane in lanes for f in case.measured.findings if f.kind == "fault")
        held = [_inside(case, r.id) for r in case.measured.readings if r.lane in lanes]
        found.append(not blamed and bool(held) and all(held))
    return all(found)


def _inside(case: CallOnTrace, reading_id: str) -> bool:
    decided = case.measured.deciding_limit(reading_id)
    return decided is not None and decided.state == "inside"


def _next_test(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    share, shown = kept(case)
    case = case.as_read()
    texts = {t.key: t for t in case.circuit.next_tests}
    ranked = fits(case)
    chosen = case.given.next_test
    best = [t for t, fit in ranked.items() if fit.score == 1]
    wanted = " or ".join(texts[t].text for t in best[:3])
    slip = _slip(case)
    if chosen is None:
        score, reason = 0.0, f"No next step was chosen. Here it should be: {wanted}."
    elif chosen in ranked:
        fit = ranked[chosen]
        score = fit.score * share
        lead = "A fitting next step" if fit.score == 1 else "Not the first thing to do"
        reason = f"{lead}: {texts[chosen].text}. Why: {fit.why}.{shown}"
        if fit.score < 1:
            reason += f" Before it: {wanted}."
    else:
        score, reason = 0.0, f"You chose “{texts[chosen].text}”. Here it should be: {wanted}."
    if slip == "controller_before_grounds":
        reason += " You blame the controller: its own grounds and feeds are proved before it is."
    return Result.of(criterion, case.step, score, points, sure.BY_TABLE, reason, (), slip)


def _slip(case: CallOnTrace) -> str | None:
    """A part condemned without its supply, or the controller before its grounds, by what was called and chosen."""
    test = case.choice(case.circuit.next_tests, case.given.next_test)
    cause = case.choice(case.circuit.causes, case.given.cause)
    if case.given.verdict != "faulty" or test is None or not test.renews:
        return None
    if cause is not None and cause.controller:
        return "controller_before_grounds"
    if cause is not None and cause.key == CONNECTION:
        return None
    return None if wires_shown(case) else "supply_not_shown"


NEXT_TEST: Criterion = Criterion(
    "next_test",
    "Next test",
    "conclude",
    1.0,
    "The first step that follows from the findings, or supply, ground and signal wire before any part; half for one "
    "further down.",
    judging(lambda: NEXT_TEST, _next_test),
)
