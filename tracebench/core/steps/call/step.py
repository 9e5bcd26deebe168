"""The step that asks for the call: verdict, cause, evidence on the strip, next test and confidence."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self, cast

from tracebench.core import door
from tracebench.core.answer import Call
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer
from tracebench.core.steps.reading.step import stretch

VERDICTS: tuple[Call, ...] = ("sound", "faulty", "inconclusive")

MOST_PIECES = 3
"""Pieces of evidence that count."""

MOST_KEPT = 10


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch of trace, or one instant of it, that the learner chose as evidence, seconds."""

    from_s: float
    to_s: float

    @property
    def length(self) -> float:
        return self.to_s - self.from_s


@dataclass(frozen=True, slots=True)
class Called(Given):
    verdict: Call | None = None
    cause: str | None = None
    next_test: str | None = None
    evidence: tuple[Piece, ...] = ()
    confidence: float | None = None
    words: str = ""

    def as_json(self) -> dict[str, object]:
        chosen = {
            "verdict": self.verdict,
            "cause": self.cause,
            "next_test": self.next_test,
            "confidence": self.confidence,
        }
        # An instant is kept as one peg, a stretch as two.
        pieces = [[p.from_s] if p.length == 0 else [p.from_s, p.to_s] for p in self.evidence]
        return {**{k: v for k, v in chosen.items() if v is not None}, "evidence": pieces, "words": self.words}


@dataclass(frozen=True, slots=True)
class CallStep(Step[Called]):
    kind: ClassVar[str] = "call"

    @classmethod
    def parsed(cls, row: door.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        return cls(step_id(cls.kind, capture), door.text(row.get("prompt"), PROMPT_LENGTH), capture)

    def checked(self, circuit: Circuit, given: door.Fields) -> Called:
        chosen = {}
        for name, known in (
            ("verdict", tuple(VERDICTS)),
            ("cause", tuple(c.key for c in circuit.causes)),
            ("next_test", tuple(c.key for c in circuit.next_tests)),
        ):
            value = given.get(name)
            chosen[name] = None if value is None else door.one_of(value, known, f"{self.id}: {name}", BadAnswer)
        pieces = door.listed(given.get("evidence"), f"{self.id}: evidence", BadAnswer)
        if len(pieces) > MOST_KEPT:
            raise BadAnswer(f"{self.id}: evidence is a list of up to ten stretches, of which the first three count")
        ends = [stretch(piece, self.id) for piece in pieces]
        sure = given.get("confidence")
        if sure is not None:
            sure = door.number(sure, f"{self.id}: confidence", BadAnswer)
            if not 0 <= sure <= 100:
                raise BadAnswer(f"{self.id}: confidence lies between 0 and 100 %")
        return Called(
            cast("Call | None", chosen["verdict"]),
            chosen["cause"],
            chosen["next_test"],
            tuple(Piece(e[0], e[-1]) for e in ends),
            sure,
            door.text(given.get("words"), 2000),
        )

    def open(self, given: Called | None, has_capture: bool) -> str | None:
        called = given or Called()
        # Where one cannot tell because something did not happen, there is nothing to point at.
        needs_evidence = called.verdict != "inconclusive"
        still = [
            name
            for name, there in (
                ("sound, faulty or cannot tell", called.verdict is not None),
                ("cause", called.cause is not None),
                ("evidence", bool(called.evidence) or not needs_evidence),
                ("next test", called.next_test is not None),
                ("how sure", called.confidence is not None),
            )
            if not there
        ]
        return "still open: " + ", ".join(still) if still else None
