"""Blind strategies: what somebody earns who never looks at the trace."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.answer_rows import Call, State
from tracebench.core.cards.card import Card
from tracebench.core.cards.step import Given, Step
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.grade import grade
from tracebench.core.grading.right_answers import right_answers
from tracebench.core.steps.call.next_test import CONDITION
from tracebench.core.steps.call.next_test import NONE as NO_TEST
from tracebench.core.steps.call.step import NO_PART, NOT_SHOWN, Called, CallStep, Excluded, Piece
from tracebench.core.steps.call.step import NONE as NO_CAUSE
from tracebench.core.steps.capture import CaptureStep, Recorded
from tracebench.core.steps.cautions import Acknowledged, CautionsStep
from tracebench.core.steps.compare.step import Compared, CompareStep, Likeness
from tracebench.core.steps.connect import Connected, ConnectStep
from tracebench.core.steps.explain import Explained, ExplainStep
from tracebench.core.steps.name import Named, NameStep
from tracebench.core.steps.reading.step import Read, ReadingStep
from tracebench.core.steps.record import RecordedRows, RecordStep
from tracebench.core.steps.set_up import Settings, SetUpStep
from tracebench.core.steps.spot import LANE, SpotStep, Spotted
from tracebench.core.steps.work_out import WorkedOut, WorkOutStep

SEED = 1946
DRAWS = 12
"""Draws of the random strategies that are averaged."""


@dataclass(frozen=True, slots=True)
class Strategy:
    """A way of answering without looking.

    `sure` is the confidence stated. Values are typical ones, the `extremes` that the tool shows of a lane, or said not
    to be there; `pegged` ones have pegs in the middle of the record. Evidence is the whole record, drawn (`random`) or
    nearly `half` of it. `copied` are the answers that are right for a neighbour's part.
    """

    key: str
    title: str
    verdict: Call | None
    sure: float
    state: State | None = "inside"
    typical: bool = False
    random: bool = False
    pegged: bool = False
    extremes: bool = False
    half: bool = False
    copied: bool = False


@dataclass(frozen=True, slots=True)
class Around:
    """What somebody has who does not look: the least and most of each lane, and what a neighbour's part shows."""

    extremes: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    neighbour: Mapping[str, Taken] = field(default_factory=dict)


NOTHING = Around()


STRATEGIES = (
    Strategy("sound", "Always sound", "sound", 100),
    Strategy("faulty", "Always faulty", "faulty", 100, "outside"),
    Strategy("cannot-tell", "Always cannot tell", "inconclusive", 50, "marginal"),
    Strategy("typical", "Typical values from memory, sound", "sound", 100, "inside", typical=True),
    Strategy("random", "Everything drawn at random", None, 50, None, random=True),
    Strategy("random-evidence", "Sound, evidence at random", "sound", 60, "inside", typical=True, random=True),
    Strategy("half-record", "Sound, nearly half of the record shown", "sound", 100, typical=True, half=True),
    Strategy("pegged", "Middle of the limits, with pegs", "sound", 100, typical=True, pegged=True, half=True),
    Strategy(
        "extremes", "Most of the record, with pegs", "faulty", 60, "outside", pegged=True, extremes=True, half=True
    ),
    Strategy("neighbour", "A neighbour’s answers", None, 90, copied=True),
)


def typical_values(card: Card) -> dict[str, float]:
    """What somebody knows by heart: the middle of each limit in force, or its bound where one side is open."""
    out: dict[str, float] = {}
    for asked in card.captures:
        for limit in card.limits_in_force(asked.key):
            sides = [s for s in (limit.low, limit.high) if s is not None]
            out.setdefault(limit.reading, sum(sides) / len(sides))
    return out


def floor_of(card: Card, taken: Mapping[str, Taken], around: Around = NOTHING) -> dict[str, float]:
    """The part of the points for reading the trace that each strategy earns on a sitting's captures, 0 to 1.

    Strategies that need what is not known here, as a neighbour, are left out.
    """
    possible = [s for s in STRATEGIES if (not s.copied or around.neighbour) and (not s.extremes or around.extremes)]
    return {s.key: _earned(card, taken, s, around) for s in possible}


def _earned(card: Card, taken: Mapping[str, Taken], strategy: Strategy, around: Around) -> float:
    if strategy.copied:
        copied = right_answers(card, around.neighbour)
        trace = grade(Attempt(card, copied, taken))["trace"]
        return trace["earned"] / trace["points"] if trace["points"] else 0.0
    draws = DRAWS if strategy.random else 1
    parts = []
    for draw in range(draws):
        rng = np.random.default_rng(SEED + draw)
        answers = {step.id: _answer(card, taken, step, strategy, rng, around) for step in card.steps}
        trace = grade(Attempt(card, answers, taken))["trace"]
        parts.append(trace["earned"] / trace["points"] if trace["points"] else 0.0)
    return float(np.mean(parts))


