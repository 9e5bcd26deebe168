"""What the shelf keeps and gives: references, their documents, versions and sheets."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal, NotRequired, TypedDict

from tracebench.core.answer_rows import AnswerWithEvents, Call, LimitRow, PhaseRow, Span
from tracebench.core.circuits.events.reference import BesideRow
from tracebench.core.differences import Difference

State = Literal["draft", "published", "retired"]


class ToldPhase(Span):
    """A phase whose borders its author gave."""

    name: str


class Tag(Span):
    lane: str
    text: str


class Pair(TypedDict):
    """The reference that one is drawn together with, by the name that it has in every school."""

    uid: str
    how: str


class Document(TypedDict):
    """What an author writes on a reference."""

    phases: list[ToldPhase]
    options: dict[str, str]
    limits: list[LimitRow]
    complaint: str
    tags: list[Tag]
    provenance: dict[str, str]
    notes: str
    pair: NotRequired[Pair]


class Reference(TypedDict):
    """A reference as it is worked on; whether it was ever published, and whether who asks is of its course."""

    id: int
    author_id: int
    author: str
    capture_id: int
    circuit: str
    title: str
    state: State
    revision: int
    document: Document
    created_at: datetime
    changed_at: datetime
    reach: str
    course_id: int | None
    was_published: int
    of_course: int


class VersionHead(TypedDict):
    id: int
    version: int
    title: str
    published_at: datetime
    author: str


class Version(TypedDict):
    """A published version with its answer; it never changes."""

    id: int
    reference_id: int
    version: int
    capture_id: int
    title: str
    document: Document
    answer: AnswerWithEvents
    published_at: datetime
    circuit: str


class Paired(TypedDict):
    id: int
    title: str
    how: str
    words: str


class Review(TypedDict):
    """A second instructor's word; empty while it is waited for."""

    by: str | None
    fine: bool | None
    note: str | None
    at: datetime | None


class StepRow(TypedDict("StepRow", {"from": NotRequired[float], "to": NotRequired[float]})):
    """A step on a capture's samples, and how it is told."""

    kind: str
    lane: NotRequired[str]
    factor: NotRequired[float]
    by: NotRequired[float]
    hz: NotRequired[float]
    words: NotRequired[str]


class ReferenceSheet(Reference):
    """A reference with the core's answer, its versions, and what who asks may do with it."""

    may_change: bool
    owned: bool
    answer: AnswerWithEvents
    raw_id: int
    pair: Paired | None
    review: Review | None
    steps: list[StepRow]
    versions: list[VersionHead]


class SameSamples(TypedDict):
    id: int
    title: str
    state: State


class ShelfItem(TypedDict):
    """A reference as the shelf lists it."""

    id: int
    capture_id: int
    circuit: str
    title: str
    state: State
    changed_at: datetime
    author: str
    reach: str
    version: int | None
    version_id: int | None
    call: str | None
    because: list[str]
    provenance: dict[str, str]
    options: dict[str, str]
    tags: int
    picture: str


class ShelfPage(TypedDict):
    total: int
    items: list[ShelfItem]


class Offered(TypedDict):
    """A published version that a card may take."""

    version_id: int
    version: int
    title: str
    id: int
    circuit: str
    options: dict[str, str]


class Beneath(TypedDict):
    """What is laid beneath a learner's trace: a reference's capture, and its cylinders beside those measured."""

    beside_reference: list[BesideRow]
    reference_capture_id: int | None
    reference_title: str | None
    reference_phases: list[PhaseRow]


class VersionChanges(TypedDict):
    """What a version changed of the one before it; of none: what the draft changes."""

    version: int | None
    changes: list[Difference]


class FleetMember(TypedDict):
    id: int
    title: str
    value: float


class FleetLimits(TypedDict):
    """What a fleet says of a reading: a tolerance interval, and of whom."""

    reading: str
    low: float
    high: float
    count: int
    mean: float
    sd: float
    method: str
    coverage: float
    confidence: float
    source: str
    of: list[FleetMember]


class Compared(TypedDict):
    id: int
    title: str
    capture_id: int
    call: str
    phases: list[PhaseRow]
    shape_only: bool


class ComparedReading(TypedDict):
    reading: str
    values: list[float | None]
    matters: float


class Comparison(TypedDict):
    circuit: str
    references: list[Compared]
    rows: list[ComparedReading]


class Collection(TypedDict):
    name: str
    items: int


class LaneHead(TypedDict):
    lane: str
    unit: str
    column_name: str
    factor: float
    lowest: float
    highest: float


class CaptureHead(TypedDict):
    """A stored capture without its samples; `detail` is what is known of it beside them."""

    id: int
    owner_id: int
    circuit: str
    title: str
    origin: str
    samples: int
    interval_s: float
    start_s: float
    detail: dict[str, Any]
    created_at: datetime
    lanes: list[LaneHead]


class LaneValues(TypedDict):
    """A lane's samples at instants, and its level, least and most between the first and the last."""

    lane: str
    unit: str
    at: list[float]
    level: float
    least: float
    most: float


class Values(TypedDict):
    instants: list[float]
    lanes: list[LaneValues]


class Unused(TypedDict):
    id: int
    circuit: str
    title: str
    origin: str
    samples: int
    stored_bytes: int
    created_at: datetime


class OwnCaptures(TypedDict):
    """What one's captures take of one's share, and those that nothing holds."""

    taken_bytes: int
    share_bytes: int
    captures: list[Unused]


class LayoutColumn(TypedDict):
    position: int
    cell: str
    name: str
    unit: str
    first_values: list[str]
    is_time: bool


class LayoutShown(TypedDict):
    """How a file was understood."""

    format: str
    delimiter: str
    decimal: str
    encoding: str
    data_line: int
    header: list[str]
    columns: list[LayoutColumn]
    time_known: bool
    interval_s: float | None


class MappedColumn(TypedDict):
    position: int
    lane: str
    factor: float


class Preview(TypedDict):
    """How a file was understood, and the lanes that are proposed for its columns."""

    remembered: bool
    layout: LayoutShown
    mapping: list[MappedColumn]


class Upload(Preview):
    upload_id: int
    filename: str


class Proposed(TypedDict):
    """A circuit that a file may hold, with the share of belief and why."""

    circuit: str
    share: float
    reasons: list[str]


class ValueColumn(TypedDict):
    position: int
    name: str
    unit: str


class Looked(TypedDict):
    """What was found in a file of many."""

    format: str
    samples: int
    rate_hz: float
    duration_s: float
    columns: list[ValueColumn]
    proposals: list[Proposed]
    circuit: str
    mapping: list[MappedColumn]
    remembered: bool
    interval_s: float | None
    missing_lanes: list[str]
    call: Call
    title: str
    tags: list[Tag]
    phases: list[PhaseRow]
    readings: int
    picture: str
    same: list[SameSamples]


class InboxItem(TypedDict):
    """A file of many and how far it is."""

    id: int
    filename: str
    bytes: int
    state: str
    problem: str | None
    reference_id: int | None
    looked: Looked | None
