"""Skill map and logbook, worked out afresh from released marks."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import datetime
from typing import TypedDict

from tracebench.core.skill import SKILLS
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.marking import standing
from tracebench.usecases.marking.grading import settled
from tracebench.usecases.people import courses
from tracebench.usecases.people.person import Person
from tracebench.usecases.skill import released
from tracebench.usecases.skill.released import Cell, Released


class Learner(TypedDict):
    id: int
    name: str
    sittings: int
    cells: list[Cell]


class Skill(TypedDict):
    key: str
    title: str


class SkillMap(TypedDict):
    skills: list[Skill]
    learners: list[Learner]


def skill_map(conn: Connection, person: Person, course_id: int) -> SkillMap:
    """Every learner of a course by every skill."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    marks = released.marks(conn, [course_id])
    learners = [m for m in queries.courses.members(conn, course_id=course_id) if m["role"] == "learner"]
    return {
        "skills": [{"key": key, "title": title} for key, title in SKILLS],
        "learners": [
            {
                "id": m["id"],
                "name": m["name"],
                "sittings": len(marks.of(course_id, m["id"])),
                "cells": list(marks.cells(course_id, m["id"]).values()),
            }
            for m in learners
        ],
    }


DRIFT = 0.03
"""A fall of the estimate in the last sitting from which a learner is pointed out."""


class Drifting(TypedDict):
    """A learner whose estimate of a skill fell most in the last sitting that asked for it, and by how much."""

    id: int
    name: str
    course_id: int
    skill: str
    estimate: float
    change: float


def drifting(conn: Connection, course_ids: Sequence[int]) -> list[Drifting]:
    """Learners of courses, one at least, whose skill falls, the most first."""
    marks = released.marks(conn, course_ids)
    out: list[Drifting] = []
    for row in queries.courses.learners_of(conn, course_ids=course_ids):
        known = marks.cells(row["course_id"], row["id"])
        cells = [(known[key], title) for key, title in SKILLS]
        cell, title = min(cells, key=lambda pair: pair[0]["change"] or 0.0)
        change = cell["change"] or 0.0
        if change <= -DRIFT:
            out.append(
                {
                    "id": row["id"],
                    "name": row["name"],
                    "course_id": row["course_id"],
                    "skill": title,
                    "estimate": cell["estimate"],
                    "change": change,
                }
            )
    return sorted(out, key=lambda d: d["change"])


class Estimated(TypedDict):
    """An estimate of a skill after a sitting, with its band."""

    at: datetime
    estimate: float
    low: float
    high: float


class SkillCourse(Cell):
    title: str
    course: list[Estimated]


class Mistake(TypedDict):
    """What cost points more than once, with the latest reason."""

    title: str
    times: int
    latest: str


class Sat(TypedDict):
    id: int
    title: str
    handed_in_at: datetime
    earned: float
    points: float


class Named(TypedDict):
    id: int
    name: str


class Logbook(TypedDict):
    """One learner's course of skill, calls and recurring mistakes."""

    learner: Named
    skills: list[SkillCourse]
    mistakes: list[Mistake]
    sittings: list[Sat]
    practice: list[Sat]


def logbook(conn: Connection, person: Person, course_id: int, learner_id: int) -> Logbook:
    """One learner's course of skill, calls and recurring mistakes; a learner sees only their own."""
    if person.role == "learner" and person.id != learner_id:
        raise NotFound("there is no such logbook for you")
    courses.in_reach(conn, person, course_id)
    member = next((m for m in queries.courses.members(conn, course_id=course_id) if m["id"] == learner_id), None)
    if member is None or member["role"] != "learner":
        raise NotFound("there is no such logbook for you")
    marks = released.marks(conn, [course_id])
    sittings = marks.of(course_id, learner_id)
    # What was told after one attempt would be the key to the next, while that is open.
    again = {row["card_id"] for row in queries.sittings.cards_not_released(conn, learner_id=learner_id)}
    told = [s for s in sittings if person.role != "learner" or s.card_id not in again]
    by_skill, cells = marks.skills(course_id, learner_id), marks.cells(course_id, learner_id)
    return {
        "learner": {"id": learner_id, "name": member["name"]},
        "skills": [
            {
                **cells[key],
                "title": title,
                "course": [
                    {
                        "at": s.handed_in_at,
                        "estimate": round(e.rating.chance(), 3),
                        "low": round(e.rating.band()[0], 3),
                        "high": round(e.rating.band()[1], 3),
                    }
                    for s, e in by_skill[key]
                ],
            }
            for key, title in SKILLS
        ],
        "mistakes": _mistakes(conn, told),
        "sittings": [
            {
                "id": s.id,
                "title": s.title,
                "handed_in_at": s.handed_in_at,
                "earned": s.earned,
                "points": s.points,
            }
            for s in reversed(sittings)
        ],
        "practice": _practice(conn, course_id, learner_id),
    }


PRACTICE_SHOWN = 20
MISTAKE_UNDER = 0.6
"""Part of its points under which a criterion counts among what costs points again and again."""


def _practice(conn: Connection, course_id: int, learner_id: int) -> list[Sat]:
    """What was practised last: told beside the marks, and part of no estimate."""
    out: list[Sat] = []
    for row in queries.sittings.practised(conn, course_id=course_id, learner_id=learner_id, most=PRACTICE_SHOWN):
        stands = standing.read(row["standing"])
        if stands is not None:
            out.append(
                {
                    "id": row["id"],
                    "title": row["title"],
                    "handed_in_at": row["handed_in_at"],
                    "earned": stands["earned"],
                    "points": stands["points"],
                }
            )
    return out


def _mistakes(conn: Connection, sittings: Sequence[Released]) -> list[Mistake]:
    """Criteria that cost points more than once, or a named slip, most frequent first, with the latest reason."""
    lost: Counter[str] = Counter()
    latest: dict[str, int] = {}
    for sitting in sittings:
        for row in sitting.criteria:
            if row.points and row.settled < MISTAKE_UNDER * row.points:
                lost[row.title] += 1
                latest[row.title] = sitting.id
    most = lost.most_common(6)
    grades = {k: settled(conn, k)["grade"]["results"] for k in {latest[title] for title, _ in most}}
    return [
        {
            "title": title,
            "times": times,
            "latest": next((r["reason"] for r in grades[latest[title]] if r["title"] == title), ""),
        }
        for title, times in most
    ]
