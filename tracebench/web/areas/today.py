"""Today."""

from __future__ import annotations

from apiflask import APIBlueprint

from tracebench.usecases.school import today as usecase
from tracebench.web import fields as f
from tracebench.web.areas.cards import CardItemOut
from tracebench.web.areas.courses import CourseOut
from tracebench.web.areas.sittings import SittingItemOut
from tracebench.web.context import now, person, reading

bp = APIBlueprint("today", __name__, url_prefix="/api", tag="Today")


class DriftingOut(f.Rows):
    id = f.whole()
    name = f.text()
    course_id = f.whole()
    skill = f.text()
    estimate = f.number()
    change = f.number()


class InHandOut(f.Rows):
    id = f.whole()
    title = f.text()
    state = f.one_of("draft", "published")
    due = f.text(allow_none=True)
    sittings = f.whole()


class WaitingOut(f.Rows):
    """A sitting that waits to be settled, told in a line."""

    id = f.whole()
    learner = f.text()
    title = f.text()
    attempt = f.whole()
    handed_in_at = f.instant()
    certainty = f.number(allow_none=True)
    slips = f.many(f.text())


class TodayOut(f.Rows):
    courses = f.many(CourseOut)
    in_hand = f.many(InHandOut)
    to_settle = f.whole()
    waiting = f.many(WaitingOut)
    drifting = f.many(DriftingOut)
    cards = f.many(CardItemOut)
    sittings = f.many(SittingItemOut)


@bp.get("/today")
@bp.output(TodayOut)
def today() -> usecase.Today:
    """What needs the person now, by role."""
    with reading() as conn:
        return usecase.for_person(conn, person(), now().date())
