"""What a circuit declares: lanes, phases, readings, limits, findings, cautions, schools. Facts only."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from tracebench.core.answer import Event, Finding, Kind, Limit, Missing, Phase, Reading
from tracebench.core.capture import Capture

Role = Literal["signal", "current", "supply", "ground", "sync", "scan"]
"""What a lane is for; the interface draws by role, never by channel number."""


How = Literal["level", "difference", "span", "number"]
"""How pegs give a reading: the level at or between them, their difference in value or in time, or typed."""


@dataclass(frozen=True, slots=True)
class LaneSpec:
    """A lane of a circuit. `plausible` is the span that a sound or faulty circuit can reach, in `unit`."""

    name: str
    title: str
    role: Role
    unit: str
    required: bool
    plausible: tuple[float, float]


@dataclass(frozen=True, slots=True)
class PhaseSpec:
    name: str
    required: bool


@dataclass(frozen=True, slots=True)
class ReadingSpec:
    """A reading: what it is called, how it is defined and read, how many decimals people see, and in which phase."""

    id: str
    title: str
    unit: str
    definition: str
    decimals: int
    phase: str | None = None
    school: bool = False
    lane: str = "signal"
    how: How = "level"


@dataclass(frozen=True, slots=True)
class FindingSpec:
    """A finding: what people call it, the cause it speaks for and the next tests that follow from it."""

    code: str
    title: str
    kind: Kind
    cause: str = ""
    next_tests: tuple[str, ...] = ()
    faked_by: tuple[str, ...] = ()
    """Set-up findings that make a sound part look like this: where one hides the answer, the fault is only noted."""


@dataclass(frozen=True, slots=True)
class LimitFinding:
    """A reading outside its deciding limit on one side is this finding; `text` may use {value} and {limit}."""

    reading: str
    side: Literal["low", "high"]
    code: str
    text: str
    slowed: bool = False
    """A low-pass filter does this as well: where the lane has no noise at all, the filter is found and no fault."""


@dataclass(frozen=True, slots=True)
class OptionSpec:
    """A setting of the measurement. `choices` None means a number, or words where it says `text`."""

    key: str
    title: str
    default: str
    choices: tuple[str, ...] | None = None
    text: bool = False


@dataclass(frozen=True, slots=True)
class Choice:
    """One selectable statement: a cause, a next test, a caution or a school."""

    key: str
    text: str


COMMON_CAUSES = (
    Choice("connection", "The probe or clip: the capture, not the part"),
    Choice("not-shown", "The manoeuvre or condition needed does not appear in this capture"),
)
NO_CAUSE = Choice("none", "Nothing wrong in this capture")
COMMON_NEXT_TESTS = (
    Choice("recapture-manoeuvre", "Capture again with the whole manoeuvre, long enough and fast enough sampled"),
    Choice("recapture-secure", "Secure the probe, check range and factor, and capture again"),
    Choice("recapture-condition", "Capture again hot, under load or for longer, until the complaint shows"),
    Choice("look-up", "Look the maker's figure up before deciding"),
)
NO_TEST = Choice("none", "No further test: record and close")


@dataclass(frozen=True, slots=True)
class Told:
    """What the user says about the capture: engine states or movements, and option values by key."""

    phases: Sequence[Phase]
    options: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Measured:
    """What a circuit's own code returns; the limits and the call are added outside."""

    capture: Capture
    phases: tuple[Phase, ...]
    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]
    missing: tuple[Missing, ...]
    limits: tuple[Limit, ...] = ()
    """Common-practice limits that depend on the capture: a type told, a key state, the day's barometer."""
    events: tuple[Event, ...] = ()


@dataclass(frozen=True, slots=True)
class Circuit:
    code: str
    title: str
    lanes: tuple[LaneSpec, ...]
    phases: tuple[PhaseSpec, ...]
    readings: tuple[ReadingSpec, ...]
    limits: tuple[Limit, ...]
    findings: tuple[FindingSpec, ...]
    limit_findings: tuple[LimitFinding, ...]
    options: tuple[OptionSpec, ...]
    cautions: tuple[Choice, ...]
    causes: tuple[Choice, ...]
    next_tests: tuple[Choice, ...]
    setup_advice: tuple[str, ...]
    proof_phases: tuple[str, ...]
    """Phases whose whole course shows a part to be sound; evidence for `sound` covers one. None given: any stretch."""
    measure: Callable[[Capture, Told], Measured]
    shortest_s: float = 0.0
    """A record shorter than this cannot hold the manoeuvre or the events that the circuit needs."""
    opens_on_s: float | None = None
    """How much of its beginning a record is opened on, where its events are far shorter than it; None: the whole."""
    first_asked: tuple[str, ...] = ()
    """Readings that a new card begins with; none given: its first four that pegs can give."""

    @property
    def asked(self) -> tuple[str, ...]:
        by_pegs = tuple(r.id for r in self.readings if r.how in ("level", "span"))
        return self.first_asked or by_pegs[:4]

    def lane(self, name: str) -> LaneSpec:
        return next(lane for lane in self.lanes if lane.name == name)

    def reading(self, reading_id: str) -> ReadingSpec | None:
        return next((r for r in self.readings if r.id == reading_id), None)

    def finding(self, code: str) -> FindingSpec | None:
        return next((f for f in self.findings if f.code == code), None)

    @property
    def reading_ids(self) -> tuple[str, ...]:
        return tuple(r.id for r in self.readings)
