"""A course whose sittings were marked once, each with a capture of its own: for marking them anew."""

from __future__ import annotations

from datetime import UTC, datetime

from tests.support.client import PASSWORD
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.marking import grading
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures
from tracebench.usecases.sitting import measuring, sittings
from tracebench.usecases.sitting.rows import sitting_of

CIRCUIT = "pedal-position"
SAMPLES = 200_000
DISTINCT = 12
"""Captures that are recorded; each sitting keeps one under an id of its own, so that none is measured for two."""

ATTEMPTS = 20


def now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def fill(pool: Pool, count: int, samples: int = SAMPLES) -> tuple[Person, int]:
    at, source = now(), SOURCES[CIRCUIT]
    scope = ScopeSettings(source.range_v, samples / 5000.0, 5000)
    made = [captures.Made(CIRCUIT, "x", "file", record(CIRCUIT, scope, k), {}) for k in range(DISTINCT)]
    steps = [{"kind": "capture"}, {"kind": "call"}]
    document = {"circuit": CIRCUIT, "title": "C", "source": {"kind": "upload"}, "steps": steps, "attempts": ATTEMPTS}
    with pool.transaction() as conn:
        teacher = Person(accounts.add(conn, "ann", "Ann", "instructor", PASSWORD, at), "ann", "Ann", "instructor", 1)
        learner = Person(accounts.add(conn, "ben", "Ben", "learner", PASSWORD, at), "ben", "Ben", "learner", 1)
        course_id = queries.courses.add(conn, title="Large", at=at)
        for person in (teacher, learner):
            queries.courses.join_course(conn, course_id=course_id, person_id=person.id)
    taken = None
    for k in range(count):
        with pool.transaction() as conn:
            if k % ATTEMPTS == 0:
                card_id = job_cards.create(conn, teacher, course_id, document, at)
                job_cards.publish(conn, teacher, card_id, at)
            sitting_id = sittings.start(conn, learner, card_id, at)
            capture_id = captures.keep(conn, learner, made[k % DISTINCT], at)
            sittings.use_capture(conn, learner, sitting_id, capture_id, at)
            sittings.hand_in(conn, learner, sitting_id, True, at)
            row = queries.sittings.by_id(conn, sitting_id=sitting_id)
            assert row is not None
            sitting = sitting_of(row)
            if taken is None:
                loaded = measuring.load(conn, sitting)
                taken = loaded.taken(sitting) if loaded is not None else None
            grading.keep(conn, sitting, taken, grading.graded(sitting, taken), at)
            conn.cursor().execute("DELETE FROM job")
    return teacher, course_id
