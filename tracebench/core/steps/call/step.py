"""The step that asks for the call: verdict, cause, evidence on the strip, next test and confidence."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Self, cast

from tracebench.core import json_fields
from tracebench.core.answer_rows import Call
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.steps.reading.step import stretch

VERDICTS: tuple[Call, ...] = ("sound", "faulty", "inconclusive")

MOST_PIECES = 3
"""Pieces of evidence that count."""

MOST_KEPT = 10

CONNECTION, NOT_SHOWN, NONE = "connection", "not-shown", "none"
NO_PART = (CONNECTION, NOT_SHOWN, NONE)
"""Causes that are no part of the vehicle."""


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch of trace, or one instant of it, that the learner chose as evidence, seconds."""

    from_s: float
    to_s: float

    @property
    def length(self) -> float:
        return self.to_s - self.from_s


@dataclass(frozen=True, slots=True)
class Excluded:
    """A cause that the learner rules out; `by` is the stretch that shows it, None where none was chosen."""

    cause: str
    by: Piece | None


ASKS = ("ruled_out", "otherwise")
"""What a card may ask for beside the call: what is ruled out by what, and what if the next test does not cure it."""

MOST_EXCLUDED = 6


@dataclass(frozen=True, slots=True)
class Called(Given):
    verdict: Call | None = None
    cause: str | None = None
    next_test: str | None = None
    evidence: tuple[Piece, ...] = ()
    confidence: float | None = None
    words: str = ""
    ruled_out: tuple[Excluded, ...] = ()
    otherwise: str | None = None

    def as_json(self) -> dict[str, object]:
        chosen = {
            "verdict": self.verdict,
            "cause": self.cause,
            "next_test": self.next_test,
            "confidence": self.confidence,
        }
        ruled_out = [{"cause": x.cause, "by": [] if x.by is None else _pegs(x.by)} for x in self.ruled_out]
        return {
            **{k: v for k, v in chosen.items() if v is not None},
            "evidence": [_pegs(p) for p in self.evidence],
            "words": self.words,
            **({"ruled_out": ruled_out} if ruled_out else {}),
            **({"otherwise": self.otherwise} if self.otherwise else {}),
        }


def _pegs(piece: Piece) -> list[float]:
    """An instant is kept as one peg, a stretch as two."""
    return [piece.from_s] if piece.length == 0 else [piece.from_s, piece.to_s]


@dataclass(frozen=True, slots=True)
class CallStep(Step[Called]):
    """`asks` are the keys of `ASKS` that this card wants as well."""

    kind: ClassVar[str] = "call"

    asks: tuple[str, ...] = ()

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        asks = [str(a) for a in json_fields.listed(row.get("asks"), f"{where}: asks", BadOption)]
        if not set(asks) <= set(ASKS):
            raise BadOption(f"{where}: asks: any of {', '.join(ASKS)}")
        name = step_id(cls.kind, capture)
        return cls(
            name, json_fields.text(row.get("prompt"), PROMPT_LENGTH), capture, tuple(a for a in ASKS if a in asks)
        )

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Called:
        chosen = {}
        for name, known in (
            ("verdict", tuple(VERDICTS)),
            ("cause", tuple(c.key for c in circuit.causes)),
            ("next_test", tuple(c.key for c in circuit.next_tests)),
            ("otherwise", tuple(c.key for c in circuit.next_tests)),
        ):
            value = given.get(name)
            chosen[name] = None if value is None else json_fields.one_of(value, known, f"{self.id}: {name}", BadAnswer)
        pieces = json_fields.listed(given.get("evidence"), f"{self.id}: evidence", BadAnswer)
        if len(pieces) > MOST_KEPT:
            raise BadAnswer(f"{self.id}: evidence is a list of up to ten stretches, of which the first three count")
        ends = [stretch(piece, self.id) for piece in pieces]
        sure = given.get("confidence")
        if sure is not None:
            sure = json_fields.number(sure, f"{self.id}: confidence", BadAnswer)
            if not 0 <= sure <= 100:
                raise BadAnswer(f"{self.id}: confidence lies between 0 and 100 %")
        return Called(
            cast("Call | None", chosen["verdict"]),
            chosen["cause"],
            chosen["next_test"],
            tuple(Piece(e[0], e[-1]) for e in ends),
            sure,
            json_fields.text(given.get("words"), 2000),
            self._excluded(circuit, given),
            chosen["otherwise"],
        )

    def _excluded(self, circuit: Circuit, given: json_fields.Fields) -> tuple[Excluded, ...]:
        where = f"{self.id}: ruled_out"
        parts = tuple(c.key for c in circuit.causes if c.key not in NO_PART)
        rows = [
            json_fields.fields(row, where, BadAnswer)
            for row in json_fields.listed(given.get("ruled_out"), where, BadAnswer)
        ]
        out: list[Excluded] = []
        for row in rows[:MOST_EXCLUDED]:
            ends = stretch(row["by"], where) if row.get("by") else ()
            cause = json_fields.one_of(row.get("cause"), parts, where, BadAnswer)
            out.append(Excluded(cause, Piece(ends[0], ends[-1]) if ends else None))
        return tuple(out)

    def as_json(self) -> dict[str, object]:
        return {**Step.as_json(self), **({"asks": list(self.asks)} if self.asks else {})}

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
                ("what is ruled out", bool(called.ruled_out) or not needs_evidence or "ruled_out" not in self.asks),
                ("what if that does not cure it", called.otherwise is not None or "otherwise" not in self.asks),
            )
            if not there
        ]
        return "still open: " + ", ".join(still) if still else None
