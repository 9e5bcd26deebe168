"""The tool sits a card itself, with right answers and with each typical mistake: what each costs there."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, TypeVar

from tracebench.core.cards.card import Card
from tracebench.core.cards.step import Given, Step
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.grade import grade
from tracebench.core.grading.result import Grade
from tracebench.core.grading.right_answers import case_of, right_answers
from tracebench.core.steps.call.call_on_trace import CallOnTrace
from tracebench.core.steps.call.cause import causes
from tracebench.core.steps.call.next_test import NONE as NO_TEST
from tracebench.core.steps.call.next_test import fits
from tracebench.core.steps.call.step import NO_PART, NOT_SHOWN, Called, CallStep, Excluded, Piece
from tracebench.core.steps.call.step import NONE as NO_CAUSE
from tracebench.core.steps.cautions import Acknowledged, CautionsStep
from tracebench.core.steps.compare.step import Compared, CompareStep
from tracebench.core.steps.connect import Connected, ConnectStep
from tracebench.core.steps.explain import ExplainStep
from tracebench.core.steps.name import Named, NameStep
from tracebench.core.steps.reading.step import Read, ReadingStep
from tracebench.core.steps.record import RecordStep
from tracebench.core.steps.set_up import Settings, SetUpStep
from tracebench.core.steps.spot import LANE, SpotStep, Spotted
from tracebench.core.steps.work_out import WorkedOut, WorkOutStep

Answers = dict[str, Given]
G = TypeVar("G", bound=Given)

BY_HAND = (RecordStep, ExplainStep)
"""Steps whose answers only a learner has; the tool leaves them out when it sits a card."""


@dataclass(frozen=True, slots=True)
class Mistake:
    """`spoilt` makes wrong answers of right ones, None where the card gives no room for the mistake."""

    key: str
    title: str
    spoilt: Callable[[Card, Mapping[str, Taken], Answers], Answers | None]


@dataclass(frozen=True, slots=True)
class Played:
    """What a mistake costs on a card: points of `points`, and the criteria that lose them."""

    key: str
    title: str
    cost: float
    where: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class OwnScore:
    """The grade of right answers without the steps that only a learner can answer, and each mistake, dearest first."""

    right: Grade
    left_out: tuple[str, ...]
    mistakes: tuple[Played, ...]


def own_score(card: Card, taken: Mapping[str, Taken]) -> OwnScore:
    """The card sat by the tool on its captures, rightly and with each typical mistake for which it gives room."""
    by_hand = {s.id for s in card.steps if isinstance(s, BY_HAND)}
    # A copy without what only a learner can answer: the sums are then of what the tool can show.
    shown = replace(card, steps=tuple(s for s in card.steps if s.id not in by_hand))
    answers = right_answers(shown, taken)
    right = grade(Attempt(shown, answers, taken))
    played = [p for m in MISTAKES if (p := _played(m, shown, taken, answers, right)) is not None]
    if shown.hints:
        hinted = grade(Attempt(shown, answers, taken, frozenset(shown.hints)))
        played.append(_cost("hints", "Every hint taken", right, hinted))
    return OwnScore(right, tuple(sorted(by_hand)), tuple(sorted(played, key=lambda p: -p.cost)))


def _played(mistake: Mistake, card: Card, taken: Mapping[str, Taken], answers: Answers, right: Grade) -> Played | None:
    wrong = mistake.spoilt(card, taken, dict(answers))
    if wrong is None:
        return None
    return _cost(mistake.key, mistake.title, right, grade(Attempt(card, wrong, taken)))


def _cost(key: str, title: str, right: Grade, wrong: Grade) -> Played:
    pairs = zip(right["results"], wrong["results"], strict=True)
    where = tuple(dict.fromkeys(a["title"] for a, b in pairs if b["earned"] < a["earned"] - 1e-9))
    return Played(key, title, round(right["earned"] - wrong["earned"], 2), where)


def _first(
    card: Card, answers: Answers, kind: type[Step[Any]], given: type[G], fits: Callable[[G], bool] = lambda _: True
) -> tuple[str, G] | None:
    """The first step of a kind with an answer that a mistake can be made in."""
    for step in card.steps:
        answer = answers.get(step.id)
        if isinstance(step, kind) and isinstance(answer, given) and fits(answer):
            return step.id, answer
    return None


def _power_of_ten(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, ReadingStep, Read, lambda read: bool(read.value))
    if found is None:
        return None
    step, read = found
    return {**answers, step: replace(read, value=10 * (read.value or 0.0))}


OFF = 0.15
"""A reading is off by so much of itself: a wrong division read, or the next level."""


def _misread(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, ReadingStep, Read, lambda read: bool(read.value))
    if found is None:
        return None
    step, read = found
    return {**answers, step: replace(read, value=(1 + OFF) * (read.value or 0.0))}


def _without_pegs(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    reads = {k: replace(a, pegs=()) for k, a in answers.items() if isinstance(a, Read) and a.pegs}
    return {**answers, **reads} if reads else None


def _one_state_off(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CompareStep, Compared, lambda c: c.state is not None)
    if found is None or found[1].state is None:
        return None
    step = _step(card, found[0])
    assert isinstance(step, CompareStep)
    place = step.choices.index(found[1].state)
    return {**answers, found[0]: Compared(step.choices[place + 1 if place == 0 else place - 1])}


def _other_call(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    """Sound where a fault stands or the trace cannot tell, faulty where all is sound; as sure as can be."""
    found = _first(card, answers, CallStep, Called)
    if found is None:
        return None
    step_id, called = found
    step = next(s for s in card.steps if s.id == step_id)
    circuit = card.circuit_of(step)
    if called.verdict == "sound":
        cause = next((c.key for c in circuit.causes if c.key != NO_CAUSE), NO_CAUSE)
        test = next((t.key for t in circuit.next_tests if t.renews), called.next_test)
        return {**answers, step_id: replace(called, verdict="faulty", cause=cause, next_test=test)}
    return {**answers, step_id: replace(called, verdict="sound", cause=NO_CAUSE, next_test=NO_TEST)}


def _holds_back(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called, lambda called: called.verdict != "inconclusive")
    if found is None:
        return None
    test = next((t.key for t in card.circuit_of(_step(card, found[0])).next_tests if "recapture" in t.key), None)
    changed = replace(found[1], verdict="inconclusive", cause=NOT_SHOWN, next_test=test, confidence=50.0)
    return {**answers, found[0]: changed}


def _other_cause(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called, lambda called: called.verdict == "faulty")
    if found is None:
        return None
    case = _case(card, taken, *found)
    other = next((c.key for c in case.circuit.causes if c.key not in {*causes(case), *NO_PART}), None)
    return None if other is None else {**answers, found[0]: replace(found[1], cause=other)}


def _renews_first(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called, lambda called: called.verdict == "faulty")
    if found is None:
        return None
    case = _case(card, taken, *found)
    right = {test for test, fit in fits(case).items() if fit.score == 1}
    # Where supply and ground are shown good, renewing the part is right.
    test = next((t.key for t in case.circuit.next_tests if t.renews and t.key not in right), None)
    return None if test is None else {**answers, found[0]: replace(found[1], next_test=test)}


def _rules_out_too_much(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called, lambda called: bool(called.ruled_out))
    if found is None:
        return None
    case = _case(card, taken, *found)
    named = next((c for c in causes(case) if c not in NO_PART), None)
    if named is None:
        return None
    return {**answers, found[0]: replace(found[1], ruled_out=(Excluded(named, None), *found[1].ruled_out[1:]))}


def _no_evidence(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called, lambda called: bool(called.evidence))
    return None if found is None else {**answers, found[0]: replace(found[1], evidence=())}


def _all_as_evidence(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called, lambda called: bool(called.evidence))
    if found is None:
        return None
    measured = taken[_step(card, found[0]).capture].measured
    begin = measured.first_phase_s
    return {**answers, found[0]: replace(found[1], evidence=(Piece(begin, begin + measured.duration_s),))}


def _false_modesty(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CallStep, Called)
    return None if found is None else {**answers, found[0]: replace(found[1], confidence=50.0)}


def _exchanged_names(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, NameStep, Named, lambda named: len(named.marks) > 1)
    if found is None:
        return None
    (a, at), (b, there), *rest = found[1].marks.items()
    return {**answers, found[0]: Named({a: there, b: at, **dict(rest)})}


def _other_odd_one(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, SpotStep, Spotted)
    if found is None:
        return None
    step = _step(card, found[0])
    assert isinstance(step, SpotStep)
    others = [lane.name for lane in card.circuit_of(step).lanes] if step.among == LANE else [1, 2]
    return {**answers, found[0]: Spotted(next(one for one in others if one != found[1].value))}


def _factor(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, WorkOutStep, WorkedOut, lambda w: bool(w.value))
    if found is None:
        return None
    return {**answers, found[0]: replace(found[1], value=1000 * (found[1].value or 0.0))}


def _exchanged_wires(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, ConnectStep, Connected, lambda c: len(c.wires) > 1)
    if found is None:
        return None
    (a, one), (b, other), *rest = found[1].wires.items()
    return {**answers, found[0]: replace(found[1], wires={a: other, b: one, **dict(rest)})}


def _range_too_small(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, SetUpStep, Settings, lambda s: s.range_v is not None)
    if found is None or found[1].range_v is None:
        return None
    return {**answers, found[0]: replace(found[1], range_v=0.5 * found[1].range_v)}


def _no_cautions(card: Card, taken: Mapping[str, Taken], answers: Answers) -> Answers | None:
    found = _first(card, answers, CautionsStep, Acknowledged, lambda a: bool(a.read))
    return None if found is None else {**answers, found[0]: Acknowledged()}


def _case(card: Card, taken: Mapping[str, Taken], step_id: str, called: Called) -> CallOnTrace:
    step = _step(card, step_id)
    assert isinstance(step, CallStep)
    return case_of(card, taken[step.capture], step, called)


def _step(card: Card, step_id: str) -> Step[Any]:
    return next(s for s in card.steps if s.id == step_id)


MISTAKES: Sequence[Mistake] = (
    Mistake("power-of-ten", "A reading ten times too large", _power_of_ten),
    Mistake("misread", "A reading 15 % off", _misread),
    Mistake("no-pegs", "Right values without their pegs", _without_pegs),
    Mistake("state", "A comparison one state off", _one_state_off),
    Mistake("other-call", "The wrong call, and sure of it", _other_call),
    Mistake("holds-back", "‘Cannot tell’ where the trace decides", _holds_back),
    Mistake("cause", "Another cause", _other_cause),
    Mistake("renews", "A part renewed before it is proved", _renews_first),
    Mistake("rules-out", "Ruling out what the trace shows", _rules_out_too_much),
    Mistake("no-evidence", "The right call without evidence", _no_evidence),
    Mistake("all-evidence", "The whole record as evidence", _all_as_evidence),
    Mistake("modesty", "Right, but only half sure", _false_modesty),
    Mistake("names", "Two names exchanged", _exchanged_names),
    Mistake("spot", "Another one called odd", _other_odd_one),
    Mistake("factor", "A thousandth forgotten in the working", _factor),
    Mistake("wires", "Two wires exchanged", _exchanged_wires),
    Mistake("range", "A range that cuts the signal off", _range_too_small),
    Mistake("cautions", "No caution read", _no_cautions),
)
