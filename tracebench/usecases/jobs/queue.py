"""Work that nobody waits for with a page open: a queue in the database, taken by workers, done once.

What a job does is worked out while nothing is held; what comes of it is kept in the same transaction that marks the
job done, and only while the job is still this worker's. A worker that dies leaves a lease that runs out, and the job
is taken again from the beginning.
"""

from __future__ import annotations

import json
import logging
import threading
import time
from collections.abc import Callable, Mapping
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Literal, TypedDict, cast

from tracebench.core.errors import TraceBenchError
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.people.person import Person

LEASE = timedelta(seconds=20)
"""How long a job stays its worker's without a word from it."""

BEAT_S, LOOK_S, LEAST_NEWS = 5.0, 1.0, 0.05
"""A job is renewed so often, and when it is seen to be further by so much than was told."""

MOST_TRIES = 5
"""A job that broke so often is given up; one that its worker did not survive counts as well."""

LONGEST_S = 1200.0
"""A worker that is at one job for longer is taken for stuck; the longest, a demo class or a whole shelf, take two
minutes."""

URGENCY = {"time-up": 0, "grade": 1, "record": 2, "check": 2}
OTHERS = 5
"""What goes first where several wait: what ends a sitting, what somebody waits for to be marked, what a page shows."""

LOOKED_AT = 12
"""So many that are due are tried to be taken: more than there are workers."""

FIRST_PAUSE = timedelta(seconds=2)
"""Before a job that broke is tried again; each further pause is twice as long."""

MOST_LISTED = 100

State = Literal["waiting", "running", "done", "failed", "cancelled"]
Payload = Mapping[str, Any]
Keep = Callable[[Connection], Any]
"""Keeps what a job came to, in the transaction that ends it; answers what is told of it."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """What keeps a job's result, and what is done once that is sure, such as taking a file away."""

    keep: Keep
    after: Callable[[], None]


Work = Callable[[Begin, Payload, datetime], Keep | Outcome]
"""Works a job out with nothing held. A TraceBenchError says that it can never be done."""

OF_ITS_OWNER = frozenset({"check", "import", "look", "draft", "bundle", "record"})
"""Kinds whose owner is told why one failed, and may stop it: nothing of a key is in them."""

FILE = "filename"
"""In the payload of a job: what the file was called that it reads."""

Clock = Callable[[], datetime]

log = logging.getLogger(__name__)


class Job(TypedDict):
    id: int
    kind: str
    state: State
    progress: float
    problem: str | None
    result: Any


@dataclass(frozen=True, slots=True)
class Taken:
    id: int
    kind: str
    payload: Payload
    tries: int


def add(
    conn: Connection,
    kind: str,
    about: str,
    payload: Payload,
    owner_id: int | None,
    at: datetime,
    not_before: datetime | None = None,
) -> int:
    """A job, once for what it is `about`; the id of the one that is there otherwise."""
    queries.jobs.add(
        conn,
        kind=kind,
        about=about,
        owner_id=owner_id,
        payload=packed(payload),
        urgency=URGENCY.get(kind, OTHERS),
        not_before=not_before or at,
        at=at,
    )
    row = queries.jobs.by_about(conn, about=about)
    if row is None:
        raise NotFound(f"the job for {about} is gone")
    return int(row["id"])


def asked(conn: Connection, person: Person, kind: str, about: str, payload: Payload, at: datetime) -> Job:
    """The job that a person asks for: once for what it is `about`, and tried again where it failed or was stopped."""
    job_id = add(conn, kind, about, payload, person.id, at)
    if one(conn, person, job_id)["state"] in ("failed", "cancelled"):
        begin_again(conn, about, at)
    return one(conn, person, job_id)


def of(conn: Connection, about: str) -> Job | None:
    """The job about something, or None."""
    row = queries.jobs.by_about(conn, about=about)
    return None if row is None else _job(row)


