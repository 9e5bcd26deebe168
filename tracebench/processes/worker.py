"""A worker: takes jobs from the database one after the other until it is told to stop. ./start runs some of them."""

from __future__ import annotations

import contextlib
import logging
import os
import signal
import socket
import sys
import threading
import time
from datetime import UTC, datetime
from pathlib import Path

import pymysql

from tracebench.formats import apart
from tracebench.processes.beats import keep_beating
from tracebench.processes.clock_watch import ClockWatch
from tracebench.processes.every_work import every_work
from tracebench.processes.on_dask import hand_out
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.usecases.jobs.queue import do_next, stuck
from tracebench.usecases.marking.grading import fill_standings
from tracebench.usecases.shelf.uploads import sweep

IDLE_S = 0.25
LOST_S = 1.0
"""Between looks into the queue: while it is empty, and while the database does not answer."""

SET_S = 5.0
"""After the clock was set."""

SWEEP_S = 3600.0
"""Between looks for uploads that nobody came back to, and files that no row knows."""


NICE = 10
"""Steps by which what somebody waits for at a page goes before a job, where both want the same processor."""


def now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def give_way() -> None:
    """Let pages go first: as a process, and as the group that Linux may make of a session of its own."""
    os.nice(NICE)
    with contextlib.suppress(OSError):
        Path("/proc/self/autogroup").write_text(str(NICE))


def main() -> int:
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s", stream=sys.stderr)
    give_way()
    keep_beating(stuck)
    apart.READERS.warm()
    settings = Settings.from_env(os.environ)
    pool = Pool(settings)
    stop = threading.Event()
    for told in (signal.SIGTERM, signal.SIGINT):
        signal.signal(told, lambda *_: stop.set())
    tidy = Tidying(pool, settings)
    if settings.dask:
        hand_out(settings.dask, os.environ, stop, tidy)
    else:
        _work(pool, settings, stop, tidy)
    pool.close()
    return 0


class Tidying:
    """What a worker does beside its jobs: fills in what an older version did not keep, and sweeps uploads."""

    def __init__(self, pool: Pool, settings: Settings) -> None:
        self._pool, self._settings = pool, settings
        self._filled, self._sweep_at = False, time.monotonic() + IDLE_S

    def __call__(self) -> None:
        if not self._filled:
            self._filled = fill_standings(self._pool.transaction) == 0
        if time.monotonic() > self._sweep_at:
            sweep(self._pool.transaction, self._settings.uploads, now())
            self._sweep_at = time.monotonic() + SWEEP_S


def _work(pool: Pool, settings: Settings, stop: threading.Event, tidy: Tidying) -> None:
    """Take jobs one after the other."""
    me = f"{socket.gethostname()}:{os.getpid()}"
    watch = ClockWatch()
    while not stop.is_set():
        if watch.set_by_s():
            # What seems to be due is moved along first: ./start does that when it looks.
            stop.wait(SET_S)
        try:
            if do_next(pool.transaction, every_work(settings.uploads), me, now):
                continue
            tidy()
        except pymysql.err.Error:
            stop.wait(LOST_S)
            continue
        stop.wait(IDLE_S)


if __name__ == "__main__":
    sys.exit(main())
