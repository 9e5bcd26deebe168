"""A second instructor's look at a reference before it is published, where its course wants one."""

from __future__ import annotations

from datetime import datetime

from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotAllowed
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf.values import Reference, Review


def of(conn: Connection, reference: Reference) -> Review | None:
    """Whether a reference as it stands waits for a second look, and what was said; None where none is wanted."""
    if not queries.shelf.wants_review(conn, reference_id=reference["id"]):
        return None
    said = queries.shelf.last_review(conn, reference_id=reference["id"], revision=reference["revision"])
    if said is None:
        return {"by": None, "fine": None, "note": None, "at": None}
    return {"by": said["by"], "fine": said["fine"], "note": said["note"], "at": said["at"]}


def say(
    conn: Connection, person: Person, reference: Reference, revision: int, fine: bool, note: str, at: datetime
) -> None:
    """A second instructor's word. Raises NotAllowed for its author, Conflict where it was changed meanwhile."""
    if not queries.shelf.wants_review(conn, reference_id=reference["id"]):
        raise BadOption("no second look is wanted here: the reference is of no course that asks for one")
    if reference["author_id"] == person.id:
        raise NotAllowed("this reference is your own: another instructor of the course looks at it")
    if reference["revision"] != revision:
        raise Conflict("this reference was changed since you opened it; look at it as it is now")
    if not fine and not note.strip():
        raise BadOption("say what is to be put right")
    queries.shelf.review(
        conn,
        reference_id=reference["id"],
        revision=revision,
        reviewer_id=person.id,
        fine=fine,
        note=note.strip()[:1000],
        at=at,
    )
    action, about = ("reference.reviewed" if fine else "reference.sent_back"), ("reference", reference["id"])
    trail.write(conn, person, action, about, reference["title"], at, why=note.strip()[:1000])


def must_be_reviewed(conn: Connection, person: Person, reference: Reference) -> None:
    """Raises Conflict unless somebody other than who publishes it found this very revision fine, or no one need."""
    if not queries.shelf.wants_review(conn, reference_id=reference["id"]):
        return
    said = queries.shelf.last_review(conn, reference_id=reference["id"], revision=reference["revision"])
    if said is None or not said["fine"] or said["reviewer_id"] == person.id:
        raise Conflict("this course wants a second instructor to look at it first: nobody else has found it fine yet")
