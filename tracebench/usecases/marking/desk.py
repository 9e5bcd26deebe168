"""The marking desk: what waits in which order and why, releasing together, deciding alike, and second looks."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import TypedDict

from tracebench.core.errors import BadOption
from tracebench.core.grading.order import Handed, looks
from tracebench.store.pool import Begin, Connection, Row
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.marking import grading, standing
from tracebench.usecases.marking.values import GradeRun, MarkSheet, SettledRow
from tracebench.usecases.people import courses
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.sitting.rows import State

RELEASED_SHOWN = 20


class DeskEntry(TypedDict):
    id: int
    learner: str
    attempt: int
    state: State
    handed_in_at: datetime
    released_at: datetime | None
    card_id: int
    title: str
    earned: float | None
    points: float | None
    certainty: float | None
    unsure: list[str]
    slips: list[str]
    alike: bool
    asked: str | None
    reasons: list[str]
    clear: bool
    sample: bool


def desk(conn: Connection, person: Person, course_id: int, released: int = RELEASED_SHOWN) -> list[DeskEntry]:
    """What waits to be settled in a course, least certain first, then so many of those released, the latest first."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    rows = queries.sittings.settled(conn, course_id=course_id, person_id=person.id, most=released)
    done = [_entry(row, row["released_at"]) for row in rows]
    done.sort(key=lambda e: (e["asked"] is not None, e["released_at"] or e["handed_in_at"], e["id"]), reverse=True)
    rows = queries.sittings.to_settle(conn, course_id=course_id, person_id=person.id, most=MOST_WAITING)
    entries = [_entry(row) for row in rows]
    return _in_order(entries, done) + done


def _in_order(entries: list[DeskEntry], done: Sequence[DeskEntry]) -> list[DeskEntry]:
    """What waits in the order that it is looked at, each with the reasons; marks still being worked out come last."""
    by_id = {e["id"]: e for e in entries}
    found = looks([_handed(e) for e in entries if e["points"]], [_handed(e) for e in done if e["points"]])
    for look in found:
        entry = by_id[look.id]
        entry["reasons"], entry["clear"], entry["sample"] = list(look.reasons), look.clear, look.sample
    ranked = [by_id[look.id] for look in found]
    return ranked + [e for e in entries if not e["points"]]


def _handed(entry: DeskEntry) -> Handed:
    return Handed(
        entry["id"],
        entry["card_id"],
        (entry["earned"] or 0.0) / (entry["points"] or 1.0),
        1.0 if entry["certainty"] is None else entry["certainty"],
        tuple(entry["unsure"]),
        entry["alike"],
        entry["asked"] is not None,
    )


MOST_WAITING = 5000


class Waiting(TypedDict):
    """A sitting that waits, told in a line; certainty is None while its marks are being worked out."""

    id: int
    learner: str
    title: str
    attempt: int
    handed_in_at: datetime
    certainty: float | None
    slips: list[str]


def first_waiting(conn: Connection, person: Person, course_ids: Sequence[int], most: int) -> tuple[list[Waiting], int]:
    """The least certain of what waits to be settled in courses, one at least, and how many wait in all."""
    rows = list(queries.sittings.first_to_settle(conn, course_ids=course_ids, person_id=person.id, most=most))
    return [_waiting(row) for row in rows], rows[0]["in_all"] if rows else 0


def _waiting(row: Row) -> Waiting:
    stands = standing.read(row["standing"])
    return {
        "id": row["id"],
        "learner": row["learner"],
        "title": row["title"],
        "attempt": row["attempt"],
        "handed_in_at": row["handed_in_at"],
        "certainty": None if stands is None else stands["certainty"],
        "slips": [] if stands is None else stands["slips"],
    }


