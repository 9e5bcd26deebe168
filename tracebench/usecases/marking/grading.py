"""Grade runs, changes of marks and release."""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import datetime
from typing import cast

from tracebench.core import ENGINE_VERSION
from tracebench.core.answer import Answer
from tracebench.core.cards.answers import answers_as_json
from tracebench.core.cards.documents import card_as_json
from tracebench.core.cards.step import FIRST
from tracebench.core.errors import BadOption
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.grade import grade
from tracebench.core.grading.result import Grade
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.marking import likeness, standing
from tracebench.usecases.marking.values import (
    Changed,
    ChangeRow,
    Comment,
    GradeRun,
    MarkSheet,
    SecondMark,
    Settled,
    SettledRow,
)
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import versions
from tracebench.usecases.sitting import measuring, records
from tracebench.usecases.sitting.records import RecordShown
from tracebench.usecases.sitting.rows import Sitting, sitting_of

LEAST_POINTS = 0.005
"""Points are kept to a hundredth: less apart is the same."""


def graded(sitting: Sitting, taken: Taken | None) -> Grade:
    """The grade of a sitting with its capture as measured; needs no database."""
    captures = {FIRST: taken} if taken is not None else {}
    return grade(Attempt(sitting.card, sitting.answers, captures, sitting.hints))


def keep(conn: Connection, sitting: Sitting, taken: Taken | None, result: Grade, at: datetime) -> None:
    """Keep a grade run with its engine version and inputs."""
    inputs = {
        "card_version_id": sitting.card_version_id,
        "capture_id": sitting.capture_id,
        "answers": answers_as_json(sitting.answers),
        "hints": sorted(sitting.hints),
    }
    queries.sittings.add_grade_run(
        conn,
        sitting_id=sitting.id,
        engine=ENGINE_VERSION,
        inputs=packed(inputs),
        measured=packed(taken.measured.as_json()) if taken is not None else None,
        grade=packed(result),
        at=at,
    )
    standing.keep(conn, sitting.id, settled(conn, sitting.id)["grade"])
    earned = {r["title"]: r["earned"] for r in result["results"]}
    about, title = ("sitting", sitting.id), named(sitting)
    trail.write(conn, None, "mark.work_out", about, title, at, before={}, after=earned, why=f"engine {ENGINE_VERSION}")


def named(sitting: Sitting) -> str:
    """What a sitting is called in the trail."""
    return f"{sitting.learner}: {sitting.card.title}"


def with_changes(result: Grade, changes: Sequence[ChangeRow]) -> Settled:
    """A grade with an instructor's changes laid over it; the tool's own points stay beside them."""
    latest = {c["criterion"]: c for c in changes}
    rows: list[SettledRow] = []
    for row in result["results"]:
        change = latest.get(row["criterion"])
        if change is None:
            rows.append({**row, "settled": row["earned"], "changed": None})
            continue
        why: Changed = {"reason": change["reason"], "author": change["author"], "at": change["at"]}
        rows.append({**row, "settled": change["earned"], "changed": why})
    return {**result, "results": rows, "earned": round(sum(r["settled"] for r in rows), 2)}


GRADING = "grade"
"""The kind of job that works the marks of a sitting out."""


def about_marks(sitting_id: int) -> str:
    return f"{GRADING}:{sitting_id}"


def is_graded(conn: Connection, sitting_id: int) -> bool:
    return bool(queries.sittings.has_grade(conn, sitting_id=sitting_id))


def settled(conn: Connection, sitting_id: int) -> GradeRun:
    """The newest grade run of a sitting with the changes to it."""
    changes = [cast(ChangeRow, change) for change in queries.sittings.changes(conn, sitting_id=sitting_id)]
    return _run(conn, sitting_id, changes)


def proposed(conn: Connection, sitting_id: int) -> GradeRun:
    """The newest grade run as the tool proposes it, without what anybody changed."""
    return _run(conn, sitting_id, [])


def _run(conn: Connection, sitting_id: int, changes: Sequence[ChangeRow]) -> GradeRun:
    row = queries.sittings.latest_grade(conn, sitting_id=sitting_id)
    if row is None:
        job = queue.of(conn, about_marks(sitting_id))
        if job is not None and job["state"] in ("failed", "cancelled"):
            raise Conflict(f"the marks could not be worked out: {job['problem'] or 'that was cancelled'}")
        raise Conflict("the marks of this sitting are being worked out; look again in a moment")
    run = unpacked(row, "measured", "grade")
    return {"engine": run["engine"], "measured": run["measured"], "grade": with_changes(run["grade"], changes)}


def in_reach(conn: Connection, person: Person, sitting_id: int) -> Sitting:
    """A sitting of a course that an instructor is of. Raises NotFound."""
    person.must_be("instructor")
    row = queries.sittings.by_id(conn, sitting_id=sitting_id)
    if row is None or not queries.courses.is_member(conn, course_id=row["course_id"], person_id=person.id):
        raise NotFound("there is no such sitting for you")
    second = queries.sittings.second_mark(conn, sitting_id=sitting_id)
    if second is not None and second["marker_id"] == person.id and second["done_at"] is None:
        raise Conflict("you are asked to mark this sitting a second time, unseen: what was decided opens after that")
    return sitting_of(row)


