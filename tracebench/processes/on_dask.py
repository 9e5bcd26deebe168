"""Jobs on a Dask distributed scheduler, for a school with more than one machine: `TRACEBENCH_DASK=tcp://host:8786`.

The queue stays in the database, and each task takes one job from it as a worker of ours would: leases, retries and
'done once' are the same. Dask's workers need this package, the `TRACEBENCH_*` settings that are sent along to reach the
database, and the folder of uploads at the same place.
"""

from __future__ import annotations

import os
import socket
import threading
from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from typing import Any

from tracebench.processes.every_work import every_work
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.jobs.queue import do_next

SETTINGS = "TRACEBENCH_"
LOOK_S = 0.25


def now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def take_one(env: Mapping[str, str]) -> bool:
    """What a Dask worker runs: the next job that is due, if there is one."""
    settings = Settings.from_env(env)
    pool = Pool(settings)
    try:
        me = f"{socket.gethostname()}:{os.getpid()}:dask"
        return do_next(pool.transaction, every_work(settings.uploads), me, now)
    finally:
        pool.close()


def hand_out(address: str, env: Mapping[str, str], stop: threading.Event, beside: Callable[[], None]) -> None:
    """Keep as many tasks on the scheduler as jobs are due and its workers have threads, until told to stop.

    `beside` is called at every look, for what is due now and then.
    """
    from distributed import Client  # noqa: PLC0415 - needed only where this is chosen

    told = {key: value for key, value in env.items() if key.startswith(SETTINGS)}
    pool = Pool(Settings.from_env(env))
    with Client(address) as client:  # type: ignore[no-untyped-call]
        tasks: set[Any] = set()
        while not stop.wait(LOOK_S):
            tasks = {task for task in tasks if not task.done()}
            with pool.transaction() as conn:
                due = int(queries.jobs.due_count(conn, at=now()))
            free = max(1, sum(client.nthreads().values())) - len(tasks)
            for _ in range(min(due, free)):
                tasks.add(client.submit(take_one, told, pure=False))
            beside()
    pool.close()
