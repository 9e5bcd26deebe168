"""Today."""

from __future__ import annotations

from apiflask import APIBlueprint

from tracebench.usecases import today as usecase
from tracebench.web import fields as f
from tracebench.web.areas.cards import CardItemOut
from tracebench.web.areas.courses import CourseOut
from tracebench.web.areas.marking import DeskItemOut
from tracebench.web.areas.sittings import SittingItemOut
from tracebench.web.context import person, transaction

bp = APIBlueprint("today", __name__, url_prefix="/api", tag="Today")


class WaitingOut(DeskItemOut):
    course_id = f.whole()


class DriftingOut(f.Rows):
    id = f.whole()
    name = f.text()
    course_id = f.whole()
    skill = f.text()
    estimate = f.number()
    change = f.number()


class TodayOut(f.Rows):
    courses = f.many(CourseOut)
    cards = f.many(CardItemOut)
    waiting = f.many(WaitingOut)
    drifting = f.many(DriftingOut)
    sittings = f.many(SittingItemOut)


@bp.get("/today")
@bp.output(TodayOut)
def today() -> usecase.Today:
    """What needs the person now, by role."""
    with transaction() as conn:
        return usecase.for_person(conn, person())
