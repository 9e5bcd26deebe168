"""The trainer under a learner's own hands: what they do goes in, and what the scope shows comes as it happens."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from typing import Any, cast

from apiflask import APIBlueprint, Schema, fields
from flask import Response, current_app
from marshmallow.validate import Length, Range

from tracebench.bench.controls import Move
from tracebench.bench.trainer import Stretch
from tracebench.core.errors import TraceBenchError
from tracebench.store.pool import Pool
from tracebench.usecases.errors import Conflict
from tracebench.usecases.school import disk
from tracebench.usecases.shelf.recordings import TrainerSettings
from tracebench.usecases.sitting import trainer_run
from tracebench.usecases.sitting.trainer_run import RunTold
from tracebench.web import fields as f
from tracebench.web.areas.captures import ScopeIn
from tracebench.web.areas.sittings import RecordedOut, recorded
from tracebench.web.context import now, person, settings, transaction
from tracebench.web.shares import STREAMS

bp = APIBlueprint("trainer_runs", __name__, url_prefix="/api", tag="Trainer")

LOOK_S = 0.4
RESTS, LONGEST_REST_S = 2.0, 1.5
"""A stream rests for at least so many times the processor time that a picture took: many learners share two of them.

The first picture of a process loads the vehicle and takes a second: that must not hold up the next.
"""

LONGEST_STREAM_S = 30.0
AGAIN_MS = 200


class RunSettingsIn(ScopeIn):
    wires = fields.Dict(
        keys=fields.String(validate=Length(1, 40)),
        values=fields.String(validate=Length(1, 40)),
        load_default=None,
        allow_none=True,
        validate=Length(max=12),
        metadata={"description": "lane: the wire that its probe is on"},
    )


class RunOut(Schema):
    run = f.whole()
    elapsed_s = f.number()
    ends_s = f.number()
    base_s = f.number(metadata={"description": "where in the run the records of these settings begin"})
    settings = f.nested(RunSettingsIn)
    controls = fields.Dict(keys=fields.String(), values=fields.Float(), required=True)


class LookOut(Schema):
    run = f.nested(RunOut, allow_none=True)


class MoveIn(Schema):
    at_s = f.number(validate=Range(0))
    control = f.text(validate=Length(1, 16))
    value = f.number()


class MovesIn(Schema):
    run = f.whole()
    moves = fields.List(fields.Nested(MoveIn), required=True, validate=Length(max=400))
    wait_s = fields.Float(load_default=0.0)


class ScopeChangeIn(Schema):
    run = f.whole()
    settings = fields.Nested(RunSettingsIn, required=True)


class FreezeIn(Schema):
    run = f.whole()
    begin_s = f.number()
    seconds = f.number()


class WatchIn(Schema):
    run = f.whole()


@bp.post("/sittings/<int:sitting_id>/run")
@bp.input(RunSettingsIn)
@bp.output(RunOut)
def begin(sitting_id: int, json_data: dict[str, Any]) -> RunTold:
    """Start the trainer with its key off; what it did before is over."""
    return trainer_run.begin(transaction, person(), sitting_id, cast(TrainerSettings, json_data), now())


@bp.get("/sittings/<int:sitting_id>/run")
@bp.output(LookOut)
def look(sitting_id: int) -> dict[str, Any]:
    """The run that this sitting has, if it has one."""
    with transaction() as conn:
        return {"run": trainer_run.going(conn, person(), sitting_id, now())}


@bp.post("/sittings/<int:sitting_id>/run/moves")
@bp.input(MovesIn)
@bp.output(RunOut)
def move(sitting_id: int, json_data: dict[str, Any]) -> RunTold:
    """What hands did since the last time; then let time go by."""
    moves: list[Move] = [(m["at_s"], m["control"], m["value"]) for m in json_data["moves"]]
    with transaction() as conn:
        return trainer_run.move(conn, person(), sitting_id, json_data["run"], moves, json_data["wait_s"], now())


@bp.put("/sittings/<int:sitting_id>/run/scope")
@bp.input(ScopeChangeIn)
@bp.output(RunOut)
def set_scope(sitting_id: int, json_data: dict[str, Any]) -> RunTold:
    """Set the scope or move a probe while the trainer runs; the next record begins now."""
    return trainer_run.set_scope(transaction, person(), sitting_id, json_data["run"], json_data["settings"], now())


@bp.post("/sittings/<int:sitting_id>/run/freeze")
@bp.input(FreezeIn)
@bp.output(RecordedOut)
def freeze(sitting_id: int, json_data: dict[str, Any]) -> dict[str, Any]:
    """Keep what the scope showed as the capture of the sitting; a job does it where that is long."""
    disk.check_reserve(settings().uploads)
    stretch = Stretch(json_data["begin_s"], json_data["seconds"])
    job = trainer_run.freeze(transaction, person(), sitting_id, json_data["run"], stretch, now())
    return recorded(sitting_id, job)


def rest_s(took_s: float, worked_s: float) -> float:
    """How long a stream rests after a picture, by the time that passed and the processor time that it took."""
    return max(LOOK_S - took_s, min(RESTS * worked_s, LONGEST_REST_S))


@bp.get("/sittings/<int:sitting_id>/run/events")
@bp.input(WatchIn, location="query")
@bp.doc(responses={200: "server-sent events, each what the scope shows as JSON"})
def events(sitting_id: int, query_data: dict[str, Any]) -> Response:
    """What the scope shows, several times a second, until the run is over or another takes its place."""
    who, number = person(), query_data["run"]
    pool: Pool = current_app.extensions["tracebench.pool"]
    with pool.transaction() as conn:
        if trainer_run.look(conn, who, sitting_id, now()).number != number:
            raise Conflict("the trainer was started anew in another window; look there")
    give_back = STREAMS.take(who.id)

    def stream() -> Iterator[str]:
        end = time.monotonic() + LONGEST_STREAM_S
        moves: list[Move] = []
        # A browser that is left to itself asks again after seconds.
        yield f"retry: {AGAIN_MS}\n\n"
        while time.monotonic() < end:
            begun, worked = time.monotonic(), time.thread_time()
            try:
                with pool.transaction() as conn:
                    run = trainer_run.look(conn, who, sitting_id, now())
                    if run.moves != len(moves):
                        moves = trainer_run.moves_of(conn, run)
            except TraceBenchError:
                # Handed in, or its time is up: the window is told by its next request.
                return
            if run.number != number:
                return
            shown = trainer_run.frame(run, moves, now())
            yield f"data: {json.dumps(shown)}\n\n"
            if shown["over"]:
                return
            time.sleep(rest_s(time.monotonic() - begun, time.thread_time() - worked))

    response = Response(stream(), mimetype="text/event-stream", headers={"X-Accel-Buffering": "no"})
    response.call_on_close(give_back)
    return response
