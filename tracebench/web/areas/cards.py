"""Job cards."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length, OneOf, Range
from flask import Response, request

from tracebench.core.cards.documents import COMPLAINTS, EXAM, LONGEST_MIN, PRACTICE
from tracebench.core.cards.step import FIRST
from tracebench.core.circuits.conditions import ALWAYS
from tracebench.core.circuits.events.attribution import MOST_CYLINDERS
from tracebench.core.steps import KINDS
from tracebench.core.steps.compare.step import AGAINST
from tracebench.usecases.cards import before_publishing, job_cards
from tracebench.usecases.cards.job_cards import CardSheet
from tracebench.usecases.people.reach import REACHES
from tracebench.web import fields as f
from tracebench.web.areas.grade_schemas import StretchOut
from tracebench.web.areas.jobs import JobOut
from tracebench.web.areas.shelf import LimitBody, MadeOut
from tracebench.web.context import now, person, reading, transaction
from tracebench.web.files import handed_out

bp = APIBlueprint("cards", __name__, url_prefix="/api/cards", tag="Job cards")


class WireBody(Schema):
    label = f.text()
    seen = f.text()
    lane = fields.String(metadata={"description": "the key; never sent to learners"})


class OtherBody(Schema):
    value = f.number()
    uncertainty = f.number()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)


class StepBody(Schema):
    id = fields.String(load_default="")
    kind = f.one_of(*KINDS)
    reading = fields.String(load_default=None, allow_none=True)
    cylinder = fields.Integer(load_default=None, allow_none=True)
    event = fields.Integer(load_default=None, allow_none=True)
    capture = fields.String(load_default=FIRST)
    prompt = f.text()
    hint = fields.String(allow_none=True, metadata={"description": "told for part of the points"})
    after = fields.String(metadata={"description": "id of an earlier step that must be answered first"})
    calculation = fields.String(metadata={"description": "work_out: which"})
    figures = fields.Dict(keys=fields.String(), values=fields.Float(), metadata={"description": "work_out: given"})
    readings = fields.Dict(keys=fields.String(), values=fields.String(), metadata={"description": "work_out: read"})
    comes_to = fields.String(
        allow_none=True, metadata={"description": "work_out: the reading that the result is, figures being found"}
    )
    against = fields.String(validate=OneOf(AGAINST), metadata={"description": "compare"})
    within_pct = fields.Float(validate=Range(0, 100), metadata={"description": "compare: alike within"})
    version_id = fields.Integer(
        allow_none=True, metadata={"description": "compare: version of the reference beside; never sent to learners"}
    )
    other = fields.Nested(OtherBody, metadata={"description": "compare: what the other capture gives; set on saving"})
    names = fields.List(fields.String(), metadata={"description": "name: phases to be found"})
    among = fields.String(metadata={"description": "spot: cylinder, event or lane"})
    wires = fields.List(fields.Nested(WireBody), metadata={"description": "connect"})
    highest = fields.Float(metadata={"description": "set_up: what the signal reaches"})
    lasts_s = fields.Float(metadata={"description": "set_up: how long a record must be"})
    sees_s = fields.Float(allow_none=True, metadata={"description": "set_up: seconds of the shortest thing seen"})
    of = fields.String(metadata={"description": "record: its kind"})
    least = fields.Integer(metadata={"description": "record: rows wanted"})
    asks = fields.List(fields.String(), metadata={"description": "call: ruled_out, otherwise"})
    phrases = fields.List(fields.String(), metadata={"description": "explain: what the instructor looks for"})


class SourceBody(Schema):
    kind = f.one_of("trainer", "upload", "shelf")
    version_id = fields.Integer(
        allow_none=True, metadata={"description": "shelf: version of the reference whose capture everybody is given"}
    )
    fault = fields.String()
    layout = fields.String()
    firing_order = fields.String(validate=Length(max=40))
    cylinder = fields.Integer(validate=Range(1, MOST_CYLINDERS))
    severity = fields.Float()
    closed_v = fields.Float(validate=Range(0, 5))
    open_v = fields.Float(validate=Range(0, 5))
    type = fields.String()
    command = fields.String()
    altitude_m = fields.Float(validate=Range(-400, 5000))
    vehicle = fields.String()
    varied = fields.Boolean(metadata={"description": "each learner gets a part of their own, a little apart"})
    instead = fields.List(
        fields.String(), validate=Length(max=20), metadata={"description": "varied: faults that some are given instead"}
    )


class JobSheetQuery(Schema):
    reference = fields.Boolean(load_default=False, metadata={"description": "print the reference's strip as well"})


class CardBody(Schema):
    circuit = f.text()
    title = f.text()
    brief = f.text()
    source = f.nested(SourceBody)
    complaint = fields.String(load_default=ALWAYS.key, validate=OneOf(COMPLAINTS))
    schools = fields.Dict(keys=fields.String(), values=fields.String(), load_default=dict)
    rubric = fields.Dict(keys=fields.String(), values=fields.Float(), load_default=dict)
    attempts = f.whole()
    due = f.text(allow_none=True)
    opens = fields.String(allow_none=True, metadata={"description": "date before which nobody begins"})
    minutes = fields.Integer(allow_none=True, validate=Range(1, LONGEST_MIN), metadata={"description": "time limit"})
    mode = fields.String(validate=OneOf((EXAM, PRACTICE)), metadata={"description": "practice is told at once"})
    reference_version_id = f.whole(allow_none=True)
    limits = f.many(LimitBody)
    options = fields.Dict(keys=fields.String(), values=fields.String(), load_default=dict)
    steps = f.many(StepBody)
    points = fields.Dict(keys=fields.String(), values=fields.Float(), required=True)


class CardIn(Schema):
    course_id = f.whole()
    document = f.nested(CardBody)


class CardSaveIn(Schema):
    revision = f.whole()
    document = f.nested(CardBody)


class CardOut(Schema):
    id = f.whole()
    course_id = f.whole()
    title = f.text()
    state = f.one_of("draft", "published", "retired")
    revision = f.whole()
    version = f.whole()
    document = f.nested(CardBody)
    author = f.text()
    reach = f.one_of(*REACHES)
    owned = f.flag()
    may_change = f.flag()
    changed_at = f.instant()


class CardReachIn(Schema):
    reach = f.one_of(*REACHES)


class CopyIn(Schema):
    course_id = f.whole()


class SharedCardOut(Schema):
    id = f.whole()
    course = f.text()
    author = f.text()
    title = f.text()
    circuit = f.text()
    steps = f.whole()


class StrategyOut(Schema):
    key = f.text()
    title = f.text()
    share = f.number()


class RightOut(Schema):
    """What the tool earns for one criterion with right answers, and where on the trace it lies."""

    title = f.text()
    step = f.text()
    points = f.number()
    earned = f.number()
    reason = f.text()
    stretches = f.many(StretchOut)


class TypicalMistakeOut(Schema):
    key = f.text()
    title = f.text()
    cost = f.number(metadata={"description": "points lost by it"})
    where = f.many(f.text())


class OwnScoreOut(Schema):
    earned = f.number()
    points = f.number()
    results = f.many(RightOut)
    left_out = f.many(f.text(metadata={"description": "step that only a learner can answer"}))
    mistakes = f.many(TypicalMistakeOut)


class DrawnLaneOut(Schema):
    name = f.text()
    unit = f.text()
    bottom = f.number(metadata={"description": "ends of the lane's scale"})
    top = f.number()
    low = f.many(f.number())
    high = f.many(f.number())


class DrawnOut(Schema):
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    lanes = f.many(DrawnLaneOut)


class CheckOut(Schema):
    """`strategies` earn their share of the points for reading the trace without looking at it, 0 to 1."""

    on = f.one_of("trainer", "reference", "given", allow_none=True)
    strategies = f.many(StrategyOut)
    own = f.nested(OwnScoreOut, allow_none=True)
    trace = f.nested(DrawnOut, allow_none=True)


class AskedCheckOut(Schema):
    job = f.nested(JobOut, allow_none=True)
    check = f.nested(CheckOut, allow_none=True)


class TakenOut(f.Rows):
    id = f.whole()
    attempt = f.whole()
    state = f.one_of("open", "handed_in", "released")


class CardItemOut(f.Rows):
    id = f.whole()
    course_id = f.whole()
    course = f.text()
    title = f.text()
    state = f.one_of("draft", "published", "retired")
    version = f.whole()
    circuit = f.text()
    source = f.one_of("trainer", "upload", "shelf")
    due = f.text(allow_none=True)
    opens = f.text(allow_none=True)
    minutes = f.whole(allow_none=True)
    mode = f.one_of(EXAM, PRACTICE)
    attempts = f.whole()
    steps = f.whole()
    sittings = f.whole()
    waiting = f.whole()
    taken = f.many(TakenOut)


@bp.get("")
@bp.output(CardItemOut(many=True))
def listed() -> list[job_cards.CardItem]:
    """Cards of the person's courses."""
    with reading() as conn:
        return job_cards.listed(conn, person())


