"""Courses with their people, and the training vehicles."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema

from tracebench.store.queries import queries
from tracebench.usecases.people import courses
from tracebench.usecases.people.courses import Course, Member
from tracebench.web import fields as f
from tracebench.web.areas.people import ListedPersonOut
from tracebench.web.context import now, person, reading, transaction

bp = APIBlueprint("courses", __name__, url_prefix="/api", tag="Courses")


class CourseOut(f.Rows):
    id = f.whole()
    title = f.text()
    review = f.flag(metadata={"description": "a second instructor looks at references before they are published"})


class VehicleOut(Schema):
    id = f.whole()
    name = f.text()
    engine = f.text()
    bay = f.text()


class CourseIn(Schema):
    title = f.text()


class ReviewWantedIn(Schema):
    wanted = f.flag()


class MemberIn(Schema):
    person_id = f.whole()
    member = f.flag()


@bp.get("/courses")
@bp.output(CourseOut(many=True))
def mine() -> list[Course]:
    """The courses of the person who asks; all of them for the administrator."""
    with reading() as conn:
        return courses.mine(conn, person())


@bp.post("/courses")
@bp.input(CourseIn)
@bp.output(CourseOut(many=True), status_code=201)
def add(json_data: dict[str, Any]) -> list[Course]:
    """A new course; an instructor who opens one belongs to it."""
    with transaction() as conn:
        courses.add(conn, person(), json_data["title"], now())
        return courses.mine(conn, person())


class MemberOut(ListedPersonOut):
    may_link = f.flag()
    extra_pct = f.whole(metadata={"description": "so much more time on every card with a limit"})


class ExtraTimeIn(Schema):
    percent = f.whole()


@bp.put("/courses/<int:course_id>/members/<int:person_id>/extra-time")
@bp.input(ExtraTimeIn)
@bp.output(MemberOut(many=True))
def set_extra_time(course_id: int, person_id: int, json_data: dict[str, Any]) -> list[Member]:
    """Say how much more time, in percent, a learner has on every card with a limit that they begin from now on."""
    with transaction() as conn:
        courses.set_extra_time(conn, person(), course_id, person_id, json_data["percent"], now())
        return courses.members(conn, person(), course_id)


@bp.get("/courses/<int:course_id>/members")
@bp.output(MemberOut(many=True))
def members(course_id: int) -> list[Member]:
    """People of a course, for its instructors and the administrator."""
    with reading() as conn:
        return courses.members(conn, person(), course_id)


@bp.post("/courses/<int:course_id>/members")
@bp.input(MemberIn)
@bp.output(MemberOut(many=True))
def set_member(course_id: int, json_data: dict[str, Any]) -> list[Member]:
    """Bring a person into a course or take them out; what they did stays."""
    with transaction() as conn:
        courses.set_member(conn, person(), course_id, json_data["person_id"], json_data["member"], now())
        return courses.members(conn, person(), course_id)


@bp.put("/courses/<int:course_id>/review")
@bp.input(ReviewWantedIn)
@bp.output(CourseOut(many=True))
def set_review(course_id: int, json_data: dict[str, Any]) -> list[Course]:
    """Say whether a second instructor looks at the course's references before they are published."""
    with transaction() as conn:
        courses.set_review(conn, person(), course_id, json_data["wanted"], now())
        return courses.mine(conn, person())


@bp.get("/vehicles")
@bp.output(VehicleOut(many=True))
def vehicles() -> list[dict[str, Any]]:
    """Training vehicles."""
    person().must_be("instructor", "administrator")
    with reading() as conn:
        return list(queries.courses.vehicles(conn))
