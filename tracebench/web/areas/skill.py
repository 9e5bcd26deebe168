"""Skill map and logbook."""

from __future__ import annotations

from apiflask import APIBlueprint, Schema

from tracebench.usecases.skill import maps as skills
from tracebench.usecases.skill.maps import Logbook
from tracebench.web import fields as f
from tracebench.web.context import person, reading

bp = APIBlueprint("skill", __name__, url_prefix="/api/courses", tag="Skill")


class SkillOut(f.Rows):
    key = f.text()
    title = f.text()


class CellOut(f.Rows):
    skill = f.text()
    estimate = f.number()
    low = f.number()
    high = f.number()
    criteria = f.whole()
    change = f.number(allow_none=True)


class MapLearnerOut(f.Rows):
    id = f.whole()
    name = f.text()
    sittings = f.whole()
    cells = f.many(CellOut)


class SkillMapOut(f.Rows):
    skills = f.many(SkillOut)
    learners = f.many(MapLearnerOut)


class PointOut(Schema):
    at = f.instant()
    estimate = f.number()
    low = f.number()
    high = f.number()


class SkillCourseOut(CellOut):
    title = f.text()
    course = f.many(PointOut)


class LogLearnerOut(Schema):
    id = f.whole()
    name = f.text()


class MistakeOut(Schema):
    title = f.text()
    times = f.whole()
    latest = f.text()


class LogSittingOut(Schema):
    id = f.whole()
    title = f.text()
    handed_in_at = f.instant()
    earned = f.number()
    points = f.number()


class LogbookOut(Schema):
    learner = f.nested(LogLearnerOut)
    skills = f.many(SkillCourseOut)
    mistakes = f.many(MistakeOut)
    sittings = f.many(LogSittingOut)
    practice = f.many(LogSittingOut)


@bp.get("/<int:course_id>/skill-map")
@bp.output(SkillMapOut)
def skill_map(course_id: int) -> skills.SkillMap:
    """Every learner by every skill."""
    with reading() as conn:
        return skills.skill_map(conn, person(), course_id)


@bp.get("/<int:course_id>/logbook/<int:learner_id>")
@bp.output(LogbookOut)
def logbook(course_id: int, learner_id: int) -> Logbook:
    """One learner's course; learners see their own."""
    with reading() as conn:
        return skills.logbook(conn, person(), course_id, learner_id)
