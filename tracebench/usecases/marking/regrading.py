"""Marks worked out anew for past sittings: shown first, then an instructor lets them stand, or not."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any, TypedDict, cast

from tracebench.core import ENGINE_VERSION
from tracebench.core.cards.answers import answers_as_json, answers_from_json
from tracebench.core.errors import BadOption, TraceBenchError
from tracebench.core.grading.attempt import Taken
from tracebench.core.grading.result import Grade
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.marking import grading, standing
from tracebench.usecases.marking.values import Settled
from tracebench.usecases.people import courses
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.sitting import measuring
from tracebench.usecases.sitting.rows import Sitting, State, card_of, sitting_of

REGRADE = "regrade"
AT_ONCE = 20
"""Sittings of one job: done again as one where a worker dies, and handed to several workers by many."""


class ChangedPoints(TypedDict("ChangedPoints", {"from": float | None, "to": float | None})):
    """A criterion whose points would be others; none where it was not, or is no more."""

    criterion: str
    title: str
    reason: str


class WouldChange(TypedDict):
    """A sitting whose marks would change, or could not be worked out."""

    sitting_id: int
    learner: str
    title: str
    attempt: int
    state: State
    changes: list[ChangedPoints]
    problem: str | None
    taken_at: datetime | None


class Regrading(TypedDict):
    """A course's marks beside what this engine gives now: how far it is, and what would change."""

    id: int
    newest: bool
    total: int
    created_at: datetime
    author: str
    done: int
    engine: str
    rows: list[WouldChange]


class Found(TypedDict):
    """A sitting worked out anew, as it is kept."""

    sitting_id: int
    grade_run_id: int | None
    card_version_id: int
    grade: str | None
    measured: str | None
    changes: str
    problem: str | None


def begin_run(conn: Connection, person: Person, course_id: int, newest: bool, at: datetime) -> Regrading:
    """Compare all marks of a course with what this engine gives now, by its cards' newest versions where wanted."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    ids = [row["id"] for row in queries.regrading.marked(conn, course_id=course_id)]
    if not ids:
        raise BadOption("no sitting of this course was marked yet")
    run_id: int = queries.regrading.add_run(
        conn, course_id=course_id, author_id=person.id, newest=newest, total=len(ids), at=at
    )
    for start in range(0, len(ids), AT_ONCE):
        payload = {"run_id": run_id, "ids": ids[start : start + AT_ONCE], "newest": newest}
        queue.add(conn, REGRADE, f"regrade-{run_id}-{start}", payload, person.id, at)
    return run(conn, person, course_id)


def run(conn: Connection, person: Person, course_id: int) -> Regrading:
    """The newest comparison of a course: how far it is, and each sitting whose marks would change."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    row = queries.regrading.latest_run(conn, course_id=course_id)
    if row is None:
        raise NotFound("the marks of this course were never worked out anew")
    rows = [{**w, "changes": json.loads(w["changes"])} for w in queries.regrading.rows_of(conn, run_id=row["id"])]
    return cast(Regrading, {**row, "engine": ENGINE_VERSION, "rows": rows})