def one(conn: Connection, person: Person, job_id: int) -> Job:
    """A job of one's own; an administrator sees all, and alone why one failed."""
    job = _job(_in_reach(conn, person, job_id))
    return job if person.role == "administrator" else without_reason(job)


def without_reason(job: Job) -> Job:
    """A job as a learner may see it: why marks could not be worked out may speak of the card's key."""
    return job if job["kind"] in OF_ITS_OWNER else {**job, "problem": None}


class ListedJob(TypedDict):
    """A job as the administrator sees it."""

    id: int
    kind: str
    about: str
    owner: str | None
    state: State
    tries: int
    progress: float
    problem: str | None
    created_at: datetime
    started_at: datetime | None
    ended_at: datetime | None


def latest(conn: Connection, person: Person) -> list[ListedJob]:
    """The last jobs of everybody, newest first, for the administrator."""
    person.must_be("administrator")
    return [cast(ListedJob, row) for row in queries.jobs.latest(conn, limit_rows=MOST_LISTED)]


def cancel(conn: Connection, person: Person, job_id: int, at: datetime) -> Job:
    """Stop a job that has not ended; what it was working out is dropped. For the administrator, and some owners."""
    if _in_reach(conn, person, job_id)["kind"] not in OF_ITS_OWNER:
        person.must_be("administrator")
    if not queries.jobs.cancel(conn, job_id=job_id, at=at):
        raise Conflict("this job has ended already")
    return one(conn, person, job_id)


def again(conn: Connection, person: Person, job_id: int, at: datetime) -> Job:
    """Try a job once more that failed or was cancelled."""
    _in_reach(conn, person, job_id)
    _again(conn, job_id, at)
    return one(conn, person, job_id)


def begin_again(conn: Connection, about: str, at: datetime) -> None:
    """The same for whoever may ask for what the job is about."""
    row = queries.jobs.by_about(conn, about=about)
    if row is None:
        raise NotFound("there is no such job")
    _again(conn, row["id"], at)


def _again(conn: Connection, job_id: int, at: datetime) -> None:
    if not queries.jobs.again(conn, job_id=job_id, at=at):
        raise Conflict("only a job that failed or was cancelled can be tried again")


def _in_reach(conn: Connection, person: Person, job_id: int) -> dict[str, Any]:
    row = queries.jobs.by_id(conn, job_id=job_id)
    if row is None or (person.role != "administrator" and row["owner_id"] != person.id):
        raise NotFound("there is no such job for you")
    return row


def _job(row: Mapping[str, Any]) -> Job:
    return {
        "id": row["id"],
        "kind": row["kind"],
        "state": row["state"],
        "progress": row["progress"],
        "problem": row["problem"],
        "result": None if row["result"] is None else json.loads(row["result"]),
    }


_beating: ContextVar[_Beating | None] = ContextVar("beating", default=None)


_at_work: dict[int, float] = {}
"""Since when this process is at each job."""


def stuck() -> bool:
    """Whether this process is at a job for longer than any takes."""
    return any(time.monotonic() - since > LONGEST_S for since in list(_at_work.values()))


def report(share: float) -> None:
    """Say from within a job how far it is, 0 to 1; outside of one it says nothing to nobody."""
    beating = _beating.get()
    if beating is not None:
        beating.progress = share


