"""Many files at once, on their way to the shelf."""

from __future__ import annotations

from typing import Any, cast

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length
from flask import request

from tracebench.usecases.jobs import queue
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import exchange, inbox
from tracebench.usecases.shelf.inbox import Received
from tracebench.usecases.shelf.values import InboxItem
from tracebench.web import fields as f
from tracebench.web.areas.captures import MappingIn
from tracebench.web.areas.jobs import JobOut
from tracebench.web.context import now, person, reading, settings, transaction
from tracebench.web.shares import FILES

bp = APIBlueprint("inbox", __name__, url_prefix="/api/inbox", tag="Inbox")


class FileIn(Schema):
    filename = f.text(validate=Length(1, 255))


class ItemsIn(Schema):
    ids = f.many(fields.Integer(), validate=Length(1, 2000))


class ChangeOut(Schema):
    uid = f.text()
    title = f.text()
    circuit = f.text()
    what = f.one_of("new", "same", "versions", "copy")
    versions = f.many(fields.Integer())


class BundleOut(Schema):
    upload_id = f.whole()
    filename = f.text()
    changes = f.many(ChangeOut)


class SentOut(Schema):
    ids = f.many(fields.Integer())
    bundle = f.nested(BundleOut, allow_none=True)


class TakeIn(Schema):
    uids = f.many(fields.String(validate=Length(32, 32)), validate=Length(1, 100_000))


class ChooseIn(Schema):
    circuit = f.text()
    mapping = fields.List(fields.Nested(MappingIn), load_default=None, allow_none=True, validate=Length(max=100))
    interval_s = fields.Float(load_default=None, allow_none=True)


class ProposalOut(f.Rows):
    circuit = f.text()
    share = f.number()
    reasons = f.many(f.text())


class FileColumnOut(f.Rows):
    position = f.whole()
    name = f.text()
    unit = f.text()


class LaneOut(f.Rows):
    position = f.whole()
    lane = f.text()
    factor = f.number()


class SameFileOut(f.Rows):
    id = f.whole()
    title = f.text()
    state = f.text()


class LookedOut(f.Rows):
    format = f.text()
    samples = f.whole()
    rate_hz = f.number()
    duration_s = f.number()
    columns = f.many(FileColumnOut)
    proposals = f.many(ProposalOut)
    circuit = f.text()
    mapping = f.many(LaneOut)
    remembered = f.flag()
    missing_lanes = f.many(f.text())
    call = f.one_of("sound", "faulty", "inconclusive")
    title = f.text()
    readings = f.whole()
    picture = f.text()
    same = f.many(SameFileOut)


class ItemOut(f.Rows):
    id = f.whole()
    filename = f.text()
    bytes = f.whole()
    state = f.one_of("looking", "ready", "refused", "making", "made")
    problem = f.text(allow_none=True)
    reference_id = f.whole(allow_none=True)
    looked = f.nested(LookedOut, allow_none=True)


@bp.get("")
@bp.output(ItemOut(many=True))
def listed() -> list[InboxItem]:
    """One's files on their way to the shelf, with what each holds as far as the tool can tell."""
    with reading() as conn:
        return inbox.listed(conn, person())


@bp.post("")
@bp.input(FileIn, location="query")
@bp.output(SentOut, status_code=201)
def send(query_data: dict[str, Any]) -> Received:
    """Send a file as the request's body, or a zip of files, each looked at by a job; or a bundle of references."""
    stream = cast(Any, request.stream)
    with FILES.held(person().id):
        return inbox.receive(transaction, settings().uploads, person(), query_data["filename"], stream, now())


@bp.post("/bundles/<int:upload_id>")
@bp.input(TakeIn)
@bp.output(JobOut, status_code=201)
def take(upload_id: int, json_data: dict[str, Any]) -> queue.Job:
    """Take references of a bundle in; a job does."""
    disk.check_reserve(settings().uploads)
    with transaction() as conn:
        return exchange.ask(conn, person(), upload_id, json_data["uids"], now())


@bp.post("/starter")
@bp.output(JobOut, status_code=201)
def starter() -> queue.Job:
    """Take in the starter shelf: references of every circuit, made by the trainer; a job does."""
    disk.check_reserve(settings().uploads)
    return exchange.ask_starter(transaction, settings().uploads, person(), now())


@bp.put("/<int:item_id>")
@bp.input(ChooseIn)
@bp.output({}, status_code=204)
def choose(item_id: int, json_data: dict[str, Any]) -> str:
    """Take a file for another circuit or its columns for other lanes; it is looked at again."""
    with transaction() as conn:
        inbox.choose(conn, person(), item_id, at=now(), **json_data)
    return ""


@bp.post("/accept")
@bp.input(ItemsIn)
@bp.output({}, status_code=204)
def accept(json_data: dict[str, Any]) -> str:
    """Make draft references of files as they were proposed."""
    disk.check_reserve(settings().uploads)
    with transaction() as conn:
        inbox.accept(conn, person(), json_data["ids"], now())
    return ""


@bp.post("/give-up")
@bp.input(ItemsIn)
@bp.output({}, status_code=204)
def give_up(json_data: dict[str, Any]) -> str:
    """Take files off the list; drafts that were made stay."""
    inbox.give_up(transaction, settings().uploads, person(), json_data["ids"])
    return ""
