"""What the measuring core answers: phases, readings, limits, findings and the call.

The shape is the same in the command line, the API and the screens; `Answer.as_json` is the only
place that spells it out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from tracebench.core.answer_rows import (
    AnswerRow,
    Basis,
    Call,
    EventRow,
    FindingRow,
    JudgedLimitRow,
    Kind,
    LaneRow,
    LimitRow,
    MissingRow,
    PhaseRow,
    ReadingRow,
    State,
)

MARGINAL_FRACTION = 0.05
"""Width of the marginal zone as a part of the limit's span, or of a one-sided limit's value."""

MOST_PLACES = 120
"""A finding lists so many of its places at the most; `count` tells how many there are."""

BASES: tuple[Basis, ...] = ("maker", "own-fleet", "common-practice")
"""Ranking of what a limit rests on, highest first."""


CONDITION_TITLES = {
    "key_on": "Key on, engine off",
    "cranking": "Cranking",
    "idle": "Idling",
    "load": "Under load",
    "snap": "In a snap of the throttle",
    "overrun": "In the overrun",
    "cold": "Cold",
    "warm": "Warm",
    "hot": "Hot",
    "moved": "When wires or parts are moved",
    "turning": "When turning",
    "minutes": "After some minutes",
    "altitude": "At altitude",
}
"""States of engine, part and record that a complaint may need, a limit may hold under and a capture may show."""


@dataclass(frozen=True, slots=True)
class Phase:
    """A named stretch of the record, seconds on the file's axis; `cycle` counts sweeps from 1."""

    name: str
    from_s: float
    to_s: float
    cycle: int | None = None

    def as_json(self) -> PhaseRow:
        return {"name": self.name, "from": self.from_s, "to": self.to_s, "cycle": self.cycle}


@dataclass(frozen=True, slots=True)
class Reading:
    """A measured quantity: `uncertainty` is one standard uncertainty (JCGM 100) in `unit`."""

    id: str
    value: float
    unit: str
    uncertainty: float
    from_s: float
    to_s: float
    lane: str | None = None
    cylinder: int | None = None
    cycle: int | None = None

    def as_json(self) -> ReadingRow:
        return {
            "id": self.id,
            "value": self.value,
            "unit": self.unit,
            "uncertainty": self.uncertainty,
            "from": self.from_s,
            "to": self.to_s,
            "lane": self.lane,
            "cylinder": self.cylinder,
            "cycle": self.cycle,
        }

    @classmethod
    def from_json(cls, row: Mapping[str, Any]) -> Reading:
        """A reading as `as_json` gave it."""
        place = row["lane"], row["cylinder"], row["cycle"]
        return cls(row["id"], row["value"], row["unit"], row["uncertainty"], row["from"], row["to"], *place)


@dataclass(frozen=True, slots=True)
class Limit:
    """What a reading should be. An open side is None; `marginal` is the zone's width in the reading's unit.

    `condemns` is False for limits on the capture or the hand (noise, sweep time): they never call a part faulty.
    `source` says where the figure stands: a data sheet, a page, a fleet's record. `when` names the condition that it
    holds under; a capture that did not show that is not held against it.
    """

    reading: str
    low: float | None
    high: float | None
    basis: Basis = "common-practice"
    marginal: float | None = None
    condemns: bool = True
    source: str = ""
    when: str = ""

    @property
    def zone(self) -> float:
        """How far the marginal zone in force reaches outward, in the reading's unit."""
        if self.marginal is not None:
            return self.marginal
        if self.low is not None and self.high is not None:
            return MARGINAL_FRACTION * (self.high - self.low)
        side = self.low if self.low is not None else self.high
        return MARGINAL_FRACTION * abs(side or 0.0)

    def as_json(self) -> LimitRow:
        """All of it, as cards and references keep it."""
        row: LimitRow = {
            "reading": self.reading,
            "low": self.low,
            "high": self.high,
            "basis": self.basis,
            "marginal": self.marginal,
            "condemns": self.condemns,
            "source": self.source,
        }
        if self.when:
            row["when"] = self.when
        return row


@dataclass(frozen=True, slots=True)
class JudgedLimit:
    """A limit held against its reading; `decides` marks the highest-ranking one of that reading.

    `off_by`, in the reading's unit, is what the recorder may have it off by, where that alone makes it marginal.
    """

    limit: Limit
    state: State
    decides: bool
    off_by: float = 0.0

    def as_json(self) -> JudgedLimitRow:
        said = f"marginal because the scope may be off by {self.off_by:.3g}" if self.off_by else ""
        return {
            **self.limit.as_json(),
            "zone": self.limit.zone,
            "state": self.state,
            "decides": self.decides,
            "says": said,
        }


