"""Uploads, captures and the tiles that the strip draws."""

from __future__ import annotations

import secrets
from pathlib import Path
from typing import Any, cast

import numpy as np
from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length, OneOf, Range
from flask import Response, request
from numpy.typing import NDArray

from tracebench.core.cards.schools import GROUNDS
from tracebench.core.circuits.events.attribution import MOST_CYLINDERS
from tracebench.core.errors import BadOption
from tracebench.formats import writing
from tracebench.store import captures as store
from tracebench.store.pool import Connection
from tracebench.usecases.errors import NotFound
from tracebench.usecases.jobs.queue import Job
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import captures, recordings, uploads
from tracebench.usecases.shelf.recordings import PROBE_FACTORS
from tracebench.usecases.shelf.values import CaptureHead, OwnCaptures, Upload, Values
from tracebench.usecases.sitting import recording
from tracebench.web import fields as f
from tracebench.web.areas.jobs import JobOut
from tracebench.web.context import may_be_kept, now, person, reading, settings, transaction
from tracebench.web.files import handed_out
from tracebench.web.shares import FILES

bp = APIBlueprint("captures", __name__, url_prefix="/api", tag="Captures")

HIGHEST_LEVEL = 24

MOST_ON_A_DEVICE = 250_000
"""Samples of a lane, a megabyte, that a page may ask for whole, to read pegs while there is no network."""


class ColumnOut(Schema):
    position = f.whole()
    cell = f.text()
    name = f.text()
    unit = f.text()
    first_values = f.many(f.text())
    is_time = f.flag()


class LayoutOut(Schema):
    format = f.text()
    delimiter = f.text()
    decimal = f.text()
    encoding = f.text()
    data_line = f.whole()
    header = f.many(f.text())
    columns = f.many(ColumnOut)
    time_known = f.flag()
    interval_s = f.number(allow_none=True)


class MappingIn(Schema):
    position = f.whole()
    lane = f.text()
    factor = f.number()


class UploadOut(Schema):
    upload_id = f.whole()
    filename = f.text()
    layout = f.nested(LayoutOut)
    mapping = f.many(MappingIn)
    remembered = f.flag()


class ImportIn(Schema):
    upload_id = f.whole()
    circuit = f.text()
    mapping = f.many(MappingIn)
    interval_s = fields.Float(load_default=None, allow_none=True)


class LaneOut(f.Rows):
    lane = f.text()
    unit = f.text()
    column_name = f.text()
    factor = f.number()
    lowest = f.number()
    highest = f.number()


class ScanOut(f.Rows):
    name = f.text()
    unit = f.text()
    points = f.many(f.many(f.number()))


class CaptureOut(f.Rows):
    id = f.whole()
    circuit = f.text()
    title = f.text()
    origin = f.one_of("file", "trainer", "instrument")
    samples = f.whole()
    interval_s = f.number()
    start_s = f.number()
    tile_bins = f.whole()
    notes = f.many(f.text())
    lanes = f.many(LaneOut)
    scan = f.many(ScanOut)
    created_at = f.instant()


class ImportedOut(Schema):
    """One of the two: the capture, or the job that makes it."""

    capture = f.nested(CaptureOut, allow_none=True)
    job = f.nested(JobOut, allow_none=True)


class LaneValuesOut(Schema):
    lane = f.text()
    unit = f.text()
    at = f.many(f.number())
    level = f.number()
    least = f.number()
    most = f.number()


class ValuesOut(Schema):
    instants = f.many(f.number())
    lanes = f.many(LaneValuesOut)


class ValuesIn(Schema):
    at = f.text(metadata={"description": "One or two instants in seconds, separated by a comma."})


class UploadIn(Schema):
    filename = f.text()
    circuit = f.text()


class TriggerIn(Schema):
    lane = f.text()
    level = f.number()
    edge = f.one_of("rising", "falling")
    pre = f.number(validate=Range(0, 0.9))


class ScopeIn(Schema):
    range_v = f.number()
    duration_s = f.number()
    rate_hz = f.number()
    ground = f.one_of(*GROUNDS)
    bits = fields.Integer(load_default=12)
    probe_factor = fields.Float(load_default=1.0, validate=OneOf(PROBE_FACTORS))
    probe_reversed = fields.Boolean(load_default=False)
    probe_zeroed = fields.Boolean(load_default=True)
    probe_scaled = fields.Boolean(load_default=True)
    coupling = f.one_of("dc", "ac", required=False, load_default="dc")
    bandwidth_hz = fields.Float(load_default=None, allow_none=True, validate=Range(1, 1_000_000))
    peak_capture = fields.Boolean(load_default=False)
    trigger = fields.Nested(TriggerIn, load_default=None, allow_none=True)


