"""The same jobs on a Dask scheduler, by one setting: done once each, with what comes of them kept."""

import threading
import time
import unittest

from distributed import LocalCluster

from tests.support.client import NOW
from tests.support.database import DatabaseTest
from tracebench.on_dask import hand_out
from tracebench.store.queries import queries
from tracebench.usecases import jobs, people
from tracebench.usecases.captures import IMPORT


class OnDask(DatabaseTest):
    def test_jobs_of_the_queue_are_done_by_its_workers(self):
        with self.pool.transaction() as conn:
            owner = people.add(conn, "ann", "Ann", "learner", "long enough", NOW)
            # Nothing is there to import: each is refused in words, by whoever takes it.
            ids = [jobs.add(conn, IMPORT, f"{IMPORT}:{k}", self._payload(k, owner), owner, NOW) for k in range(6)]
        env = {
            "TRACEBENCH_DB_PORT": str(self.settings.db_port),
            "TRACEBENCH_DB_NAME": self.settings.db_name,
            "TRACEBENCH_DB_USER": self.settings.db_user,
            "TRACEBENCH_DB_PASSWORD": self.settings.db_password,
            "TRACEBENCH_SECRET_KEY": "for this test",
            "TRACEBENCH_UPLOADS": str(self.uploads),
        }
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


if __name__ == "__main__":
    unittest.main()
