"""Today: what needs this person now."""

from __future__ import annotations

from datetime import date
from typing import TypedDict

from tracebench.store.pool import Connection, Row
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards as cards
from tracebench.usecases.marking import desk
from tracebench.usecases.people.person import Person
from tracebench.usecases.sitting import sittings
from tracebench.usecases.skill import maps

CARDS_SHOWN = 10
WAITING_SHOWN = 12


class Today(TypedDict):
    """`waiting` are the first of `to_settle` sittings; `in_hand` an instructor's cards, `cards` those of a learner."""

    courses: list[Row]
    in_hand: list[Row]
    to_settle: int
    waiting: list[desk.Waiting]
    drifting: list[maps.Drifting]
    cards: list[cards.CardItem]
    sittings: list[sittings.SittingItem]


def for_person(conn: Connection, person: Person, day: date) -> Today:
    """Sittings to settle, cards due, learners whose skill falls; for a learner what to do and what came back."""
    courses = list(queries.courses.of_person(conn, person_id=person.id))
    out: Today = {
        "courses": courses,
        "in_hand": [],
        "to_settle": 0,
        "waiting": [],
        "drifting": [],
        "cards": [],
        "sittings": [],
    }
    if person.role == "learner":
        out["cards"] = cards.listed(conn, person)
        out["sittings"] = sittings.listed(conn, person)
    elif person.role == "instructor" and courses:
        ids = [course["id"] for course in courses]
        out["waiting"], out["to_settle"] = desk.first_waiting(conn, person, ids, WAITING_SHOWN)
        out["drifting"] = maps.drifting(conn, ids)
        out["in_hand"] = list(queries.cards.in_hand(conn, person_id=person.id, today=day.isoformat(), most=CARDS_SHOWN))
    return out
