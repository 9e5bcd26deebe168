"""A second instructor marks a sitting without seeing what was decided, and how far markers agree."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Mapping
from datetime import datetime
from typing import TypedDict, cast

from tracebench.core.answer import Answer
from tracebench.core.answer_rows import AnswerRow
from tracebench.core.cards.answers import answers_as_json
from tracebench.core.cards.documents import card_as_json
from tracebench.core.errors import BadOption
from tracebench.core.grading.agreement import Agreement, agreement, level
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.marking import grading, likeness
from tracebench.usecases.marking.values import MarkSheet, Settled, SettledRow
from tracebench.usecases.people import courses
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import versions
from tracebench.usecases.shelf.values import Beneath
from tracebench.usecases.sitting import measuring
from tracebench.usecases.sitting.records import RecordShown
from tracebench.usecases.sitting.rows import Sitting, sitting_of


class UnseenSheet(Beneath):
    """A sitting for its second marker: without whose it is and what was decided."""

    id: int
    capture_id: int | None
    answers: dict[str, dict[str, object]]
    card: dict[str, object]
    grade: Settled
    measured: AnswerRow | None
    records: list[RecordShown]
    alike: list[str]


class Agreed(TypedDict):
    """How far two markers agreed over so many decisions."""

    decisions: int
    same: int
    kappa: float | None


class AgreedOn(Agreed):
    title: str


class AgreedInCourse(Agreed):
    sittings: int
    criteria: list[AgreedOn]


def ask(conn: Connection, person: Person, sitting_id: int, marker_id: int, at: datetime) -> MarkSheet:
    """Ask another instructor of the course to mark a handed-in sitting as well. Raises BadOption, Conflict."""
    sitting = grading.in_reach(conn, person, sitting_id)
    if sitting.state == "open" or sitting.practice:
        raise Conflict("only a sitting that was handed in for marks is marked a second time")
    grading.settled(conn, sitting_id)
    members = {m["id"]: m for m in queries.courses.members(conn, course_id=sitting.course_id)}
    marker = members.get(marker_id)
    if marker is None or marker["role"] != "instructor" or marker_id == person.id:
        raise BadOption("choose another instructor of this course")
    if not queries.sittings.ask_second_mark(
        conn, sitting_id=sitting_id, marker_id=marker_id, asked_by=person.id, at=at
    ):
        raise Conflict("a second marker has this sitting already")
    about = ("sitting", sitting_id)
    trail.write(conn, person, "mark.second_asked", about, grading.named(sitting), at, after={"by": marker["name"]})
    return grading.sheet(conn, person, sitting_id)


def withdraw(conn: Connection, person: Person, sitting_id: int, at: datetime) -> MarkSheet:
    """Ask for it no more, while it is not done."""
    sitting = grading.in_reach(conn, person, sitting_id)
    if not queries.sittings.withdraw_second_mark(conn, sitting_id=sitting_id):
        raise Conflict("this sitting was marked a second time already, or nobody was asked")
    trail.write(conn, person, "mark.second_withdrawn", ("sitting", sitting_id), grading.named(sitting), at)
    return grading.sheet(conn, person, sitting_id)


class WaitsForSecond(TypedDict):
    """A sitting that somebody is asked to mark a second time, without whose it is."""

    id: int
    title: str
    asker: str
    asked_at: datetime


def waiting(conn: Connection, person: Person) -> list[WaitsForSecond]:
    """What a person is asked to mark a second time; whose it is stays hidden."""
    return [cast(WaitsForSecond, row) for row in queries.sittings.to_mark_again(conn, marker_id=person.id)]


def _of_marker(conn: Connection, person: Person, sitting_id: int) -> Sitting:
    mark = queries.sittings.second_mark(conn, sitting_id=sitting_id)
    row = queries.sittings.by_id(conn, sitting_id=sitting_id)
    if mark is None or row is None or mark["marker_id"] != person.id:
        raise NotFound("you are not asked to mark this sitting a second time")
    courses.in_reach(conn, person, row["course_id"])
    if mark["done_at"] is not None:
        raise Conflict("you have marked this sitting already")
    return sitting_of(row)


def sheet(conn: Connection, person: Person, sitting_id: int) -> UnseenSheet:
    """A sitting for its second marker: what the tool proposes, without whose it is and what was decided."""
    sitting = _of_marker(conn, person, sitting_id)
    run = grading.proposed(conn, sitting_id)
    return {
        "id": sitting.id,
        "capture_id": sitting.capture_id,
        "answers": answers_as_json(sitting.answers),
        "card": card_as_json(sitting.card),
        "grade": run["grade"],
        "measured": run["measured"],
        **versions.beside(conn, sitting.card.first.reference_version_id, run["measured"]),
        "records": [{**kept, "author": "the learner"} for kept in grading.records_of(conn, sitting)],
        "alike": [row["about"] for row in likeness.of_sitting(conn, sitting_id)],
    }


def events_of(conn: Connection, person: Person, sitting_id: int) -> tuple[Sitting, Answer]:
    """The sitting and its capture's answer with its events, for its second marker."""
    sitting = _of_marker(conn, person, sitting_id)
    if sitting.capture_id is None:
        raise NotFound("this sitting has no capture to look at")
    return sitting, measuring.measured(conn, sitting)


