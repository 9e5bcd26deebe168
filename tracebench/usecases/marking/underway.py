"""Who sits a card at the moment, how far each is, and more time for one of them."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TypedDict

from tracebench.core.cards.documents import LONGEST_MIN
from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.marking import grading
from tracebench.usecases.people import courses
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.sitting import sittings
from tracebench.usecases.sitting.rows import sitting_of

MOST = 300
"""Open sittings of a course that are listed, those saved last first."""


class UnderWay(TypedDict):
    """An open sitting: `done` of `steps` are answered."""

    id: int
    learner: str
    card: str
    card_id: int
    attempt: int
    practice: bool
    started_at: datetime
    saved_at: datetime
    has_capture: bool
    done: int
    steps: int
    ends_at: datetime | None


def listed(conn: Connection, person: Person, course_id: int) -> list[UnderWay]:
    """Open sittings of a course, for its instructors, the one saved last first."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    out: list[UnderWay] = []
    for row in queries.sittings.under_way(conn, course_id=course_id, most=MOST):
        sitting = sitting_of(row)
        out.append(
            {
                "id": sitting.id,
                "learner": sitting.learner,
                "card": sitting.card.title,
                "card_id": sitting.card_id,
                "attempt": sitting.attempt,
                "practice": sitting.practice,
                "started_at": sitting.started_at,
                "saved_at": sitting.saved_at,
                "has_capture": sitting.capture_id is not None,
                "done": len(sitting.answered),
                "steps": len(sitting.card.steps),
                "ends_at": sitting.ends_at,
            }
        )
    return out


def give_time(
    conn: Connection, person: Person, sitting_id: int, minutes: int, why: str, at: datetime
) -> list[UnderWay]:
    """More minutes for an open sitting with a time limit; answers all that are open in its course.

    Raises BadOption, Conflict where it has no limit or is handed in, NotFound.
    """
    person.must_be("instructor")
    if not 1 <= minutes <= LONGEST_MIN:
        raise BadOption(f"minutes: a whole number from 1 to {LONGEST_MIN}")
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    row = queries.sittings.by_id(conn, sitting_id=sitting_id)
    if row is None or row["trial"]:
        raise NotFound("there is no such sitting for you")
    courses.in_reach(conn, person, row["course_id"])
    sitting = sitting_of(row)
    if sitting.state != "open":
        raise Conflict("this sitting is handed in")
    if sitting.ends_at is None:
        raise Conflict("this card has no time limit")
    # Who is over it already gets the minutes from now on.
    ends_at = max(sitting.ends_at, at) + timedelta(minutes=minutes)
    sittings.end_at(conn, sitting_id, ends_at, at)
    about, title = ("sitting", sitting_id), grading.named(sitting)
    before, after = {"ends_at": sitting.ends_at.isoformat()}, {"ends_at": ends_at.isoformat()}
    trail.write(conn, person, "sitting.time", about, title, at, before=before, after=after, why=why.strip()[:400])
    return listed(conn, person, sitting.course_id)
