"""The audit trail: who changed what, when, from what to what, and why. It is only ever added to."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any, TypedDict

from tracebench.core.differences import Difference, differences
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.people.person import Person

PAGE = 50
LONGEST_VALUE = 2000

ACTIONS = {
    "person.add": "made the account",
    "person.close": "closed the account",
    "person.open": "opened the account again",
    "person.invite": "made a link to choose a password",
    "person.password": "chose a password",
    "person.hand_over": "handed the work over",
    "school.name": "named the school",
    "clock.set": "moved ends along, as the clock was set:",
    "course.add": "opened the course",
    "course.join": "brought into the course",
    "course.leave": "took out of the course",
    "reference.add": "made the reference",
    "reference.save": "changed the reference",
    "reference.publish": "published the reference",
    "reference.reviewed": "found fine at a second look",
    "reference.sent_back": "sent back after a second look",
    "course.extra_time": "changed the extra time of",
    "sitting.time": "gave more time for",
    "course.review": "changed whether a second look is wanted in",
    "reference.retire": "took off the shelf",
    "reference.reach": "changed who reaches the reference",
    "card.add": "made the card",
    "card.save": "changed the card",
    "card.publish": "published the card",
    "card.retire": "retired the card",
    "card.reach": "changed who reaches the card",
    "mark.work_out": "worked the marks out",
    "mark.change": "changed a mark",
    "mark.regrade": "worked marks out anew",
    "mark.take_back": "took the release back",
    "mark.comment": "pinned a comment to the trace",
    "mark.comment_away": "took a comment away",
    "mark.second_asked": "asked for a second marker",
    "mark.second_withdrawn": "asked for a second marker no more",
    "mark.second": "marked a second time",
    "mark.asked": "asked for a second look",
    "mark.release": "released the marks",
}
"""What is written down, and how it is said."""

KINDS = ("school", "person", "course", "reference", "card", "sitting")

THE_TOOL = "Trace Bench"
"""Who it was that did what nobody did by hand."""


class Line(TypedDict):
    id: int
    at: datetime
    who: str
    did: str
    action: str
    about: str
    about_id: int
    title: str
    changes: list[Difference]
    why: str


def write(
    conn: Connection,
    person: Person | None,
    action: str,
    about: tuple[str, int],
    title: str,
    at: datetime,
    *,
    before: Any = None,
    after: Any = None,
    why: str = "",
) -> None:
    """Add a line in the transaction of the change itself, so that neither is kept without the other."""
    if action not in ACTIONS or about[0] not in KINDS:
        raise ValueError(f"the trail has no action {action!r} about {about[0]!r}")
    queries.audit.add(
        conn,
        at=at,
        person_id=None if person is None else person.id,
        who=THE_TOOL if person is None else person.name,
        action=action,
        about=about[0],
        about_id=about[1],
        title=title[:200],
        changes=packed([_short(d) for d in differences(before, after)]),
        why=why[:1000],
    )


def _short(change: Difference) -> Difference:
    return {"where": change["where"], "before": _cut(change["before"]), "after": _cut(change["after"])}


def _cut(value: Any) -> Any:
    """A value as it stands, or the beginning of its text where that is very long."""
    text = packed(value)
    return value if len(text) <= LONGEST_VALUE else f"{text[:LONGEST_VALUE]}…"


def page(
    conn: Connection,
    person: Person,
    before_id: int | None,
    about: str | None,
    about_id: int | None,
    person_id: int | None,
) -> list[Line]:
    """The newest lines, or those before one; for the administrator."""
    person.must_be("administrator")
    return _lines(conn, before_id, about, about_id, person_id)


def of_account(conn: Connection, person: Person) -> list[Line]:
    """What was done to one's own account, the newest first: who made it, a link for it, or closed it."""
    return _lines(conn, None, "person", person.id, None)


def _lines(
    conn: Connection, before_id: int | None, about: str | None, about_id: int | None, person_id: int | None
) -> list[Line]:
    rows = queries.audit.page(
        conn,
        before_id=before_id or 1 << 62,
        about=about,
        about_id=about_id,
        person_id=person_id,
        most=PAGE,
    )
    return [
        {
            "id": row["id"],
            "at": row["at"],
            "who": row["who"],
            "did": ACTIONS[row["action"]],
            "action": row["action"],
            "about": row["about"],
            "about_id": row["about_id"],
            "title": row["title"],
            "changes": json.loads(row["changes"]),
            "why": row["why"],
        }
        for row in rows
    ]
