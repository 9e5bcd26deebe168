"""The demo for tests: made once a run, a minute of simulations, and kept as a backup for whoever asks after that."""

from __future__ import annotations

import fcntl
import os
import shutil
import tempfile
from datetime import UTC, datetime
from pathlib import Path

from tests.support.database import DatabaseTest
from tracebench.demo import seed
from tracebench.processes.every_work import every_work
from tracebench.store import backup
from tracebench.usecases.jobs import queue

KEPT = "TRACEBENCH_TEST_KEPT"
"""Where the processes of one run keep what each of them would have to make again; `tests.run` sets it."""


class DemoTest(DatabaseTest):
    """A test class with the demo in its schema, as the job of a first start makes it."""

    now: datetime

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = Path(os.environ.get(KEPT) or tempfile.mkdtemp(prefix="tracebench-kept-"))
        if KEPT not in os.environ:
            cls.addClassCleanup(shutil.rmtree, folder)
        kept = folder / "demo.zip"
        with (folder / "demo.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not kept.exists():
                cls._make(kept)
            else:
                cls.now = datetime.fromisoformat(backup.restore(cls.settings, kept)["taken_at"])

    @classmethod
    def _make(cls, kept: Path) -> None:
        cls.now = datetime.now(UTC).replace(tzinfo=None)
        with cls.pool.transaction() as conn:
            seed.ask(conn, cls.now)
        queue.do_all(cls.pool.transaction, every_work(cls.uploads), lambda: cls.now)
        backup.write(cls.settings, kept, cls.now)
