"""What a circuit declares: lanes, phases, readings, limits, findings, cautions, schools. Facts only."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal

from tracebench.core.answer import Event, Finding, Limit, Missing, Phase, Reading
from tracebench.core.answer_rows import Kind
from tracebench.core.capture import Capture
from tracebench.core.circuits.hands import COUNT, HANDS, Hand, How

if TYPE_CHECKING:
    from tracebench.core.circuits.work import Work

Role = Literal["signal", "current", "supply", "ground", "sync", "scan"]
"""What a lane is for; the interface draws by role, never by channel number."""


@dataclass(frozen=True, slots=True)
class Exam:
    """What is looked at on a lane of every record before and after the circuit's own measuring; figures in its unit.

    All are common practice, no published source, but for the ten samples across a feature.
    """

    upright: bool = False
    """Never below zero when it works: one that lies there throughout is read inverted."""
    size: tuple[float, float] | None = None
    """What its magnitude reaches when it works: a power of ten outside is a factor, and read corrected."""
    steady: bool = False
    """Its size is that of a level; else of a movement, and a lane that does not move has no size."""
    repeats: int = 0
    """So often it rises through its middle before it is far too small by a factor: of what can lie low by itself."""
    feature: tuple[str, float] | None = None
    """The shortest thing that must be seen on it, in words, and its seconds: ten samples must lie across it."""
    clip_s: float | None = None
    """How long it may rest on its extreme value before that is the end of the range."""
    code: float | None = None
    """A code of the recorder so coarse that it hides the answer, where the swing covers few."""
    noise: float | None = None
    """Noise from sample to sample (sigma) from which nothing on the lane condemns a part: about half of what makes a
    fault of a sound one (by simulation, `tests.core.circuits.test_noise_condemns_nothing`)."""
    hum: tuple[float, float] | None = None
    """Amplitudes of mains hum from which it is told and taken off, and from which it hides the answer all the same: of
    a lane that moves slowly (from memory)."""


@dataclass(frozen=True, slots=True)
class LaneSpec:
    """A lane of a circuit. `plausible` is the span that a sound or faulty circuit can reach, in `unit`."""

    name: str
    title: str
    role: Role
    unit: str
    required: bool
    plausible: tuple[float, float]
    exam: Exam = Exam()


@dataclass(frozen=True, slots=True)
class Exchange:
    """Two lanes whose levels lie apart: each in the other's reach and not in its own, they are read exchanged."""

    one: str
    other: str
    reach_one: tuple[float, float]
    reach_other: tuple[float, float]


@dataclass(frozen=True, slots=True)
class PhaseSpec:
    """A phase. One that is required has what to capture where it does not occur, in words."""

    name: str
    required: bool
    otherwise: str = ""

    def __post_init__(self) -> None:
        if self.required and not self.otherwise:
            raise ValueError(f"the required phase {self.name} must say what to capture where it is missing")


@dataclass(frozen=True, slots=True)
class Mistaken:
    """A true figure of the trace taken in the wrong way: `times` the reading and the readings in `plus`, together, less
    those in `less`.
    """

    text: str
    times: float = 1.0
    plus: tuple[str, ...] = ()
    less: tuple[str, ...] = ()


LEVELS_10_90 = (
    Mistaken("measured from end to end, not between 10 and 90 %", 1.25),
    Mistaken("measured between 20 and 80 %, not between 10 and 90 %", 0.75),
)
"""A straight transition over other reference levels than those of IEEE Std 181-2011."""


@dataclass(frozen=True, slots=True)
class ReadingSpec:
    """A reading: what it is called, how it is defined and read, how many decimals people see, and in which phase.

    `farthest` marks a summary that is the largest, slowest or deepest of its sweeps or events, so that another one's
    value is not it. `warm` marks one whose limit is for a warm engine.
    """

    id: str
    title: str
    unit: str
    definition: str
    decimals: int
    phase: str | None = None
    school: bool = False
    lane: str = "signal"
    how: How = "level"
    own_hand: Hand | None = None
    farthest: bool = False
    warm: bool = False
    mistaken: tuple[Mistaken, ...] = ()
    seen_in: str | None = None
    """The phase it needs, where that is not the one that a peg for it stands in."""

    @property
    def counted(self) -> bool:
        return self.id.endswith("_count") or self.id in ("teeth_per_rev", "gap_teeth", "polarity")

    @property
    def hand(self) -> Hand:
        """What a hand reads it by; a KeyError means that the unit has no entry in `HANDS`."""
        return self.own_hand or (COUNT if self.counted else HANDS[self.unit, self.how])

    @property
    def half_digit(self) -> float:
        """Half of the last digit that is shown of it."""
        return float(0.5 * 10.0**-self.decimals)

    @property
    def taken(self) -> str:
        """How it is taken, in words, for people who read it."""
        ways = {
            "level": "one peg on the level, or two about it",
            "difference": "two pegs, one at either value",
            "span": "two pegs, one at either end",
            "number": "counted or worked out, then typed",
        }
        hand = self.hand
        least = max(hand.least, self.half_digit)
        allowed = f"{least:g} {self.unit}".strip()
        share = f" or {100 * hand.share:g} %, the larger" if hand.share else ""
        exact = "exactly" if self.counted else f"within {allowed}{share}"
        return f"{ways[self.how]}; right {exact}"


