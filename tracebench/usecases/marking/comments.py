"""What an instructor pins to the trace of a sitting for its learner to read."""

from __future__ import annotations

from datetime import datetime
from typing import cast

from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.marking import grading
from tracebench.usecases.marking.values import Comment, MarkSheet
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.sitting.rows import Sitting

MOST = 30


def of_sitting(conn: Connection, sitting_id: int) -> list[Comment]:
    """In the order of the trace."""
    return [cast(Comment, row) for row in queries.sittings.comments(conn, sitting_id=sitting_id)]


def pin(
    conn: Connection, person: Person, sitting_id: int, from_s: float, to_s: float, words: str, at: datetime
) -> MarkSheet:
    """Pin words to a stretch or an instant of the trace, until the marks are released. Raises BadOption, Conflict."""
    sitting = _unreleased(conn, person, sitting_id)
    if sitting.capture_id is None:
        raise Conflict("there is no trace to pin a comment to; say it with a mark")
    if not words.strip():
        raise BadOption("say what is to be seen there")
    if to_s < from_s:
        from_s, to_s = to_s, from_s
    if len(of_sitting(conn, sitting_id)) >= MOST:
        raise Conflict(f"a trace takes up to {MOST} comments; take one away first")
    kept = words.strip()[:1000]
    queries.sittings.add_comment(
        conn, sitting_id=sitting_id, author_id=person.id, from_s=from_s, to_s=to_s, words=kept, at=at
    )
    trail.write(conn, person, "mark.comment", ("sitting", sitting_id), grading.named(sitting), at, why=kept)
    return grading.sheet(conn, person, sitting_id)


def take_away(conn: Connection, person: Person, sitting_id: int, comment_id: int, at: datetime) -> MarkSheet:
    """Take a comment away, until the marks are released."""
    sitting = _unreleased(conn, person, sitting_id)
    gone = next((c for c in of_sitting(conn, sitting_id) if c["id"] == comment_id), None)
    if gone is None:
        raise NotFound("there is no such comment on this trace")
    queries.sittings.take_comment_away(conn, sitting_id=sitting_id, comment_id=comment_id)
    named, why = grading.named(sitting), gone["words"]
    trail.write(conn, person, "mark.comment_away", ("sitting", sitting_id), named, at, why=why)
    return grading.sheet(conn, person, sitting_id)


def _unreleased(conn: Connection, person: Person, sitting_id: int) -> Sitting:
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    sitting = grading.in_reach(conn, person, sitting_id)
    if sitting.state != "handed_in":
        raise Conflict("comments are pinned between hand-in and release; take the release back first")
    return sitting