def give(
    conn: Connection, person: Person, sitting_id: int, marks: Mapping[str, float], words: str, at: datetime
) -> None:
    """Keep the points of every criterion, given once. Raises BadOption that names the criterion."""
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    sitting = _of_marker(conn, person, sitting_id)
    rows = {r["criterion"]: r for r in grading.proposed(conn, sitting_id)["grade"]["results"]}
    if set(marks) != set(rows):
        raise BadOption("give points for every criterion of this sitting, and for no other")
    for key, earned in marks.items():
        if not 0 <= earned <= rows[key]["points"]:
            raise BadOption(f"points for {rows[key]['title'].lower()}: 0 to {rows[key]['points']:g}")
    queries.sittings.keep_second_mark(
        conn, sitting_id=sitting_id, marks=packed(dict(marks)), words=words.strip()[:1000], at=at
    )
    after = {rows[key]["title"]: earned for key, earned in marks.items()}
    trail.write(
        conn, person, "mark.second", ("sitting", sitting_id), grading.named(sitting), at, before={}, after=after
    )


def of_course(conn: Connection, person: Person, course_id: int) -> AgreedInCourse:
    """How far second markers agreed with what stands in a course, in all and by criterion."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    pairs: dict[str, list[tuple[int, int]]] = defaultdict(list)
    sittings = 0
    for row in queries.sittings.second_marks_of_course(conn, course_id=course_id):
        second = json.loads(row["marks"])
        sittings += 1
        for result in grading.settled(conn, row["sitting_id"])["grade"]["results"]:
            if result["criterion"] in second and result["points"] > 0:
                first = level(result["settled"], result["points"])
                pairs[_kind(result)].append((first, level(second[result["criterion"]], result["points"])))
    return {
        "sittings": sittings,
        **_told(agreement([pair for found in pairs.values() for pair in found])),
        "criteria": [{"title": title, **_told(agreement(found))} for title, found in sorted(pairs.items())],
    }


def _kind(result: SettledRow) -> str:
    """Readings, comparisons and names go together, each with its kind."""
    key = str(result["criterion"]).rpartition("/")[2].partition(":")
    kinds = {"reading": "Readings", "compare": "Comparisons", "name": "Names"}
    return kinds.get(key[0], str(result["title"]))


def _told(found: Agreement) -> Agreed:
    return {
        "decisions": found.pairs,
        "same": found.same,
        "kappa": None if found.kappa is None else round(found.kappa, 3),
    }
