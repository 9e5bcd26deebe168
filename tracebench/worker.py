"""A worker: takes jobs from the database one after the other until it is told to stop. ./start runs some of them."""

from __future__ import annotations

import logging
import os
import signal
import socket
import sys
import threading
from datetime import UTC, datetime

import pymysql

from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.usecases.job_kinds import WORKS
from tracebench.usecases.jobs import do_next

IDLE_S = 0.25
LOST_S = 1.0
"""Between looks into the queue: while it is empty, and while the database does not answer."""


def main() -> int:
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s", stream=sys.stderr)
    pool = Pool(Settings.from_env(os.environ))
    stop = threading.Event()
    for told in (signal.SIGTERM, signal.SIGINT):
        signal.signal(told, lambda *_: stop.set())
    me = f"{socket.gethostname()}:{os.getpid()}"
    while not stop.is_set():
        try:
            found = do_next(pool.transaction, WORKS, me, lambda: datetime.now(UTC).replace(tzinfo=None))
        except pymysql.err.Error:
            stop.wait(LOST_S)
            continue
        if not found:
            stop.wait(IDLE_S)
    pool.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