class RecordIn(ScopeIn):
    manoeuvre = fields.String(load_default="")
    sweeps = fields.Integer(load_default=2, validate=Range(0, 10))
    way_s = fields.Float(load_default=6.0, validate=Range(0.1, 60))
    hold_s = fields.Float(load_default=0.8, validate=Range(0, 30))
    movement = fields.List(
        fields.List(fields.Float(), validate=Length(2, 2)),
        load_default=None,
        allow_none=True,
        validate=Length(max=20_000),
    )


class TrainerRecordIn(RecordIn):
    circuit = f.text()
    fault = fields.String(load_default="none")
    severity = fields.Float(load_default=1.0, validate=Range(0, 1))
    layout = fields.String(load_default="")
    firing_order = fields.String(load_default="", validate=Length(max=40))
    cylinder = fields.Integer(load_default=3, validate=Range(1, MOST_CYLINDERS))


class InstrumentIn(Schema):
    circuit = f.text()
    host = f.text()
    port = f.whole()


class UnusedOut(f.Rows):
    id = f.whole()
    circuit = f.text()
    title = f.text()
    origin = f.text()
    samples = f.whole()
    stored_bytes = f.whole()
    created_at = f.instant()


class OwnCapturesOut(Schema):
    taken_bytes = f.whole()
    share_bytes = f.whole()
    captures = f.many(UnusedOut)


class FileQuery(Schema):
    ending = f.one_of(*writing.WRITERS)


class GiveUpIn(Schema):
    ids = f.many(fields.Integer(), validate=Length(1, 1000))


def shaped(head: CaptureHead) -> dict[str, Any]:
    return {
        **head,
        "tile_bins": store.TILE_BINS,
        "notes": head["detail"]["notes"],
        "scan": head["detail"].get("scan", []),
    }


@bp.post("/uploads")
@bp.input(UploadIn, location="query")
@bp.output(UploadOut, status_code=201)
def upload(query_data: dict[str, Any]) -> Upload:
    """Send a file as the request's body; answers how it was understood and a mapping to confirm."""
    stream = cast(Any, request.stream)
    name, circuit = query_data["filename"], query_data["circuit"]
    with FILES.held(person().id):
        return uploads.receive(transaction, settings().uploads, person(), name, stream, circuit, now())


@bp.post("/captures")
@bp.input(ImportIn)
@bp.output(ImportedOut, status_code=201)
def import_capture(json_data: dict[str, Any]) -> dict[str, Any]:
    """Import an uploaded file with the lanes confirmed; a large one is read by a job, which tells the capture's id."""
    disk.check_reserve(settings().uploads)
    with FILES.held(person().id):
        return _told(uploads.import_upload(transaction, settings().uploads, person(), at=now(), **json_data))


@bp.post("/captures/trainer")
@bp.input(TrainerRecordIn)
@bp.output(ImportedOut, status_code=201)
def record(json_data: dict[str, Any]) -> dict[str, Any]:
    """An instructor's own recording on the trainer, sound or with a fault; a long one is made by a job."""
    source = {key: json_data.pop(key) for key in ("fault", "severity", "layout", "firing_order", "cylinder")}
    circuit, trainer_settings = json_data.pop("circuit"), cast(recordings.TrainerSettings, json_data)
    recipe = recording.Recipe(circuit, source, trainer_settings, secrets.randbelow(1_000_000))
    disk.check_reserve(settings().uploads)
    return _told(recording.of_ones_own(transaction, person(), recipe, now()))


def _told(done: int | Job) -> dict[str, Any]:
    """A capture that is there, or the job that makes it."""
    if not isinstance(done, int):
        return {"capture": None, "job": done}
    with transaction() as conn:
        return {"capture": shaped(captures.in_reach(conn, person(), done)), "job": None}