def do_next(begin: Begin, works: Mapping[str, Work], worker: str, clock: Clock) -> bool:
    """Take the next job that is due and do it; False when there is none."""
    with begin() as conn:
        at = clock()
        job = _claimed(conn, at)
        if job is None:
            return False
        if job.tries > MOST_TRIES:
            queries.jobs.give_up(conn, job_id=job.id, problem=_given_up(job), at=at)
            log.error("job %s (%s) was given up: its worker did not survive it %s times", job.id, job.kind, MOST_TRIES)
            return True
        queries.jobs.begin(conn, job_id=job.id, worker=worker, until=at + LEASE, at=at)
    with _Beating(begin, job.id, worker, clock):
        try:
            done = works[job.kind](begin, job.payload, clock())
            outcome = done if isinstance(done, Outcome) else Outcome(done, lambda: None)
            with begin() as conn:
                # Cancelled, or taken by another after a long silence: what was worked out here is not kept.
                still = queries.jobs.still_of(conn, job_id=job.id, worker=worker) is not None
                if still:
                    queries.jobs.finish(conn, job_id=job.id, result=packed(outcome.keep(conn)), at=clock())
            if still:
                outcome.after()
        except TraceBenchError as refused:
            with begin() as conn:
                queries.jobs.fail(conn, job_id=job.id, worker=worker, problem=str(refused)[:500], at=clock())
        except Exception as broken:
            log.exception("job %s (%s) broke, try %s", job.id, job.kind, job.tries)
            _later(begin, job, worker, type(broken).__name__, clock)
    return True


def _claimed(conn: Connection, at: datetime) -> Taken | None:
    """The first job that is due and that no other worker holds."""
    for row in list(queries.jobs.due(conn, at=at, limit_rows=LOOKED_AT)):
        held = queries.jobs.claim(conn, job_id=row["id"], at=at)
        if held is not None:
            return Taken(held["id"], held["kind"], json.loads(held["payload"]), held["tries"] + 1)
    return None


def _given_up(job: Taken) -> str:
    """Why a job is not begun again that ended its worker each time."""
    file = f"; its file is {job.payload[FILE]!r}" if FILE in job.payload else ""
    times = f"given up after {job.tries - 1} tries"
    return f"{times}: the worker that did it ended, or fell silent, before it was done{file}"[:500]


def _later(begin: Begin, job: Taken, worker: str, problem: str, clock: Clock) -> None:
    with begin() as conn:
        if job.tries >= MOST_TRIES:
            said = f"given up after {job.tries} tries ({problem}); the log of the worker has more"
            queries.jobs.fail(conn, job_id=job.id, worker=worker, problem=said, at=clock())
        else:
            pause = FIRST_PAUSE * 2 ** (job.tries - 1)
            queries.jobs.postpone(
                conn, job_id=job.id, worker=worker, problem=f"broke: {problem}", not_before=clock() + pause
            )


class _Beating:
    """Renews the lease of a job for as long as it is worked on."""

    def __init__(self, begin: Begin, job_id: int, worker: str, clock: Clock) -> None:
        self._begin, self._job_id, self._worker, self._clock = begin, job_id, worker, clock
        self._ended = threading.Event()
        self.progress = 0.0
        self._thread = threading.Thread(target=self._beat, daemon=True)

    def __enter__(self) -> None:
        self._token = _beating.set(self)
        _at_work[self._job_id] = time.monotonic()
        self._thread.start()

    def __exit__(self, *_: object) -> None:
        _beating.reset(self._token)
        _at_work.pop(self._job_id, None)
        self._ended.set()

    def _beat(self) -> None:
        told, last, failed = 0.0, time.monotonic(), 0
        while not self._ended.wait(LOOK_S):
            progress = self.progress
            if progress - told < LEAST_NEWS and time.monotonic() - last < BEAT_S:
                continue
            try:
                with self._begin() as conn:
                    until = self._clock() + LEASE
                    queries.jobs.renew(conn, job_id=self._job_id, worker=self._worker, until=until, progress=progress)
                told, last, failed = progress, time.monotonic(), 0
            except Exception:
                # It is tried again at once: whoever claims a job holds the queue for a moment. A lease that runs out
                # meanwhile is noticed when the job ends.
                failed += 1
                if failed > 1:
                    log.warning("no beat for job %s", self._job_id, exc_info=True)


def do_all(begin: Begin, works: Mapping[str, Work], clock: Clock) -> int:
    """Do everything that is due, here and now; how many jobs that were."""
    count = 0
    while do_next(begin, works, "here", clock):
        count += 1
    return count
