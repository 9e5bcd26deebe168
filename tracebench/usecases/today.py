"""Today: what needs this person now."""

from __future__ import annotations

from typing import TypedDict

from tracebench.store.pool import Connection, Row
from tracebench.store.queries import queries
from tracebench.usecases import cards, desk, sittings, skills
from tracebench.usecases.person import Person
from tracebench.usecases.skills import SkillMap

DRIFT = 0.03
"""A fall of the estimate in the last sitting from which a learner is pointed out."""


class Drifting(TypedDict):
    """A learner whose estimate of a skill fell, and by how much."""

    id: int
    name: str
    course_id: int
    skill: str
    estimate: float
    change: float


class Waiting(desk.DeskEntry):
    """A sitting to settle, with its course."""

    course_id: int


class Today(TypedDict):
    courses: list[Row]
    cards: list[cards.CardItem]
    waiting: list[Waiting]
    drifting: list[Drifting]
    sittings: list[sittings.SittingItem]


def for_person(conn: Connection, person: Person) -> Today:
    """Sittings to settle, cards due, learners whose skill falls; for a learner what to do and what came back."""
    courses = list(queries.courses.of_person(conn, person_id=person.id))
    out: Today = {
        "courses": courses,
        "cards": cards.listed(conn, person),
        "waiting": [],
        "drifting": [],
        "sittings": [],
    }
    if person.role == "learner":
        out["sittings"] = sittings.listed(conn, person)
    elif person.role == "instructor":
        for course in courses:
            out["waiting"] += [Waiting(**e, course_id=course["id"]) for e in desk.waiting(conn, course["id"])]
            out["drifting"] += _drifting(skills.skill_map(conn, person, course["id"]), course["id"])
    return out


def _drifting(skill_map: SkillMap, course_id: int) -> list[Drifting]:
    titles = {s["key"]: s["title"] for s in skill_map["skills"]}
    out: list[Drifting] = []
    for learner in skill_map["learners"]:
        change, worst = min(((c["change"] or 0.0, c) for c in learner["cells"]), key=lambda pair: pair[0])
        if change <= -DRIFT:
            out.append(
                {
                    "id": learner["id"],
                    "name": learner["name"],
                    "course_id": course_id,
                    "skill": titles[worst["skill"]],
                    "estimate": worst["estimate"],
                    "change": change,
                }
            )
    return sorted(out, key=lambda d: d["change"])
