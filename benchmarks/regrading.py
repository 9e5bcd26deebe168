"""Marks of a course worked out anew: python -m benchmarks.regrading [sittings]

1,200 sittings with a capture of 200,000 samples each stand for 300 sittings of four captures. Wall time with one worker
process and with two, on the machine that also runs the database.
"""

from __future__ import annotations

import multiprocessing
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

from tests.support.client import PASSWORD
from tests.support.database import fresh_settings, stop_shared
from tracebench.bench.circuits import SOURCES
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.trainer import record
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases import captures, cards, grading, jobs, measuring, people, regrading, sittings
from tracebench.usecases.job_kinds import works
from tracebench.usecases.person import Person
from tracebench.usecases.sitting_rows import sitting_of

CIRCUIT = "pedal-position"
SAMPLES = 200_000
DISTINCT = 12
"""Captures that are recorded; each sitting keeps one under an id of its own, so that none is measured for two."""

ATTEMPTS = 20


def now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def fill(pool: Pool, count: int) -> tuple[Person, int]:
    at, source = now(), SOURCES[CIRCUIT]
    scope = ScopeSettings(source.range_v, SAMPLES / 5000.0, 5000)
    made = [captures.Made(CIRCUIT, "x", "file", record(CIRCUIT, scope, k), {}) for k in range(DISTINCT)]
    steps = [{"kind": "capture"}, {"kind": "call"}]
    document = {"circuit": CIRCUIT, "title": "C", "source": {"kind": "upload"}, "steps": steps, "attempts": ATTEMPTS}
    with pool.transaction() as conn:
        teacher = Person(people.add(conn, "ann", "Ann", "instructor", PASSWORD, at), "ann", "Ann", "instructor", 1)
        learner = Person(people.add(conn, "ben", "Ben", "learner", PASSWORD, at), "ben", "Ben", "learner", 1)
        course_id = queries.courses.add(conn, title="Large", at=at)
        for person in (teacher, learner):
            queries.courses.join_course(conn, course_id=course_id, person_id=person.id)
    taken = None
    for k in range(count):
        with pool.transaction() as conn:
            if k % ATTEMPTS == 0:
                card_id = cards.create(conn, teacher, course_id, document, at)
                cards.publish(conn, teacher, card_id, at)
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


def worker(settings: Settings) -> None:
    pool = Pool(settings)
    jobs.do_all(pool.transaction, works(settings.uploads), now)
    pool.close()


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1200
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool = Pool(settings)
    clock = time.perf_counter()
    teacher, course_id = fill(pool, count)
    print(f"{count} sittings of {SAMPLES:,} samples made in {time.perf_counter() - clock:.0f} s")
    for workers in (1, 2):
        with pool.transaction() as conn:
            regrading.begin_run(conn, teacher, course_id, False, now())
        clock = time.perf_counter()
        running = [
            multiprocessing.get_context("spawn").Process(target=worker, args=(settings,)) for _ in range(workers)
        ]
        for process in running:
            process.start()
        for process in running:
            process.join()
        took = time.perf_counter() - clock
        with pool.transaction() as conn:
            found = regrading.run(conn, teacher, course_id)
        print(
            f"{workers} worker(s): {found['done']} of {found['total']} in {took:.1f} s, "
            f"{1000 * took / count:.0f} ms each; 100,000 captures would take {100_000 * took / count / 3600:.1f} h"
        )
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