@bp.post("/captures/instrument")
@bp.input(InstrumentIn)
@bp.output(CaptureOut, status_code=201)
def from_instrument(json_data: dict[str, Any]) -> dict[str, Any]:
    """Run a scope that speaks SCPI on a loopback port of this machine, and keep its record."""
    capture = recordings.read_instrument(person(), **json_data, scope_ports=settings().scope_ports)
    with transaction() as conn:
        capture_id = recordings.keep_from_instrument(conn, person(), capture=capture, at=now(), **json_data)
        return shaped(captures.in_reach(conn, person(), capture_id))


@bp.get("/captures/unused")
@bp.output(OwnCapturesOut)
def unused() -> OwnCaptures:
    """One's own captures that nothing holds, and what all of one's captures take."""
    with transaction() as conn:
        return captures.unused(conn, person())


@bp.post("/captures/give-up")
@bp.input(GiveUpIn)
@bp.output(OwnCapturesOut)
def give_up(json_data: dict[str, Any]) -> OwnCaptures:
    """Delete captures of one's own that nothing holds; all or none."""
    with transaction() as conn:
        captures.give_up(conn, person(), json_data["ids"])
        return captures.unused(conn, person())


def _reached(conn: Connection, capture_id: int) -> CaptureHead:
    """A capture's head; one's own may be kept for a time without network."""
    head = captures.in_reach(conn, person(), capture_id)
    if captures.is_own(conn, person(), head):
        may_be_kept()
    return head


@bp.get("/captures/<int:capture_id>")
@bp.output(CaptureOut)
def head(capture_id: int) -> dict[str, Any]:
    """A capture without its samples."""
    with reading() as conn:
        return shaped(_reached(conn, capture_id))


@bp.get("/captures/<int:capture_id>/file")
@bp.input(FileQuery, location="query")
@bp.doc(responses={200: "the capture as a file"})
def as_file(capture_id: int, query_data: dict[str, Any]) -> Response:
    """A capture as a file of an open format."""
    ending = query_data["ending"]
    with transaction() as conn:
        head = captures.in_reach(conn, person(), capture_id)

    def written(path: Path) -> None:
        with transaction() as conn:
            capture = store.load(conn, capture_id)
        writing.write(path, capture, ending)

    return handed_out(written, f"{head['circuit']}-{capture_id}.{ending}")


@bp.get("/captures/<int:capture_id>/values")
@bp.input(ValuesIn, location="query")
@bp.output(ValuesOut)
def values(capture_id: int, query_data: dict[str, Any]) -> Values:
    """Samples at one or two pegs, and each lane's level between them."""
    try:
        instants = [float(part) for part in query_data["at"].split(",")][:2]
    except ValueError:
        instants = []
    if not instants or not np.all(np.isfinite(instants)):
        raise BadOption(f"at={query_data['at']!r}: expected one or two numbers of seconds")
    with reading() as conn:
        return captures.values_at(conn, person(), capture_id, instants)


@bp.get("/captures/<int:capture_id>/lanes/<lane>/tiles/<int:level>/<int:number>")
@bp.doc(responses={200: "float32 values"})
def tile(capture_id: int, lane: str, level: int, number: int) -> Response:
    """Little-endian float32: samples at level 0, else (low, high) of bins of 2^level samples. Never changes."""
    if level > HIGHEST_LEVEL:
        raise NotFound(f"there is no level {level}")
    with reading() as conn:
        _reached(conn, capture_id)
        try:
            row = store.tile(conn, capture_id, lane, level, number)
        except KeyError:
            raise NotFound(f"this capture has no lane {lane!r}") from None
    return _as_floats(row)


@bp.get("/captures/<int:capture_id>/lanes/<lane>/samples")
@bp.doc(responses={200: "float32 values"})
def samples(capture_id: int, lane: str) -> Response:
    """Little-endian float32: all samples of a lane that is short enough to be kept on a device. Never changes."""
    with reading() as conn:
        head = _reached(conn, capture_id)
        if head["samples"] > MOST_ON_A_DEVICE:
            told = f"{head['samples']:,} samples are too many for a device to keep; {MOST_ON_A_DEVICE:,} are not"
            raise BadOption(told)
        try:
            row = store.samples_of(conn, capture_id, lane, 0, head["samples"])
        except KeyError:
            raise NotFound(f"this capture has no lane {lane!r}") from None
    return _as_floats(row)


def _as_floats(values: NDArray[np.floating[Any]]) -> Response:
    response = Response(values.astype(np.dtype("<f4")).tobytes(), mimetype="application/octet-stream")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
