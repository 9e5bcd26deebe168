"""Jobs: how far one is, told as it happens; and the last of them, for the administrator."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator

from apiflask import APIBlueprint, Schema, fields
from flask import Response, current_app

from tracebench.store.pool import Pool
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.queue import ListedJob
from tracebench.web import fields as f
from tracebench.web.context import now, person, reading, transaction
from tracebench.web.shares import STREAMS

bp = APIBlueprint("jobs", __name__, url_prefix="/api", tag="Jobs")

LOOK_S = 0.25
LONGEST_STREAM_S = 20.0
"""A stream ends then, and the browser asks again: no thread is held for good by a page that was left open."""

ENDED = ("done", "failed", "cancelled")


class JobOut(Schema):
    id = f.whole()
    kind = f.text()
    state = f.one_of("waiting", "running", *ENDED)
    progress = f.number()
    problem = f.text(allow_none=True)
    result = fields.Raw(required=True, allow_none=True)


class ListedJobOut(Schema):
    id = f.whole()
    kind = f.text()
    about = f.text()
    owner = f.text(allow_none=True)
    state = f.one_of("waiting", "running", *ENDED)
    tries = f.whole()
    progress = f.number()
    problem = f.text(allow_none=True)
    created_at = f.instant()
    started_at = f.instant(allow_none=True)
    ended_at = f.instant(allow_none=True)


@bp.get("/jobs")
@bp.output(ListedJobOut(many=True))
def latest() -> list[ListedJob]:
    """The last jobs, newest first."""
    with reading() as conn:
        return queue.latest(conn, person())


@bp.get("/jobs/<int:job_id>")
@bp.output(JobOut)
def one(job_id: int) -> queue.Job:
    """How far a job is, and what came of it."""
    with reading() as conn:
        return queue.one(conn, person(), job_id)


@bp.get("/jobs/<int:job_id>/events")
@bp.doc(responses={200: "server-sent events, each a job as JSON"})
def events(job_id: int) -> Response:
    """How far a job is, each time that it changes, until it has ended."""
    who = person()
    with transaction() as conn:
        first = queue.one(conn, who, job_id)
    give_back = STREAMS.take(who.id)
    pool: Pool = current_app.extensions["tracebench.pool"]

    def stream() -> Iterator[str]:
        told, job, end = None, first, time.monotonic() + LONGEST_STREAM_S
        while True:
            if job != told:
                yield f"data: {json.dumps(job)}\n\n"
                told = job
            if job["state"] in ENDED or time.monotonic() > end:
                return
            time.sleep(LOOK_S)
            with pool.transaction() as conn:
                job = queue.one(conn, who, job_id)

    response = Response(stream(), mimetype="text/event-stream", headers={"X-Accel-Buffering": "no"})
    response.call_on_close(give_back)
    return response


@bp.post("/jobs/<int:job_id>/cancel")
@bp.output(JobOut)
def cancel(job_id: int) -> queue.Job:
    """Stop a job that has not ended: the administrator, and the owner of an import."""
    with transaction() as conn:
        return queue.cancel(conn, person(), job_id, now())


@bp.post("/jobs/<int:job_id>/again")
@bp.output(JobOut)
def again(job_id: int) -> queue.Job:
    """Try a job again that failed."""
    person().must_be("administrator")
    with transaction() as conn:
        return queue.again(conn, person(), job_id, now())
