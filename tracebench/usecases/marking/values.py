"""What the marking desk keeps and gives: marks as they stand, runs of the tool, and sheets."""

from __future__ import annotations

from datetime import datetime
from typing import TypedDict

from tracebench.core.answer_rows import AnswerRow, Span
from tracebench.core.grading.result import ResultRow, Sum
from tracebench.usecases.shelf.values import Beneath
from tracebench.usecases.sitting.records import RecordShown
from tracebench.usecases.sitting.rows import SittingHead


class Comment(Span):
    """Words that an instructor pinned to a stretch of the trace."""

    id: int
    words: str
    author: str


class LikenessRow(TypedDict):
    """What a sitting has in common with another, with the shelf or with what the trainer gave somebody."""

    kind: str
    about: str
    sitting_id: int | None
    learner: str | None
    reference_id: int | None
    reference: str | None
    capture_id: int | None
    given_to: str | None


class Changed(TypedDict):
    """Why an instructor gave other points, who and when."""

    reason: str
    author: str
    at: datetime


class ChangeRow(Changed):
    sitting_id: int
    criterion: str
    earned: float


class SettledRow(ResultRow):
    """A criterion with the points that stand: the tool's own, or those of the latest change."""

    settled: float
    changed: Changed | None


class Settled(Sum):
    """A grade with an instructor's changes laid over it."""

    engine: str
    results: list[SettledRow]
    trace: Sum
    around: Sum
    certainty: float


class GradeRun(TypedDict):
    """The newest run of a sitting: `measured` is the core's answer as it was kept then."""

    engine: str
    measured: AnswerRow | None
    grade: Settled


class SecondMark(TypedDict):
    """Who marks a sitting a second time, and their marks by criterion once they are given."""

    marker: str
    asked_at: datetime
    done_at: datetime | None
    words: str
    marks: dict[str, float] | None


class MarkSheet(SittingHead, Beneath):
    """One sitting on the marking desk: answers, what was measured, criteria, the reference."""

    learner_id: int
    learner: str
    course_id: int
    answers: dict[str, dict[str, object]]
    card: dict[str, object]
    engine: str
    grade: Settled
    measured: AnswerRow | None
    records: list[RecordShown]
    likenesses: list[LikenessRow]
    comments: list[Comment]
    second: SecondMark | None