@bp.post("")
@bp.input(CardIn)
@bp.output(MadeOut, status_code=201)
def create(json_data: dict[str, Any]) -> dict[str, Any]:
    """A draft card."""
    with transaction() as conn:
        return {"id": job_cards.create(conn, person(), json_data["course_id"], json_data["document"], now())}


@bp.get("/shared")
@bp.output(SharedCardOut(many=True))
def shared() -> list[job_cards.SharedCard]:
    """Published cards of other courses that may be copied."""
    with reading() as conn:
        return job_cards.of_the_school(conn, person())


@bp.get("/<int:card_id>")
@bp.output(CardOut)
def one(card_id: int) -> CardSheet:
    """A card whole, for its instructors."""
    with transaction() as conn:
        return job_cards.one(conn, person(), card_id)


@bp.put("/<int:card_id>")
@bp.input(CardSaveIn)
@bp.output(CardOut)
def save(card_id: int, json_data: dict[str, Any]) -> CardSheet:
    """Save work on a card."""
    with transaction() as conn:
        return job_cards.save(conn, person(), card_id, json_data["revision"], json_data["document"], now())


@bp.get("/<int:card_id>/job-sheet")
@bp.input(JobSheetQuery, location="query")
@bp.doc(responses={200: "the card as PDF, with a code that opens its sitting"})
def job_sheet(card_id: int, query_data: dict[str, Any]) -> Response:
    """The card to print."""
    address = f"{request.host_url}begin/{card_id}"

    def write(path: Path) -> None:
        with transaction() as conn:
            path.write_bytes(job_cards.job_sheet(conn, person(), card_id, address, query_data["reference"]))

    return handed_out(write, f"job-{card_id}.pdf")