def sheet(conn: Connection, person: Person, sitting_id: int) -> MarkSheet:
    """One sitting on the marking desk: answers, what was measured, criteria, the reference."""
    sitting = in_reach(conn, person, sitting_id)
    if sitting.state == "open":
        raise Conflict("this sitting has not been handed in yet")
    run = settled(conn, sitting_id)
    return {
        **sitting.head,
        "learner_id": sitting.learner_id,
        "learner": sitting.learner,
        "course_id": sitting.course_id,
        "answers": answers_as_json(sitting.answers),
        "card": card_as_json(sitting.card),
        "engine": run["engine"],
        "grade": run["grade"],
        "measured": run["measured"],
        **versions.beside(conn, sitting.card.first.reference_version_id, run["measured"]),
        "records": records_of(conn, sitting),
        "likenesses": likeness.of_sitting(conn, sitting_id),
        "comments": [cast(Comment, row) for row in queries.sittings.comments(conn, sitting_id=sitting_id)],
        "second": _second(conn, sitting_id),
    }


def _second(conn: Connection, sitting_id: int) -> SecondMark | None:
    """Who marks a sitting a second time, and their marks once they are given."""
    row = queries.sittings.second_mark(conn, sitting_id=sitting_id)
    if row is None:
        return None
    return {
        "marker": row["marker"],
        "asked_at": row["asked_at"],
        "done_at": row["done_at"],
        "words": row["words"],
        "marks": json.loads(row["marks"]),
    }


def records_of(conn: Connection, sitting: Sitting) -> list[RecordShown]:
    """Records of a handed-in sitting, judged, with a log held against what the core finds in its capture."""
    return records.of_sitting(conn, sitting, lambda: measuring.measured(conn, sitting))


def events_of(conn: Connection, person: Person, sitting_id: int) -> tuple[Sitting, Answer]:
    """A handed-in sitting, and its capture's answer with its events, for the marking desk."""
    sitting = in_reach(conn, person, sitting_id)
    if sitting.state == "open" or sitting.capture_id is None:
        raise NotFound("this sitting has no capture to look at")
    return sitting, measuring.measured(conn, sitting)


def change(
    conn: Connection,
    person: Person,
    sitting_id: int,
    criterion: str,
    earned: float,
    reason: str,
    at: datetime,
    stood: float | None = None,
) -> MarkSheet:
    """Change one criterion's points with a reason. Raises BadOption, or Conflict once released.

    With `stood`, the points that stood there for whoever decides, a change that somebody else made meanwhile is a
    Conflict too, which says what and by whom.
    """
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    sitting = in_reach(conn, person, sitting_id)
    if sitting.state != "handed_in":
        raise Conflict("marks can be changed between hand-in and release")
    rows = settled(conn, sitting_id)["grade"]["results"]
    row = next((r for r in rows if r["criterion"] == criterion), None)
    if row is None:
        raise BadOption(f"this sitting has no criterion {criterion!r}")
    if stood is not None and abs(row["settled"] - stood) > LEAST_POINTS and row["changed"] is not None:
        by, why = row["changed"]["author"], row["changed"]["reason"]
        raise Conflict(f"{by} gave {row['settled']:g} points for this meanwhile ({why}); look again and decide")
    if not 0 <= earned <= row["points"]:
        raise BadOption(f"points for {row['title'].lower()}: 0 to {row['points']:g}")
    if not reason.strip():
        raise BadOption("say why; the learner reads it")
    queries.sittings.add_change(
        conn,
        sitting_id=sitting_id,
        criterion=criterion,
        earned=earned,
        reason=reason.strip()[:1000],
        author_id=person.id,
        at=at,
    )
    standing.keep(conn, sitting_id, settled(conn, sitting_id)["grade"])
    before, after = {row["title"]: row["settled"]}, {row["title"]: earned}
    about, why = ("sitting", sitting_id), reason.strip()
    trail.write(conn, person, "mark.change", about, named(sitting), at, before=before, after=after, why=why)
    return sheet(conn, person, sitting_id)


def fill_standings(begin: Begin, most: int = 200) -> int:
    """Keep what stands of sittings that were marked before it was kept beside them; how many there were."""
    with begin() as conn:
        rows = list(queries.sittings.without_standing(conn, most=most))
        for row in rows:
            queries.sittings.lock_by_id(conn, sitting_id=row["id"])
            standing.keep(conn, row["id"], settled(conn, row["id"])["grade"])
    return len(rows)


def mark_again(conn: Connection, person: Person, sitting_id: int, at: datetime) -> None:
    """Work the marks of a sitting out again where that failed."""
    in_reach(conn, person, sitting_id)
    queue.begin_again(conn, about_marks(sitting_id), at)


def release(conn: Connection, person: Person, sitting_id: int, at: datetime) -> MarkSheet:
    """Let the learner see marks and feedback."""
    sitting = in_reach(conn, person, sitting_id)
    if sitting.state == "handed_in":
        settled(conn, sitting_id)
    if not queries.sittings.release(conn, sitting_id=sitting_id, released_by=person.id, at=at):
        raise Conflict("only a sitting that is handed in and not yet released can be released")
    queries.sittings.answer_asked(conn, sitting_id=sitting_id, at=at)
    trail.write(conn, person, "mark.release", ("sitting", sitting_id), named(sitting), at)
    return sheet(conn, person, sitting_id)
