"""The audit trail, for the administrator."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import OneOf, Range

from tracebench.usecases.school import trail
from tracebench.web import fields as f
from tracebench.web.context import person, reading

bp = APIBlueprint("audit", __name__, url_prefix="/api", tag="Audit")


class PageIn(Schema):
    before = fields.Integer(load_default=None, validate=Range(min=1))
    about = fields.String(load_default=None, validate=OneOf(trail.KINDS))
    about_id = fields.Integer(load_default=None)
    person_id = fields.Integer(load_default=None)


class DifferenceOut(f.Rows):
    where = f.text()
    before = fields.Raw(required=True, allow_none=True)
    after = fields.Raw(required=True, allow_none=True)


class LineOut(f.Rows):
    id = f.whole()
    at = f.instant()
    who = f.text()
    did = f.text()
    action = f.text()
    about = f.one_of(*trail.KINDS)
    about_id = f.whole()
    title = f.text()
    changes = f.many(DifferenceOut)
    why = f.text()


@bp.get("/audit")
@bp.input(PageIn, location="query")
@bp.output(LineOut(many=True))
def page(query_data: dict[str, Any]) -> list[trail.Line]:
    """Who changed what: the newest fifty lines, or those before one."""
    with reading() as conn:
        return trail.page(
            conn,
            person(),
            query_data["before"],
            query_data["about"],
            query_data["about_id"],
            query_data["person_id"],
        )