@bp.get("/<int:card_id>/file")
@bp.doc(responses={200: "the card's document, as docs/card.schema.json has it"})
def as_file(card_id: int) -> Response:
    """The card for another installation; making a card of such a document brings it in."""

    def write(path: Path) -> None:
        with transaction() as conn:
            path.write_text(json.dumps(job_cards.as_file(conn, person(), card_id), indent=2, ensure_ascii=False))

    return handed_out(write, f"card-{card_id}.json")


@bp.get("/<int:card_id>/check")
@bp.output(AskedCheckOut)
def check(card_id: int) -> before_publishing.Asked:
    """What the tool, typical mistakes and blind strategies come to on the card as it was last kept, or its job."""
    with transaction() as conn:
        return before_publishing.ask(conn, person(), card_id, now())


@bp.post("/<int:card_id>/publish")
@bp.output(CardOut)
def publish(card_id: int) -> CardSheet:
    """Freeze the next version."""
    with transaction() as conn:
        return job_cards.publish(conn, person(), card_id, now())


@bp.post("/<int:card_id>/retire")
@bp.output(CardOut)
def retire(card_id: int) -> CardSheet:
    """No new sittings."""
    with transaction() as conn:
        return job_cards.retire(conn, person(), card_id, now())


@bp.put("/<int:card_id>/reach")
@bp.input(CardReachIn)
@bp.output(CardOut)
def set_reach(card_id: int, json_data: dict[str, Any]) -> CardSheet:
    """Say who reaches it: its owner, its course's instructors, or all, to copy it."""
    with transaction() as conn:
        return job_cards.set_reach(conn, person(), card_id, json_data["reach"], now())


@bp.post("/<int:card_id>/copy")
@bp.input(CopyIn)
@bp.output(MadeOut, status_code=201)
def copy(card_id: int, json_data: dict[str, Any]) -> dict[str, Any]:
    """A draft of one's own of it, in a course of one's own."""
    with transaction() as conn:
        return {"id": job_cards.copy(conn, person(), card_id, json_data["course_id"], now())}