def work_regrade_out(begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job: measures and marks with nothing held, each capture once however many of its sittings use it."""
    found: list[Found] = []
    measured: dict[str, Taken | None] = {}
    for place, sitting_id in enumerate(payload["ids"]):
        queue.report(place / len(payload["ids"]))
        with begin() as conn:
            row = queries.sittings.by_id(conn, sitting_id=sitting_id)
            if row is None:
                continue
            sitting = sitting_of(row)
            latest = queries.sittings.latest_grade(conn, sitting_id=sitting_id)
            old = grading.settled(conn, sitting_id)["grade"]
            problem, marked, version_id = _by_version(conn, sitting, payload["newest"], latest)
            beside = measuring.beside(conn, sitting)
            known = _measured_as(marked, beside)
            loaded = None if known in measured else measuring.load(conn, marked, beside)
        if known not in measured:
            measured[known] = loaded.taken(marked) if loaded is not None else None
        taken = measured[known]
        new = None if problem else grading.graded(marked, taken)
        found.append(
            {
                "sitting_id": sitting_id,
                "grade_run_id": latest["id"] if latest else None,
                "card_version_id": version_id,
                "grade": None if new is None else packed(new),
                "measured": packed(taken.measured.as_json()) if taken is not None and new is not None else None,
                "changes": packed([] if new is None else changes(old, new)),
                "problem": problem,
            }
        )

    def keep(conn: Connection) -> dict[str, int]:
        for one in found:
            queries.regrading.add_row(conn, run_id=payload["run_id"], **one)
        return {"run_id": payload["run_id"], "sittings": len(found)}

    return keep


def _by_version(
    conn: Connection, sitting: Sitting, newest: bool, latest: Mapping[str, Any] | None
) -> tuple[str | None, Sitting, int]:
    """The sitting under its card's newest version, or under that which its marks rest on; a problem where its answers
    do not fit that."""
    rests_on = json.loads(latest["inputs"])["card_version_id"] if latest else sitting.card_version_id
    row = (
        queries.regrading.newest_version(conn, card_id=sitting.card_id)
        if newest
        else queries.regrading.card_version(conn, version_id=rests_on)
    )
    if row is None or row["id"] == sitting.card_version_id:
        return None, sitting, sitting.card_version_id
    card = card_of(row["document"])
    try:
        answers = answers_from_json(card, answers_as_json(sitting.answers))
    except TraceBenchError as problem:
        return f"the newest version asks something else: {problem}"[:300], sitting, sitting.card_version_id
    return None, replace(sitting, card=card, answers=answers), row["id"]


def _measured_as(sitting: Sitting, beside: measuring.Beside | None) -> str:
    """Sittings with the same capture, told and limited alike, have one measurement."""
    asked = sitting.card.first
    limits = [limit.as_json() for limit in asked.limits]
    own = [] if beside is None else [beside.told, beside.ground, beside.wires_shown]
    return packed([sitting.capture_id, asked.circuit.code, sitting.card.options(asked.key), limits, own])


def changes(old: Settled, new: Grade) -> list[ChangedPoints]:
    """Criteria whose points would be others: what stands now (an instructor's change stays) and what would."""
    by_hand = {r["criterion"] for r in old["results"] if r["changed"] is not None}
    before = {r["criterion"]: r for r in old["results"]}
    after = {r["criterion"]: r for r in new["results"]}
    out: list[ChangedPoints] = []
    for key in dict.fromkeys((*before, *after)):
        was, will = before.get(key), after.get(key)
        stood, comes = (was["settled"] if was else None), (will["earned"] if will else None)
        if key in by_hand and will is not None:
            continue
        if stood is None or comes is None or abs(stood - comes) > grading.LEAST_POINTS:
            row = will or was
            assert row is not None
            out.append({"criterion": key, "title": row["title"], "from": stood, "to": comes, "reason": row["reason"]})
    return out


def take_over(
    conn: Connection, person: Person, course_id: int, run_id: int, ids: Sequence[int], why: str, at: datetime
) -> Regrading:
    """Let the marks of a comparison stand, released ones as well, each with a record; all of them or none.

    Raises Conflict where a sitting's marks were worked out or changed again since the comparison.
    """
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    if not why.strip():
        raise BadOption("say why; it stands in the trail beside each changed mark")
    for sitting_id in ids:
        queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
        row = queries.regrading.row_to_take(conn, run_id=run_id, sitting_id=sitting_id)
        if row is None or row["course_id"] != course_id or row["grade"] is None:
            raise NotFound("this comparison has no such sitting")
        latest = queries.sittings.latest_grade(conn, sitting_id=sitting_id)
        if row["taken_at"] is not None or latest is None or latest["id"] != row["grade_run_id"]:
            raise Conflict("the marks of one of these were worked out again since; compare anew")
        inputs = {**json.loads(latest["inputs"]), "card_version_id": row["card_version_id"]}
        queries.sittings.add_grade_run(
            conn,
            sitting_id=sitting_id,
            engine=ENGINE_VERSION,
            inputs=packed(inputs),
            measured=row["measured"],
            grade=row["grade"],
            at=at,
        )
        queries.regrading.set_taken(conn, run_id=run_id, sitting_id=sitting_id, at=at)
        standing.keep(conn, sitting_id, grading.settled(conn, sitting_id)["grade"])
        moved = json.loads(row["changes"])
        before, after = ({c["title"]: c[side] for c in moved} for side in ("from", "to"))
        about = ("sitting", sitting_id)
        title = grading.named(grading.in_reach(conn, person, sitting_id))
        trail.write(conn, person, "mark.regrade", about, title, at, before=before, after=after, why=why.strip()[:1000])
    return run(conn, person, course_id)
