"""Courses with their people, and the training vehicles."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema

from tracebench.core.errors import BadOption
from tracebench.store.queries import queries
from tracebench.usecases.people import course_in_reach
from tracebench.web import fields as f
from tracebench.web.areas.session import ListedPersonOut
from tracebench.web.context import now, person, transaction

bp = APIBlueprint("courses", __name__, url_prefix="/api", tag="Courses")


class CourseOut(Schema):
    id = f.whole()
    title = f.text()


class VehicleOut(Schema):
    id = f.whole()
    name = f.text()
    engine = f.text()
    bay = f.text()


class CourseIn(Schema):
    title = f.text()


class MemberIn(Schema):
    person_id = f.whole()
    member = f.flag()


@bp.get("/courses")
@bp.output(CourseOut(many=True))
def mine() -> list[dict[str, Any]]:
    """The courses of the person who asks; all of them for the administrator."""
    with transaction() as conn:
        if person().role == "administrator":
            return list(queries.courses.all_courses(conn))
        return list(queries.courses.of_person(conn, person_id=person().id))


@bp.post("/courses")
@bp.input(CourseIn)
@bp.output(CourseOut(many=True), status_code=201)
def add(json_data: dict[str, Any]) -> list[dict[str, Any]]:
    """A new course."""
    person().must_be("administrator")
    if not 1 <= len(json_data["title"].strip()) <= 120:
        raise BadOption("title: 1 to 120 characters")
    with transaction() as conn:
        queries.courses.add(conn, title=json_data["title"].strip(), at=now())
        return list(queries.courses.all_courses(conn))


@bp.get("/courses/<int:course_id>/members")
@bp.output(ListedPersonOut(many=True))
def members(course_id: int) -> list[dict[str, Any]]:
    """People of a course, for its instructors and the administrator."""
    person().must_be("instructor", "administrator")
    with transaction() as conn:
        course_in_reach(conn, person(), course_id)
        return list(queries.courses.members(conn, course_id=course_id))


@bp.post("/courses/<int:course_id>/members")
@bp.input(MemberIn)
@bp.output(ListedPersonOut(many=True))
def set_member(course_id: int, json_data: dict[str, Any]) -> list[dict[str, Any]]:
    """Bring a person into a course or take them out; what they did stays."""
    person().must_be("administrator")
    change = queries.courses.join_course if json_data["member"] else queries.courses.leave_course
    with transaction() as conn:
        change(conn, course_id=course_id, person_id=json_data["person_id"])
        return list(queries.courses.members(conn, course_id=course_id))


@bp.get("/vehicles")
@bp.output(VehicleOut(many=True))
def vehicles() -> list[dict[str, Any]]:
    """Training vehicles."""
    person().must_be("instructor", "administrator")
    with transaction() as conn:
        return list(queries.courses.vehicles(conn))
