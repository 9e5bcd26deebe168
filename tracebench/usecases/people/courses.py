"""Courses: who opens them, and who is brought in and taken out by whom."""

from __future__ import annotations

from datetime import datetime
from typing import TypedDict, cast

from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotAllowed, NotFound
from tracebench.usecases.people import invitations
from tracebench.usecases.people.person import Account, Person
from tracebench.usecases.school import trail


class Course(TypedDict):
    id: int
    title: str
    review: bool


class Member(Account):
    """A person of a course, whether who asks may make a link for them, and their extra time in percent."""

    extra_pct: int
    may_link: bool


def mine(conn: Connection, person: Person) -> list[Course]:
    """The courses of the person who asks; all of them for the administrator."""
    if person.role == "administrator":
        return [cast(Course, row) for row in queries.courses.all_courses(conn)]
    return [cast(Course, row) for row in queries.courses.of_person(conn, person_id=person.id)]


def add(conn: Connection, person: Person, title: str, at: datetime) -> int:
    """A new course; an instructor who opens one belongs to it. Raises BadOption."""
    person.must_be("instructor", "administrator")
    title = title.strip()
    if not 1 <= len(title) <= 120:
        raise BadOption("title: 1 to 120 characters")
    course_id: int = queries.courses.add(conn, title=title, at=at)
    trail.write(conn, person, "course.add", ("course", course_id), title, at)
    if person.role == "instructor":
        queries.courses.join_course(conn, course_id=course_id, person_id=person.id)
    return course_id


def in_reach(conn: Connection, person: Person, course_id: int) -> None:
    """Raises NotFound unless the person belongs to the course (an administrator reaches all)."""
    if person.role != "administrator" and not queries.courses.is_member(conn, course_id=course_id, person_id=person.id):
        raise NotFound("there is no such course for you")


def members(conn: Connection, person: Person, course_id: int) -> list[Member]:
    """People of a course, for its instructors and the administrator, and for whom these may make a link."""
    person.must_be("instructor", "administrator")
    in_reach(conn, person, course_id)
    rows = queries.courses.members(conn, course_id=course_id)
    return [
        cast(Member, {**row, "may_link": bool(row["invited"]) and invitations.may_make(conn, person, row)})
        for row in list(rows)
    ]


def set_member(conn: Connection, person: Person, course_id: int, other_id: int, member: bool, at: datetime) -> None:
    """Bring a person into a course or take them out; what they did stays. An instructor does so with learners only.

    Raises NotFound, NotAllowed.
    """
    person.must_be("instructor", "administrator")
    in_reach(conn, person, course_id)
    course = queries.courses.by_id(conn, course_id=course_id)
    other = queries.people.by_id(conn, person_id=other_id)
    if course is None or other is None:
        raise NotFound("there is no such course or account")
    if person.role == "instructor" and other["role"] != "learner":
        raise NotAllowed("instructors come into a course, and leave it, by the administrator")
    change = queries.courses.join_course if member else queries.courses.leave_course
    if change(conn, course_id=course_id, person_id=other_id):
        action = "course.join" if member else "course.leave"
        trail.write(
            conn, person, action, ("course", course_id), f"{other['name']}: {course['title']}", at, before={}, after={}
        )


MOST_EXTRA_PCT = 200


def set_extra_time(conn: Connection, person: Person, course_id: int, other_id: int, percent: int, at: datetime) -> None:
    """So much more time, in percent, for a learner on every card of the course with a limit that they begin later.

    Raises BadOption, NotFound.
    """
    person.must_be("instructor", "administrator")
    in_reach(conn, person, course_id)
    if not 0 <= percent <= MOST_EXTRA_PCT:
        raise BadOption(f"percent: a whole number from 0 to {MOST_EXTRA_PCT}")
    course = queries.courses.by_id(conn, course_id=course_id)
    other = queries.people.by_id(conn, person_id=other_id)
    had = queries.courses.extra_time(conn, course_id=course_id, person_id=other_id)
    if course is None or other is None or other["role"] != "learner" or had is None:
        raise NotFound("there is no such learner in this course")
    queries.courses.set_extra_time(conn, course_id=course_id, person_id=other_id, extra_pct=percent)
    about, title = ("course", course_id), f"{other['name']}: {course['title']}"
    before, after = {"extra_pct": had}, {"extra_pct": percent}
    trail.write(conn, person, "course.extra_time", about, title, at, before=before, after=after)


def set_review(conn: Connection, person: Person, course_id: int, wanted: bool, at: datetime) -> None:
    """Say whether a second instructor looks at the course's references before they are published."""
    person.must_be("instructor", "administrator")
    in_reach(conn, person, course_id)
    course = queries.courses.by_id(conn, course_id=course_id)
    if course is None:
        raise NotFound("there is no such course")
    queries.courses.set_review(conn, course_id=course_id, review=wanted)
    before, after = {"review": bool(course["review"])}, {"review": wanted}
    trail.write(conn, person, "course.review", ("course", course_id), course["title"], at, before=before, after=after)