def _answer(
    card: Card,
    taken: Mapping[str, Taken],
    step: Step[Any],
    strategy: Strategy,
    rng: np.random.Generator,
    around: Around,
) -> Given:
    answers: Sequence[tuple[type[Step[Any]], Callable[[], Given]]] = (
        (CautionsStep, lambda: Acknowledged(tuple(c.key for c in card.cautions_of(step.capture)))),
        (CaptureStep, Recorded),
        (ReadingStep, lambda: _read(card, taken, step, strategy, rng, around)),
        (CompareStep, lambda: _compared(step, strategy, rng)),
        (SpotStep, lambda: _spotted(card, step, strategy, rng)),
        (NameStep, lambda: _named(taken.get(step.capture), step, rng)),
        (WorkOutStep, WorkedOut),
        (ConnectStep, Connected),
        (SetUpStep, Settings),
        (RecordStep, RecordedRows),
        (ExplainStep, Explained),
        (CallStep, lambda: _called(card, taken.get(step.capture), step, strategy, rng)),
    )
    return next(make for kind, make in answers if isinstance(step, kind))()


def _drawn(rng: np.random.Generator, choices: Sequence[Any]) -> Any:
    return choices[int(rng.integers(len(choices)))]


def _read(
    card: Card,
    taken: Mapping[str, Taken],
    step: Step[Any],
    strategy: Strategy,
    rng: np.random.Generator,
    around: Around,
) -> Read:
    """A value by heart; one nobody knows by heart is said not to be there. Drawn: up to twice that, anywhere."""
    assert isinstance(step, ReadingStep)
    value = typical_values(card).get(step.reading)
    held = taken.get(step.capture)
    pegs: tuple[float, ...] = ()
    if strategy.pegged and held is not None:
        pegs = (held.measured.first_phase_s + 0.5 * held.measured.duration_s,)
    if strategy.extremes:
        lane = around.extremes.get(step.spec.lane or card.circuit_of(step).lanes[0].name)
        return Read(lane[1], pegs=pegs) if lane is not None else Read(absent=True)
    if strategy.random and not strategy.typical:
        return Read(float(rng.uniform(0, 2 * (value or 1.0))))
    return Read(value, pegs=pegs) if strategy.typical and value is not None else Read(absent=True)


LIKE: Mapping[State, Likeness] = {"inside": "alike", "marginal": "lower", "outside": "higher"}


def _compared(step: Step[Any], strategy: Strategy, rng: np.random.Generator) -> Compared:
    assert isinstance(step, CompareStep)
    if strategy.state is None:
        return Compared(_drawn(rng, step.choices))
    return Compared(strategy.state if step.against == "limit" else LIKE[strategy.state])


def _spotted(card: Card, step: Step[Any], strategy: Strategy, rng: np.random.Generator) -> Spotted:
    assert isinstance(step, SpotStep)
    if not strategy.random:
        return Spotted(absent=True)
    if step.among == LANE:
        return Spotted(_drawn(rng, [lane.name for lane in card.circuit_of(step).lanes]))
    return Spotted(int(rng.integers(1, 5)))


def _named(taken: Taken | None, step: Step[Any], rng: np.random.Generator) -> Named:
    """Each name somewhere in the record."""
    assert isinstance(step, NameStep)
    if taken is None:
        return Named()
    begin = taken.measured.first_phase_s
    return Named({name: (begin + float(rng.uniform(0, taken.measured.duration_s)),) for name in step.names})


def _called(card: Card, taken: Taken | None, step: Step[Any], strategy: Strategy, rng: np.random.Generator) -> Called:
    circuit = card.circuit_of(step)
    verdict = strategy.verdict or _drawn(rng, ("sound", "faulty", "inconclusive"))
    causes = [c.key for c in circuit.causes]
    tests = [t.key for t in circuit.next_tests]
    cause, test = {
        "sound": (NO_CAUSE, NO_TEST),
        "inconclusive": (NOT_SHOWN, CONDITION),
        "faulty": (causes[1], next(t.key for t in circuit.next_tests if t.renews)),
    }[verdict]
    if strategy.verdict is None:
        cause, test = _drawn(rng, causes), _drawn(rng, tests)
    evidence = _pieces(taken.measured if taken is not None else None, strategy, rng)
    drawn = rng.permutation([c for c in causes if c not in NO_PART])[:2]
    ruled_out = tuple(Excluded(str(c), evidence[0] if evidence else None) for c in drawn)
    return Called(verdict, cause, test, evidence, strategy.sure, ruled_out=ruled_out)


def _pieces(measured: Answer | None, strategy: Strategy, rng: np.random.Generator) -> tuple[Piece, ...]:
    """The whole record, nearly half of it, or three stretches of a twentieth of it anywhere."""
    if measured is None:
        return ()
    begin = measured.first_phase_s
    if strategy.half:
        return (Piece(begin + 0.01 * measured.duration_s, begin + 0.49 * measured.duration_s),)
    if not strategy.random:
        return (Piece(begin, begin + measured.duration_s),)
    at = begin + rng.uniform(0, 0.95, 3) * measured.duration_s
    return tuple(Piece(float(a), float(a) + 0.05 * measured.duration_s) for a in at)