@dataclass(frozen=True, slots=True)
class FindingSpec:
    """A finding: what people call it, the cause it speaks for and the next tests that follow from it."""

    code: str
    title: str
    kind: Kind
    cause: str = ""
    next_tests: tuple[str, ...] = ()
    """In rank: the first is what one would do first."""
    as_first: tuple[str, ...] = ()
    """Next tests that are as good as the first in rank."""
    also: tuple[str, ...] = ()
    """Further causes that it speaks for."""
    shows: tuple[str, ...] = ()
    """Where it shows besides its own stretch: phases by name, `events` (its cylinder's, or all), or `record`."""
    faked_by: tuple[str, ...] = ()
    """Set-up findings that make a sound part look like this: where one hides the answer, the fault is only noted."""
    stills: bool = False
    """The lane tells nothing else while it lasts, so that neither phases nor a coarse range are missed."""
    at_rail: bool = False
    """It shows by lying dead at the end of what the wire can have, or by how it gets there: also where a range ends."""


@dataclass(frozen=True, slots=True)
class LimitFinding:
    """A reading outside its deciding limit on one side is this finding; `text` may use {value} and {limit}."""

    reading: str
    side: Literal["low", "high"]
    code: str
    text: str
    slowed: bool = False
    """A low-pass filter does this as well: where the lane has no noise at all, the filter is found and no fault."""

    def __post_init__(self) -> None:
        if "{value}" not in self.text:
            raise ValueError(f"{self.code} of {self.reading}: its text must tell the {{value}}")


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
    """One selectable statement: a cause, a next test, a caution or a school.

    Of next tests, `wires` proves supply, reference, ground or signal wire, and `renews` changes the part. Of causes,
    `shared` is a supply, reference or ground that others hang on, and `controller` blames the controller.
    """

    key: str
    text: str
    wires: bool = False
    renews: bool = False
    shared: bool = False
    controller: bool = False


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
    beside: Mapping[str, Measured] = field(default_factory=dict)
    """Lanes beside the first that are judged by the same limits and findings, each as measured by itself."""
    shown: tuple[str, ...] = ()
    """Conditions that the circuit's own code found, beside those that phases and readings tell."""


@dataclass(frozen=True, slots=True)
class Proof:
    """What one would point at to show a sound part: one whole phase of those named, or so many whole events in a row,
    or turns, or a stretch of the steady signal. Never the whole record.
    """

    phases: tuple[str, ...] = ()
    events: int = 0
    turns: float = 0.0
    steady_s: float = 0.0


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
    proof: Proof
    measure: Callable[[Work], Work]
    """What is peculiar to it: fills the work that it is given, and answers it."""
    shortest_s: float = 0.0
    """A record shorter than this cannot hold the manoeuvre or the events that the circuit needs."""
    opens_on_s: float | None = None
    """How much of its beginning a record is opened on, where its events are far shorter than it; None: the whole."""
    exchanged: tuple[Exchange, ...] = ()
    under_load: tuple[str, ...] = ()
    """Phases of which one at least is needed beside those that are required: rest alone shows nothing."""
    first_asked: tuple[str, ...] = ()
    """Readings that a new card begins with; none given: its first four that pegs can give."""

    def main_lane(self, recorded: Iterable[str]) -> str:
        """Of the lanes recorded the one that shows the circuit in miniature: its first signal or current."""
        there = [lane for lane in self.lanes if lane.name in set(recorded)]
        return next((lane for lane in there if lane.role in ("signal", "current")), there[0]).name

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
