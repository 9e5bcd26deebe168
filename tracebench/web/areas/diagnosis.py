"""Whole diagnoses: suspects of a case, and cases drawn on the trainer. For those who teach; nothing is kept."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length, Range

from tracebench.usecases.diagnosis import drawing, suspecting
from tracebench.usecases.diagnosis.drawing import DoneRow, DrawnRow
from tracebench.usecases.diagnosis.suspecting import ChoicesRow, SuspicionRow
from tracebench.usecases.school import disk
from tracebench.web import fields as f
from tracebench.web.areas.answer_schemas import AnswerOut
from tracebench.web.context import now, person, settings, transaction

bp = APIBlueprint("diagnosis", __name__, url_prefix="/api/diagnosis", tag="Whole diagnoses")

MOST_SEED = 2**31 - 1


class TestChoiceOut(Schema):
    key = f.text()
    title = f.text()


class CaseChoicesOut(Schema):
    fuels = f.many(f.text())
    ignitions = f.many(f.text())
    injections = f.many(f.text())
    throttles = f.many(f.text())
    load_sensors = f.many(f.text())
    oxygens = f.many(f.text())
    chargings = f.many(f.text())
    symptoms = f.many(f.text())
    whens = f.many(f.text())
    conditions = f.many(f.text())
    tests = f.many(TestChoiceOut)


class SuspectOut(Schema):
    cause = f.text()
    title = f.text()
    place = f.text()
    group = f.text()
    probability = f.number()
    ruled_out = f.flag()
    speaks_for = f.many(f.whole(), metadata={"description": "numbers of the evidence, from 0"})
    speaks_against = f.many(f.whole())


class CausePairOut(Schema):
    causes = f.many(f.text())
    probability = f.number()


class NextTestOut(Schema):
    test = f.text()
    title = f.text()
    at = f.text(allow_none=True)
    what = f.text(metadata={"description": "the part of a swap, or what is looked at"})
    conditions = f.many(f.text())
    minutes = f.number()
    bits = f.number()
    bits_per_minute = f.number()


class SuspicionOut(Schema):
    suspects = f.many(SuspectOut)
    pairs = f.many(CausePairOut)
    next = f.many(NextTestOut)
    places = fields.Dict(keys=fields.String(), values=fields.List(fields.String()), required=True)
    minutes = f.many(f.number(), metadata={"description": "of each piece of evidence, in its order"})
    unproven = f.many(f.text())
    supported = f.flag()
    why_not = f.many(f.text())


class CaseIn(Schema):
    case = fields.Dict(keys=fields.String(), required=True)


class VehicleIn(Schema):
    vehicle = fields.Dict(keys=fields.String(), required=True)
    seed = fields.Integer(required=True, validate=Range(0, MOST_SEED))


class DrawnCauseOut(Schema):
    cause = f.text()
    title = f.text()
    symptoms = f.many(f.text())
    when = f.many(f.text())


class DoIn(CaseIn):
    cause = fields.String(required=True, validate=Length(max=80))
    seed = fields.Integer(required=True, validate=Range(0, MOST_SEED))
    test = fields.String(required=True, validate=Length(max=40))
    at = fields.String(required=True, allow_none=True, validate=Length(max=40))
    what = fields.String(required=True, validate=Length(max=40))
    conditions = fields.List(fields.String(validate=Length(max=20)), required=True, validate=Length(max=8))


class DoneOut(Schema):
    test = f.text()
    at = f.text(allow_none=True)
    conditions = f.many(f.text())
    capture_id = f.whole(allow_none=True)
    answer = f.nested(AnswerOut, allow_none=True)
    rows = f.many(fields.Dict(keys=fields.String(), values=fields.String()), allow_none=True)


@bp.get("/choices")
@bp.output(CaseChoicesOut)
def choices() -> ChoicesRow:
    """What a case is written with."""
    return suspecting.choices(person())


@bp.post("/suspects")
@bp.input(CaseIn)
@bp.output(SuspicionOut)
def suspects(json_data: dict[str, Any]) -> SuspicionRow:
    """Who is suspected in a case, and what to test next; the case as `tracebench suspects` reads it."""
    return suspecting.suspects(person(), json_data["case"])


@bp.post("/drawn")
@bp.input(VehicleIn)
@bp.output(DrawnCauseOut)
def drawn(json_data: dict[str, Any]) -> DrawnRow:
    """A cause drawn for a vehicle on the trainer."""
    return drawing.drawn(person(), json_data["vehicle"], json_data["seed"])


@bp.post("/done")
@bp.input(DoIn)
@bp.output(DoneOut)
def done(json_data: dict[str, Any]) -> DoneRow:
    """One test done on the trainer's vehicle, as evidence."""
    j = json_data
    disk.check_reserve(settings().uploads)
    return drawing.done(
        transaction, person(), now(), j["case"], j["cause"], j["seed"], j["test"], j["at"], j["what"], j["conditions"]
    )
