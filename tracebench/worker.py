"""A worker: takes jobs from the database one after the other until it is told to stop. ./start runs some of them."""

from __future__ import annotations

import logging
import os
import signal
import socket
import sys
import threading
import time
from datetime import UTC, datetime

import pymysql

from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.usecases.captures import sweep
from tracebench.usecases.grading import fill_standings
from tracebench.usecases.job_kinds import works
from tracebench.usecases.jobs import do_next

IDLE_S = 0.25
LOST_S = 1.0
"""Between looks into the queue: while it is empty, and while the database does not answer."""

SWEEP_S = 3600.0
"""Between looks for uploads that nobody came back to, and files that no row knows."""


def now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def main() -> int:
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s", stream=sys.stderr)
    settings = Settings.from_env(os.environ)
    pool, sweep_at = Pool(settings), time.monotonic() + IDLE_S
    stop = threading.Event()
    for told in (signal.SIGTERM, signal.SIGINT):
        signal.signal(told, lambda *_: stop.set())
    filled = False
    me = f"{socket.gethostname()}:{os.getpid()}"
    while not stop.is_set():
        try:
            if not filled:
                filled = fill_standings(pool.transaction) == 0
            found = do_next(pool.transaction, works(settings.uploads), me, now)
            if not found and time.monotonic() > sweep_at:
                sweep(pool.transaction, settings.uploads, now())
                sweep_at = time.monotonic() + SWEEP_S
        except pymysql.err.Error:
            stop.wait(LOST_S)
            continue
        if not found:
            stop.wait(IDLE_S)
    pool.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
