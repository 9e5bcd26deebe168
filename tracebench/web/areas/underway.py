"""Who sits a card at the moment, for the instructors of its course, and more time for one of them."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length

from tracebench.usecases.marking import underway
from tracebench.web import fields as f
from tracebench.web.context import now, person, reading, transaction

bp = APIBlueprint("underway", __name__, url_prefix="/api", tag="Sittings under way")


class MoreTimeIn(Schema):
    minutes = f.whole()
    why = fields.String(load_default="", validate=Length(max=400))


class UnderWayOut(Schema):
    id = f.whole()
    learner = f.text()
    card = f.text()
    card_id = f.whole()
    attempt = f.whole()
    practice = f.flag()
    started_at = f.instant()
    saved_at = f.instant()
    has_capture = f.flag()
    done = f.whole()
    steps = f.whole()
    ends_at = f.instant(allow_none=True)


@bp.post("/sittings/<int:sitting_id>/more-time")
@bp.input(MoreTimeIn)
@bp.output(UnderWayOut(many=True))
def more_time(sitting_id: int, json_data: dict[str, Any]) -> list[underway.UnderWay]:
    """More minutes for an open sitting, by an instructor of its course; answers all that are open there."""
    with transaction() as conn:
        return underway.give_time(conn, person(), sitting_id, json_data["minutes"], json_data["why"], now())


@bp.get("/courses/<int:course_id>/under-way")
@bp.output(UnderWayOut(many=True))
def under_way(course_id: int) -> list[underway.UnderWay]:
    """Open sittings of a course, the one saved last first."""
    with reading() as conn:
        return underway.listed(conn, person(), course_id)
