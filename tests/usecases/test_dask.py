"""The same jobs on a Dask scheduler, by one setting: done once each, with what comes of them kept."""

import threading
import time
import unittest

from distributed import LocalCluster

from tests.support.client import NOW
from tests.support.database import DatabaseTest
from tests.support.regrading import fill
from tracebench.processes.on_dask import hand_out, now
from tracebench.settings import Settings
from tracebench.store.queries import queries
from tracebench.usecases.jobs import queue
from tracebench.usecases.marking import regrading
from tracebench.usecases.people import accounts
from tracebench.usecases.shelf.uploads import IMPORT


def env_of(settings: Settings) -> dict[str, str]:
    return {
        "TRACEBENCH_DB_PORT": str(settings.db_port),
        "TRACEBENCH_DB_NAME": settings.db_name,
        "TRACEBENCH_DB_USER": settings.db_user,
        "TRACEBENCH_DB_PASSWORD": settings.db_password,
        "TRACEBENCH_SECRET_KEY": "for this test",
        "TRACEBENCH_UPLOADS": str(settings.uploads),
    }


class OnDask(DatabaseTest):
    def test_jobs_of_the_queue_are_done_by_its_workers(self):
        with self.pool.transaction() as conn:
            owner = accounts.add(conn, "ann", "Ann", "learner", "long enough", NOW)
            # Nothing is there to import: each is refused in words, by whoever takes it.
            ids = [queue.add(conn, IMPORT, f"{IMPORT}:{k}", self._payload(k, owner), owner, NOW) for k in range(6)]
        env = env_of(self.settings)
        stop, looks = threading.Event(), []
        with LocalCluster(n_workers=2, threads_per_worker=1, processes=False, dashboard_address=None) as cluster:
            handing = threading.Thread(
                target=hand_out, args=(cluster.scheduler_address, env, stop, lambda: looks.append(1))
            )
            handing.start()
            try:
                end = time.monotonic() + 60
                while self._states(ids) != {"failed"} and time.monotonic() < end:
                    time.sleep(0.2)
            finally:
                stop.set()
                handing.join()
        with self.pool.transaction() as conn:
            rows = [queries.jobs.by_id(conn, job_id=job_id) for job_id in ids]
        self.assertEqual([(r["state"], r["tries"]) for r in rows], [("failed", 1)] * 6)
        self.assertIn("no longer here", rows[0]["problem"])
        self.assertTrue(looks)

    def _payload(self, k: int, owner: int) -> dict[str, object]:
        asked = {"circuit": "throttle-position", "mapping": [], "interval_s": None}
        return {"upload_id": 1000 + k, "owner_id": owner, **asked}

    def _states(self, ids: list[int]) -> set[str]:
        with self.pool.transaction() as conn:
            return {queries.jobs.by_id(conn, job_id=job_id)["state"] for job_id in ids}


class OneWorkerKilled(DatabaseTest):
    """Marks of a course worked out anew by two worker processes, one of them killed half-way."""

    SITTINGS = 60

    def test_every_sitting_is_marked_once_all_the_same(self):
        teacher, course_id = fill(self.pool, self.SITTINGS, samples=60_000)
        stop = threading.Event()
        with LocalCluster(
            n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None, memory_limit=0
        ) as cluster:
            handing = threading.Thread(
                target=hand_out, args=(cluster.scheduler_address, env_of(self.settings), stop, lambda: None)
            )
            handing.start()
            with self.pool.transaction() as conn:
                regrading.begin_run(conn, teacher, course_id, False, now())
            try:
                self.until(lambda: self.running() > 0)
                next(iter(cluster.workers.values())).process.process.kill()
                self.until(lambda: self.run_of(teacher, course_id)["done"] == self.SITTINGS)
            finally:
                stop.set()
                handing.join()
        rows = self.run_of(teacher, course_id)
        self.assertEqual((rows["done"], rows["total"]), (self.SITTINGS, self.SITTINGS))
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) AS n, COUNT(DISTINCT sitting_id) AS apart FROM regrade_row")
            self.assertEqual(set(cursor.fetchone().values()), {self.SITTINGS})

    def until(self, done):
        end = time.monotonic() + 240
        while not done():
            self.assertLess(time.monotonic(), end)
            time.sleep(0.1)

    def running(self):
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) AS n FROM job WHERE state = 'running'")
            return cursor.fetchone()["n"]

    def run_of(self, teacher, course_id):
        with self.pool.transaction() as conn:
            return regrading.run(conn, teacher, course_id)


if __name__ == "__main__":
    unittest.main()
