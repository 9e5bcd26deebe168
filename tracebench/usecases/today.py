"""Today: what needs this person now."""

from __future__ import annotations

from typing import Any

from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases import cards, grading, sittings, skills
from tracebench.usecases.people import Person

Json = dict[str, Any]

DRIFT = 0.03
"""A fall of the estimate in the last sitting from which a learner is pointed out."""


def for_person(conn: Connection, person: Person) -> Json:
    """Sittings to settle, cards due, learners whose skill falls; for a learner what to do and what came back."""
    courses = list(queries.courses.of_person(conn, person_id=person.id))
    out: Json = {"courses": courses, "cards": cards.listed(conn, person), "waiting": [], "drifting": [], "sittings": []}
    if person.role == "learner":
        out["sittings"] = sittings.listed(conn, person)
    elif person.role == "instructor":
        for course in courses:
            entries = [e for e in grading.desk(conn, person, course["id"]) if e["state"] == "handed_in"]
            out["waiting"] += [{**e, "course_id": course["id"]} for e in entries]
            out["drifting"] += _drifting(skills.skill_map(conn, person, course["id"]), course["id"])
    return out


def _drifting(skill_map: Json, course_id: int) -> list[Json]:
    titles = {s["key"]: s["title"] for s in skill_map["skills"]}
    out = []
    for learner in skill_map["learners"]:
        falling = [c for c in learner["cells"] if c["change"] is not None and c["change"] <= -DRIFT]
        if falling:
            worst = min(falling, key=lambda c: c["change"])
            out.append(
                {
                    "id": learner["id"],
                    "name": learner["name"],
                    "course_id": course_id,
                    "skill": titles[worst["skill"]],
                    "estimate": worst["estimate"],
                    "change": worst["change"],
                }
            )
    return sorted(out, key=lambda d: d["change"])
