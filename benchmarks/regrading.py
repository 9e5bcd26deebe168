"""Marks of a course worked out anew: python -m benchmarks.regrading [sittings]

1,200 sittings with a capture of 200,000 samples each stand for 300 sittings of four captures. Wall time with one worker
process and with two, on the machine that also runs the database.
"""

from __future__ import annotations

import multiprocessing
import sys
import tempfile
import time
from pathlib import Path

from tests.support.database import fresh_settings, stop_shared
from tests.support.regrading import SAMPLES, fill, now
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import works
from tracebench.usecases.marking import regrading


def worker(settings: Settings) -> None:
    pool = Pool(settings)
    queue.do_all(pool.transaction, works(settings.uploads), now)
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