@dataclass(frozen=True, slots=True)
class Finding:
    """Something the core noticed, with the stretch of trace that shows it.

    `hides` marks a set-up finding that hides the answer, so that a clean rest is not proof of a sound part.
    `places` are all stretches where it shows (each pulse, turn, sweep), the most telling first; none given: its own.
    """

    code: str
    kind: Kind
    from_s: float
    to_s: float
    text: str
    lane: str | None = None
    cylinder: int | None = None
    value: float | None = None
    unit: str | None = None
    hides: bool = False
    places: tuple[tuple[float, float], ...] = ()

    @property
    def shows_in(self) -> tuple[tuple[float, float], ...]:
        """Every stretch where it shows, at least its own."""
        return self.places or ((self.from_s, self.to_s),)

    def as_json(self) -> FindingRow:
        return {
            "places": [list(place) for place in self.shows_in[:MOST_PLACES]],
            "count": len(self.shows_in),
            "hides": self.hides,
            "code": self.code,
            "kind": self.kind,
            "lane": self.lane,
            "from": self.from_s,
            "to": self.to_s,
            "cylinder": self.cylinder,
            "value": self.value,
            "unit": self.unit,
            "text": self.text,
        }


@dataclass(frozen=True, slots=True)
class Event:
    """One firing or pulse of a record: its number from 1, its stretch, its cylinder if known.

    `unusual` says by how many spreads it stands out of its kind, in the reading `by`.
    """

    number: int
    from_s: float
    to_s: float
    cylinder: int | None
    unusual: float
    by: str

    def as_json(self) -> EventRow:
        return {
            "number": self.number,
            "from": self.from_s,
            "to": self.to_s,
            "cylinder": self.cylinder,
            "unusual": self.unusual,
            "by": self.by,
        }


@dataclass(frozen=True, slots=True)
class Missing:
    """A reading that this capture cannot give, and why."""

    reading: str
    why: str

    def as_json(self) -> MissingRow:
        return {"reading": self.reading, "why": self.why}


@dataclass(frozen=True, slots=True)
class LaneInfo:
    lane: str
    unit: str
    column: str
    factor: float

    def as_json(self) -> LaneRow:
        return {"lane": self.lane, "unit": self.unit, "column": self.column, "factor": self.factor}


@dataclass(frozen=True, slots=True)
class Answer:
    """Everything the core says about one capture of one circuit."""

    circuit: str
    engine: str
    samples: int
    rate_hz: float
    duration_s: float
    lanes: tuple[LaneInfo, ...]
    phases: tuple[Phase, ...]
    readings: tuple[Reading, ...]
    limits: tuple[JudgedLimit, ...]
    findings: tuple[Finding, ...]
    call: Call
    because: tuple[str, ...]
    missing: tuple[Missing, ...] = field(default=())
    events: tuple[Event, ...] = field(default=())
    """Events of circuits that have them, in order of time; beside the contract's shape, for pictures of them."""
    shown: tuple[str, ...] = field(default=())
    """Conditions that the capture showed, found or told."""

    def reading(self, reading_id: str, cycle: int | None = None, cylinder: int | None = None) -> Reading | None:
        """The reading of that id and cycle or cylinder (None for the summary), or None."""
        return next((r for r in self.readings if (r.id, r.cycle, r.cylinder) == (reading_id, cycle, cylinder)), None)

    def deciding_limit(self, reading_id: str) -> JudgedLimit | None:
        return next((j for j in self.limits if j.limit.reading == reading_id and j.decides), None)

    def findings_of(self, kind: Kind) -> Sequence[Finding]:
        return [f for f in self.findings if f.kind == kind]

    @property
    def first_phase_s(self) -> float:
        """Where the first phase begins, in seconds on the file's axis; 0 where no phase was found."""
        return min((p.from_s for p in self.phases), default=0.0)

    def as_json(self) -> AnswerRow:
        return {
            "circuit": self.circuit,
            "engine": self.engine,
            "capture": {
                "samples": self.samples,
                "rate_hz": self.rate_hz,
                "duration_s": self.duration_s,
                "lanes": [lane.as_json() for lane in self.lanes],
            },
            "phases": [p.as_json() for p in self.phases],
            "readings": [r.as_json() for r in self.readings],
            "limits": [j.as_json() for j in self.limits],
            "findings": [f.as_json() for f in self.findings],
            "call": self.call,
            "because": list(self.because),
            "shown": list(self.shown),
            "missing": [m.as_json() for m in self.missing],
        }
