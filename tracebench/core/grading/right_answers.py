"""The answers that a capture itself gives to a card: what somebody answers who reads the trace as the tool does."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import Any

from tracebench.core.arithmetic import worked
from tracebench.core.cards.card import Card
from tracebench.core.cards.schools import GROUNDS
from tracebench.core.cards.step import Given, Step
from tracebench.core.errors import BadOption
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.limits import state_of
from tracebench.core.steps.call.call_on_trace import CallOnTrace
from tracebench.core.steps.call.cause import causes
from tracebench.core.steps.call.evidence import WIDEST, best_piece
from tracebench.core.steps.call.next_test import fits
from tracebench.core.steps.call.ruled_out import would_show
from tracebench.core.steps.call.step import NO_PART, Called, CallStep, Excluded, Piece
from tracebench.core.steps.capture import CaptureStep, Recorded
from tracebench.core.steps.cautions import Acknowledged, CautionsStep
from tracebench.core.steps.compare.likeness import held
from tracebench.core.steps.compare.step import Compared, CompareStep
from tracebench.core.steps.connect import GROUND, PROBE, Connected, ConnectStep
from tracebench.core.steps.name import Named, NameStep, parts_of
from tracebench.core.steps.probes import fitting
from tracebench.core.steps.reading.step import Read, ReadingStep
from tracebench.core.steps.set_up import SAMPLES_ACROSS, TRIGGER, Settings, SetUpStep
from tracebench.core.steps.spot import SpotStep, Spotted, in_order, odd_ones
from tracebench.core.steps.work_out import WorkedOut, WorkOutStep

HEAD_ROOM = 1.25
"""A range so much over the highest value cuts nothing off."""


def right_answers(card: Card, taken: Mapping[str, Taken]) -> dict[str, Given]:
    """By step; records and explanations are nobody's but the learner's, and have none."""
    out = {}
    for step in card.steps:
        make = next((m for kind, m in _ANSWERS if isinstance(step, kind)), None)
        answer = make(card, taken.get(step.capture), step) if make is not None else None
        if answer is not None:
            out[step.id] = answer
    return out


def _cautions(card: Card, taken: Taken | None, step: CautionsStep) -> Given:
    return Acknowledged(tuple(c.key for c in card.cautions_of(step.capture)))


def _capture(card: Card, taken: Taken | None, step: CaptureStep) -> Given:
    return Recorded(ground=card.ground_wanted(step.capture))


def _connect(card: Card, taken: Taken | None, step: ConnectStep) -> Given:
    best = fitting(step.unit, step.reach) if PROBE in step.asks else None
    ground = (card.ground_wanted(step.capture) or GROUNDS[0]) if GROUND in step.asks else None
    return Connected({wire.label: wire.lane for wire in step.wires}, ground, best.key if best is not None else None)


def _set_up(card: Card, taken: Taken | None, step: SetUpStep) -> Given:
    rate = HEAD_ROOM * SAMPLES_ACROSS / step.sees_s if step.sees_s else 1000.0
    return Settings(HEAD_ROOM * step.highest, step.lasts_s, rate, 0.4 * step.highest if TRIGGER in step.asks else None)


def _read(card: Card, taken: Taken | None, step: ReadingStep) -> Given | None:
    if taken is None:
        return None
    reading = step.wanted(taken.measured)
    return Read(absent=True) if reading is None else Read(reading.value, pegs=(reading.from_s, reading.to_s))


def _compare(card: Card, taken: Taken | None, step: CompareStep) -> Given | None:
    if taken is None:
        return None
    if step.against != "limit":
        found = held(step, taken.measured)
        return None if found is None else Compared(found.state)
    reading = taken.measured.reading(step.reading, cylinder=step.cylinder)
    decided = taken.measured.deciding_limit(step.reading)
    return None if decided is None or reading is None else Compared(state_of(reading.value, decided.limit))


def _name(card: Card, taken: Taken | None, step: NameStep) -> Given | None:
    if taken is None:
        return None
    found = {name: parts_of(taken.measured, name)[:1] for name in step.names}
    return Named({name: (parts[0].from_s, parts[0].to_s) for name, parts in found.items() if parts})


def _spot(card: Card, taken: Taken | None, step: SpotStep) -> Given | None:
    if taken is None:
        return None
    odd = in_order(odd_ones(taken.measured, step.among))
    return Spotted(odd[0]) if odd else Spotted(absent=True)


def _work_out(card: Card, taken: Taken | None, step: WorkOutStep) -> Given | None:
    if step.comes_to is not None:
        reading = taken.measured.reading(step.comes_to.id) if taken is not None else None
        return None if reading is None else WorkedOut(reading.value)
    figures = dict(step.figures)
    for key, reading_id in step.readings.items():
        reading = taken.measured.reading(reading_id) if taken is not None else None
        if reading is None:
            return None
        figures[key] = reading.value
    try:
        return WorkedOut(worked(step.calculation.key, figures).value, figures)
    except BadOption:
        return None


def case_of(card: Card, taken: Taken, step: CallStep, given: Called) -> CallOnTrace:
    """A call as its criteria look at it."""
    return CallOnTrace(
        Attempt(card, {step.id: given}, {step.capture: taken}), step, given, card.circuit_of(step), taken
    )


def _call(card: Card, taken: Taken | None, step: CallStep) -> Given | None:
    if taken is None:
        return None
    given = Called(taken.measured.call, confidence=100.0)
    case = case_of(card, taken, step, given)
    piece = best_piece(case)
    tests = {test: fit.score for test, fit in fits(case).items()}
    first = _best(tests)
    others = {test: score for test, score in tests.items() if test != first}
    supported = causes(case)
    apart = [c.key for c in case.circuit.causes if c.key not in {*supported, *NO_PART}]
    hidden = taken.measured.call == "inconclusive"
    return replace(
        given,
        cause=_best(supported),
        next_test=first,
        evidence=() if piece is None else (piece,),
        ruled_out=() if hidden else tuple(Excluded(cause, _place(case, cause) or piece) for cause in apart[:2]),
        otherwise=_best(others) or first,
    )


def _place(case: CallOnTrace, cause: str) -> Piece | None:
    """A stretch in which a cause would have shown, None where that may be anywhere."""
    longest = WIDEST * case.measured.duration_s
    place = next((p for p in would_show(case, cause) if p[1] > p[0]), None)
    return None if place is None else Piece(place[0], min(place[1], place[0] + longest))


def _best(shares: Mapping[str, float]) -> str | None:
    return max(shares, key=lambda key: shares[key], default=None)


_ANSWERS: Sequence[tuple[type[Step[Any]], Callable[[Card, Taken | None, Any], Given | None]]] = (
    (CautionsStep, _cautions),
    (CaptureStep, _capture),
    (ConnectStep, _connect),
    (SetUpStep, _set_up),
    (ReadingStep, _read),
    (CompareStep, _compare),
    (NameStep, _name),
    (SpotStep, _spot),
    (WorkOutStep, _work_out),
    (CallStep, _call),
)
