"""Records typed beside a capture: what kinds there are, adding, reading and taking away."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields

from tracebench.usecases.sitting import records
from tracebench.usecases.sitting.records import RecordKind, RecordShown
from tracebench.web import fields as f
from tracebench.web.context import may_be_kept, now, person, reading, transaction

bp = APIBlueprint("records", __name__, url_prefix="/api", tag="Records")


class RecordColumnOut(Schema):
    key = f.text()
    title = f.text()
    what = f.one_of("number", "resistance", "text", "choice")
    unit = f.text()
    needed = f.flag()
    choices = f.many(f.text())


class RecordKindOut(Schema):
    key = f.text()
    title = f.text()
    advice = f.text()
    timed = f.flag()
    columns = f.many(RecordColumnOut)
    cautions = f.many(f.text())


class RowSaidOut(Schema):
    state = f.one_of("inside", "outside", "told")
    text = f.text()


class RecordFindingOut(Schema):
    code = f.text()
    kind = f.one_of("fault", "note")
    text = f.text()


class SaidOut(Schema):
    rows = f.many(RowSaidOut)
    findings = f.many(RecordFindingOut)


class RecordOut(Schema):
    id = f.whole()
    kind = f.text()
    title = f.text()
    rows = f.many(fields.Dict(keys=fields.String(), values=fields.String()))
    said = f.nested(SaidOut, allow_none=True)
    earlier = f.flag()
    author = f.text()
    created_at = f.instant()


class RecordKeepIn(Schema):
    kind = f.text()
    rows = f.many(fields.Dict(keys=fields.String(), values=fields.String()))


@bp.get("/record-kinds")
@bp.output(RecordKindOut(many=True))
def kinds() -> list[RecordKind]:
    """What may be recorded beside a capture."""
    person()
    may_be_kept()
    return records.kinds()


@bp.get("/captures/<int:capture_id>/records")
@bp.output(RecordOut(many=True))
def beside(capture_id: int) -> list[RecordShown]:
    """Records beside a capture, judged."""
    with reading() as conn:
        return records.beside(conn, person(), capture_id)


@bp.post("/captures/<int:capture_id>/records")
@bp.input(RecordKeepIn)
@bp.output(RecordOut(many=True), status_code=201)
def add(capture_id: int, json_data: dict[str, Any]) -> list[RecordShown]:
    """Keep a record beside a capture; answers all of them."""
    with transaction() as conn:
        return records.add(conn, person(), capture_id, at=now(), **json_data)


@bp.delete("/captures/<int:capture_id>/records/<int:record_id>")
@bp.output(RecordOut(many=True), status_code=200)
def take_away(capture_id: int, record_id: int) -> list[RecordShown]:
    """Take a record away; answers those that are left."""
    with transaction() as conn:
        return records.take_away(conn, person(), capture_id, record_id, now())
