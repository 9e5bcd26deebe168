"""Two hundred jobs on a Dask scheduler while it, its workers and whoever hands out are killed and come back.

    .venv/bin/python -m benchmarks.dask_kills [jobs] [seconds between kills]

Each sitting of a course is marked, a job each; every one must be done once, whatever was killed. Scheduler and workers
are the commands of Dask, who hands out is the worker that ./start runs with `TRACEBENCH_DASK`; each is started again a
second after its end, as a service manager does.
"""

from __future__ import annotations

import os
import random
import socket
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

from tests.support.database import fresh_settings, stop_shared
from tests.support.regrading import fill
from tracebench.processes.on_dask import now
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.usecases.jobs import queue
from tracebench.usecases.marking import grading

HERE = Path(__file__).parents[1]
BACK_S, LONGEST_S = 1.0, 900.0


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


class Kept:
    """A process that is started again whenever it ended."""

    def __init__(self, name: str, command: list[str], env: dict[str, str]) -> None:
        self.name, self._command, self._env = name, command, env
        self._back_at = 0.0
        self._begin()

    def _begin(self) -> None:
        quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL}
        self.process = subprocess.Popen(self._command, env=self._env, cwd=HERE, **quiet)

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()

    def look(self) -> None:
        if self.process.poll() is None:
            self._back_at = time.monotonic() + BACK_S
        elif time.monotonic() > self._back_at:
            self._begin()


def environment(settings: Settings, address: str) -> dict[str, str]:
    told = {
        "DB_HOST": settings.db_host,
        "DB_PORT": str(settings.db_port),
        "DB_NAME": settings.db_name,
        "DB_USER": settings.db_user,
        "DB_PASSWORD": settings.db_password,
        "DB_SOCKET": settings.db_socket,
        "SECRET_KEY": settings.secret_key,
        "UPLOADS": str(settings.uploads),
        "DASK": address,
    }
    return {**os.environ, "PYTHONPATH": str(HERE)} | {f"TRACEBENCH_{k}": v for k, v in told.items()}


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    every_s = float(sys.argv[2]) if len(sys.argv) > 2 else 4.0
    drawn, killed = random.Random(7), Counter[str]()
    with tempfile.TemporaryDirectory() as folder:
        settings = fresh_settings(Path(folder))
        pool = Pool(settings)
        fill(pool, count, samples=60_000)
        port = free_port()
        address = f"tcp://127.0.0.1:{port}"
        env = environment(settings, address)
        dask = [sys.executable, "-m", "distributed.cli.dask_scheduler", "--host", "127.0.0.1", "--no-dashboard"]
        worker = [sys.executable, "-m", "distributed.cli.dask_worker", address, "--nthreads", "1", "--no-dashboard"]
        processes = [
            Kept("scheduler", [*dask, "--port", str(port)], env),
            *(Kept("Dask worker", [*worker, "--no-nanny", "--death-timeout", "20"], env) for _ in range(2)),
            Kept("who hands out", [sys.executable, "-m", "tracebench.processes.worker"], env),
        ]
        begun = time.monotonic()
        try:
            with pool.transaction() as conn, conn.cursor() as cursor:
                cursor.execute("SELECT id, learner_id FROM sitting")
                for row in cursor.fetchall():
                    about, payload = grading.about_marks(row["id"]), {"sitting_id": row["id"]}
                    queue.add(conn, grading.GRADING, about, payload, row["learner_id"], now())
                cursor.execute("SELECT COUNT(*) AS n FROM grade_run")
                before = cursor.fetchone()["n"]
            kill_at, done = time.monotonic() + every_s, 0
            while done < count and time.monotonic() < begun + LONGEST_S:
                time.sleep(0.2)
                for kept in processes:
                    kept.look()
                if time.monotonic() > kill_at:
                    kept = drawn.choice(processes)
                    kept.kill()
                    killed[kept.name] += 1
                    kill_at = time.monotonic() + drawn.uniform(0.5, 1.5) * every_s
                with pool.transaction() as conn, conn.cursor() as cursor:
                    cursor.execute("SELECT COUNT(*) AS n FROM job WHERE state NOT IN ('waiting', 'running')")
                    done = cursor.fetchone()["n"]
            took = time.monotonic() - begun
        finally:
            for kept in processes:
                kept.kill()
        with pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) AS n, COUNT(DISTINCT sitting_id) AS apart FROM grade_run")
            runs = cursor.fetchone()
            cursor.execute("SELECT state, COUNT(*) AS n, MAX(tries) AS tries FROM job GROUP BY state")
            states = cursor.fetchall()
        told = ", ".join(f"{n} {k}" for k, n in sorted(killed.items()))
        print(f"{done} of {count} done in {took:.0f} s under {sum(killed.values())} kills ({told})")
        print(f"{runs['n'] - before} marks kept, {runs['apart']} sittings; jobs: {states}")
        pool.close()
        stop_shared()


if __name__ == "__main__":
    main()