def _entry(row: Row, released_at: datetime | None = None) -> DeskEntry:
    stands = standing.read(row["standing"])
    return {
        "id": row["id"],
        "learner": row["learner"],
        "attempt": row["attempt"],
        "state": "handed_in" if released_at is None else "released",
        "handed_in_at": row["handed_in_at"],
        "released_at": released_at,
        "card_id": row["card_id"],
        "title": row["title"],
        "earned": None if stands is None else stands["earned"],
        "points": None if stands is None else stands["points"],
        "certainty": None if stands is None else stands["certainty"],
        "unsure": [] if stands is None else stands["unsure"],
        "slips": [] if stands is None else stands["slips"],
        "alike": bool(row["alike"]),
        "asked": row["asked"],
        "reasons": [],
        "clear": False,
        "sample": False,
    }


MOST_AT_ONCE = 200


class Refused(TypedDict):
    id: int
    why: str


class ReleasedMany(TypedDict):
    """What of several was released, and why the others were not."""

    released: list[int]
    refused: list[Refused]


class DecidedAlike(TypedDict):
    """A sitting that waits where the tool decided a criterion alike."""

    id: int
    learner: str
    settled: float
    reason: str


def release_many(begin: Begin, person: Person, ids: Sequence[int], at: datetime) -> ReleasedMany:
    """Release several, each by itself: what could not be is told, and stops none of the others."""
    done: list[int] = []
    refused: list[Refused] = []
    for sitting_id in ids[:MOST_AT_ONCE]:
        try:
            with begin() as conn:
                grading.release(conn, person, sitting_id, at)
            done.append(sitting_id)
        except (Conflict, NotFound) as problem:
            refused.append({"id": sitting_id, "why": str(problem)})
    return {"released": done, "refused": refused}


def take_back(conn: Connection, person: Person, sitting_id: int, why: str, at: datetime) -> MarkSheet:
    """Undo a release until the learner has seen it, or as the second look that they asked for."""
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    sitting = grading.in_reach(conn, person, sitting_id)
    if not queries.sittings.take_back(conn, sitting_id=sitting_id):
        raise Conflict("only a released sitting that its learner has not seen, or asks to look at again, is taken back")
    trail.write(
        conn, person, "mark.take_back", ("sitting", sitting_id), grading.named(sitting), at, why=why.strip()[:1000]
    )
    return grading.sheet(conn, person, sitting_id)


def alike_decisions(conn: Connection, person: Person, sitting_id: int, criterion: str) -> list[DecidedAlike]:
    """Sittings that wait where the tool decided a criterion as it did here: what one decision could be applied to."""
    sitting = grading.in_reach(conn, person, sitting_id)
    own = _result(grading.settled(conn, sitting_id), criterion)
    out: list[DecidedAlike] = []
    rows = queries.sittings.waiting_of_version(conn, card_version_id=sitting.card_version_id, sitting_id=sitting_id)
    for row in rows:
        other = _result(grading.settled(conn, row["id"]), criterion)
        if (other["score"], other["slip"]) == (own["score"], own["slip"]) and other["changed"] is None:
            out.append(
                {"id": row["id"], "learner": row["learner"], "settled": other["settled"], "reason": other["reason"]}
            )
    return out


def _result(run: GradeRun, criterion: str) -> SettledRow:
    row = next((r for r in run["grade"]["results"] if r["criterion"] == criterion), None)
    if row is None:
        raise BadOption(f"this sitting has no criterion {criterion!r}")
    return row


def change_alike(
    conn: Connection,
    person: Person,
    sitting_id: int,
    criterion: str,
    earned: float,
    reason: str,
    also: Sequence[int],
    at: datetime,
) -> MarkSheet:
    """Make the same change in other sittings that were decided alike; all of them or, where one no longer is, none."""
    alike = {row["id"] for row in alike_decisions(conn, person, sitting_id, criterion)}
    if not set(also) <= alike:
        raise Conflict("one of these sittings is no longer decided as this one; look at the list again")
    for other_id in also:
        grading.change(conn, person, other_id, criterion, earned, reason, at)
    return grading.sheet(conn, person, sitting_id)
