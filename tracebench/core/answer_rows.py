"""An answer as it is kept and sent: the shape that the command line prints and the API documents, field by field."""

from __future__ import annotations

from typing import Literal, NotRequired, TypedDict

Kind = Literal["fault", "set-up", "note"]
State = Literal["inside", "marginal", "outside"]
Basis = Literal["maker", "own-fleet", "common-practice"]
Call = Literal["sound", "faulty", "inconclusive"]


class Span(TypedDict("Span", {"from": float, "to": float})):
    """A stretch of the record in seconds on the file's axis."""


class PhaseRow(Span):
    name: str
    cycle: int | None


class ReadingRow(Span):
    id: str
    value: float
    unit: str
    uncertainty: float
    lane: str | None
    cylinder: int | None
    cycle: int | None


class LimitRow(TypedDict):
    """A limit as cards and references keep it."""

    reading: str
    low: float | None
    high: float | None
    basis: Basis
    marginal: float | None
    condemns: bool
    source: str
    when: NotRequired[str]


class JudgedLimitRow(LimitRow):
    zone: float
    state: State
    decides: bool
    says: str


class FindingRow(Span):
    places: list[list[float]]
    count: int
    hides: bool
    code: str
    kind: Kind
    lane: str | None
    cylinder: int | None
    value: float | None
    unit: str | None
    text: str


class EventRow(Span):
    number: int
    cylinder: int | None
    unusual: float
    by: str


class MissingRow(TypedDict):
    reading: str
    why: str


class LaneRow(TypedDict):
    lane: str
    unit: str
    column: str
    factor: float


class CaptureRow(TypedDict):
    samples: int
    rate_hz: float
    duration_s: float
    lanes: list[LaneRow]


class AnswerRow(TypedDict):
    circuit: str
    engine: str
    capture: CaptureRow
    phases: list[PhaseRow]
    readings: list[ReadingRow]
    limits: list[JudgedLimitRow]
    findings: list[FindingRow]
    call: Call
    because: list[str]
    shown: list[str]
    missing: list[MissingRow]


class AnswerWithEvents(AnswerRow):
    """An answer with its events, as it is kept beside a reference."""

    events: list[EventRow]
