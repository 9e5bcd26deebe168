"""The queue of jobs on a real database: each done once, whoever dies, breaks, or comes twice."""

import logging
import threading
import time
import unittest
from datetime import timedelta
from unittest import mock

from tests.support.client import NOW
from tests.support.database import DatabaseTest
from tracebench.core.errors import BadOption
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person


class Jobs(DatabaseTest):
    def setUp(self):
        # What breaks here is meant to, and its log would only be taken for news.
        logging.disable(logging.CRITICAL)
        self.addCleanup(logging.disable, logging.NOTSET)
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("DELETE FROM job")
        self.at = NOW
        self.kept: list[int] = []

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            for name, role in (("ann", "learner"), ("ben", "learner"), ("admin", "administrator")):
                accounts.add(conn, name, name, role, "long enough", NOW)
            rows = {n: queries.people.by_sign_in(conn, sign_in=n) for n in ("ann", "ben", "admin")}
        cls.who = {n: Person(r["id"], n, n, r["role"], 1) for n, r in rows.items()}

    def add(self, about: str, kind: str = "count", owner: str = "ann", **payload) -> int:
        with self.pool.transaction() as conn:
            return queue.add(conn, kind, about, payload, self.who[owner].id, self.at)

    def state(self, job_id: int) -> queue.Job:
        with self.pool.transaction() as conn:
            return queue.one(conn, self.who["admin"], job_id)

    def count(self, begin, payload, at):
        def keep(conn):
            self.kept.append(payload["number"])
            return {"number": payload["number"]}

        return keep

    def do(self, works=None, worker="w1") -> bool:
        return queue.do_next(self.pool.transaction, works or {"count": self.count}, worker, lambda: self.at)

    def test_done_once_in_the_order_of_arrival_and_told(self):
        ids = [self.add(f"a{k}", number=k) for k in range(3)]
        while self.do():
            pass
        self.assertEqual(self.kept, [0, 1, 2])
        self.assertEqual([self.state(i)["state"] for i in ids], ["done"] * 3)
        self.assertEqual(self.state(ids[1])["result"], {"number": 1})

    def test_how_far_a_job_is_is_told_while_it_runs(self):
        job_id, seen = self.add("far", number=1), []

        def work(begin, payload, at):
            for share in (0.25, 0.75):
                queue.report(share)
                end = time.monotonic() + 20
                while self.state(job_id)["progress"] != share and time.monotonic() < end:
                    time.sleep(0.05)
                seen.append(self.state(job_id)["progress"])
            return lambda conn: None

        self.assertTrue(self.do({"count": work}))
        self.assertEqual(seen, [0.25, 0.75])
        self.assertEqual(self.state(job_id)["progress"], 1)
        # Outside of a job it is said to nobody.
        queue.report(0.5)
        self.assertEqual(self.state(job_id)["progress"], 1)

    def test_the_same_thing_asked_twice_is_one_job(self):
        self.assertEqual(self.add("sitting 5", number=1), self.add("sitting 5", number=2))
        self.assertTrue(self.do())
        self.assertFalse(self.do())
        self.assertEqual(self.kept, [1])

    def test_many_workers_at_once_do_each_job_once(self):
        for k in range(40):
            self.add(f"m{k}", number=k)

        def work(name):
            while self.do(worker=name):
                pass

        threads = [threading.Thread(target=work, args=(f"w{k}",)) for k in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(self.kept), list(range(40)))

    def test_a_worker_that_died_leaves_its_job_to_the_next(self):
        job_id = self.add("left", number=7)
        with self.pool.transaction() as conn:
            queries.jobs.begin(conn, job_id=job_id, worker="dead", until=self.at + queue.LEASE, at=self.at)
        self.assertFalse(self.do(), "its lease still runs")
        self.at += queue.LEASE + timedelta(seconds=1)
        self.assertTrue(self.do())
        self.assertEqual(self.kept, [7])

    def test_a_worker_that_comes_back_late_keeps_nothing(self):
        job_id = self.add("late", number=7)

        def slow(begin, payload, at):
            # Meanwhile the lease runs out, and another worker does the job.
            self.at += queue.LEASE + timedelta(seconds=1)
            self.assertTrue(self.do(worker="other"))
            return self.count(begin, payload, at)

        self.do({"count": slow}, worker="slow")
        self.assertEqual(self.kept, [7])
        self.assertEqual(self.state(job_id)["state"], "done")

    def test_what_breaks_is_tried_again_later_and_given_up_in_words(self):
        job_id = self.add("breaks", number=7)

        def broken(begin, payload, at):
            raise ZeroDivisionError

        pauses = []
        for _ in range(queue.MOST_TRIES):
            begun = self.at
            while not self.do({"count": broken}):
                self.at += timedelta(seconds=1)
            pauses.append((self.at - begun).total_seconds())
        self.assertEqual(pauses, [0, 2, 4, 8, 16])
        self.at += timedelta(hours=1)
        self.assertFalse(self.do({"count": broken}))
        ended = self.state(job_id)
        self.assertEqual(ended["state"], "failed")
        self.assertIn("given up after 5 tries", ended["problem"])
        with self.pool.transaction() as conn:
            queue.again(conn, self.who["admin"], job_id, self.at)
        self.assertTrue(self.do())
        self.assertEqual(self.kept, [7])

    def test_one_that_no_worker_survives_is_given_up_in_words_with_its_file(self):
        job_id = self.add("kills", number=7, filename="test2 (3).mf4")

        class Killed(BaseException):
            """The process is gone: nothing behind it is done any more."""

        def kills(begin, payload, at):
            raise Killed

        for _ in range(5):
            with self.assertRaises(Killed):
                self.do({"count": kills})
            self.assertFalse(self.do(), "its lease still runs")
            self.at += queue.LEASE + timedelta(seconds=1)
        self.assertTrue(self.do({"count": kills}), "that is looked at, and not begun")
        with self.pool.transaction() as conn:
            told = queue.latest(conn, self.who["admin"])[0]
        self.assertEqual((told["id"], told["state"], told["tries"]), (job_id, "failed", 5))
        self.assertIn("given up after 5 tries", told["problem"])
        self.assertIn("'test2 (3).mf4'", told["problem"])
        self.assertFalse(self.do())

    def test_the_urgent_first_and_what_failed_hard_behind_the_others(self):
        order = []

        def note(begin, payload, at):
            order.append(payload["number"])
            return lambda conn: None

        def kills(begin, payload, at):
            raise SystemExit

        kinds = ("import", "count", "grade", "time-up", "grade", "import")
        ids = [self.add(f"u{k}", kind, number=k) for k, kind in enumerate(kinds)]
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("UPDATE job SET state = 'done' WHERE id IN (%s, %s, %s)", ids[2:5])
        with self.assertRaises(SystemExit):
            self.do({"import": kills})
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("UPDATE job SET state = 'waiting' WHERE id IN (%s, %s, %s)", ids[2:5])
        self.at += queue.LEASE + timedelta(seconds=1)
        while self.do(dict.fromkeys(kinds, note)):
            pass
        self.assertEqual(order, [3, 2, 4, 1, 5, 0])

    def test_one_that_is_at_work_for_longer_than_any_takes_is_stuck(self):
        self.add("long", number=1)
        seen = []

        def work(begin, payload, at):
            seen.append(queue.stuck())
            with mock.patch.object(queue, "LONGEST_S", -1.0):
                seen.append(queue.stuck())
            return lambda conn: None

        self.assertTrue(self.do({"count": work}))
        with mock.patch.object(queue, "LONGEST_S", -1.0):
            seen.append(queue.stuck())
        self.assertEqual(seen, [False, True, False])

    def test_what_cannot_be_done_is_not_tried_again(self):
        job_id = self.add("cannot", number=7)

        def refused(begin, payload, at):
            raise BadOption("the file has no column 9")

        self.do({"count": refused})
        self.assertEqual(self.state(job_id), {**self.state(job_id), "state": "failed"})
        self.assertEqual(self.state(job_id)["problem"], "the file has no column 9")
        self.assertFalse(self.do())

    def test_nothing_is_kept_of_a_job_that_was_cancelled_under_way(self):
        job_id = self.add("unwanted", number=7)

        def slow(begin, payload, at):
            with self.pool.transaction() as conn:
                queue.cancel(conn, self.who["admin"], job_id, self.at)
            return self.count(begin, payload, at)

        self.do({"count": slow})
        self.assertEqual(self.kept, [])
        self.assertEqual(self.state(job_id)["state"], "cancelled")
        with self.pool.transaction() as conn, self.assertRaises(Conflict):
            queue.cancel(conn, self.who["admin"], job_id, self.at)

    def test_a_keep_that_breaks_keeps_nothing_of_itself(self):
        job_id = self.add("half", number=7)

        def half(begin, payload, at):
            def keep(conn):
                queries.jobs.add(
                    conn, kind="count", about="trace", owner_id=None, payload="{}", urgency=5, not_before=at, at=at
                )
                raise ZeroDivisionError

            return keep

        self.do({"count": half})
        self.assertEqual(self.state(job_id)["state"], "waiting")
        with self.pool.transaction() as conn:
            self.assertIsNone(queue.of(conn, "trace"))

    def test_only_its_owner_and_the_administrator_see_a_job(self):
        job_id = self.add("ann's", number=1)
        with self.pool.transaction() as conn:
            self.assertEqual(queue.one(conn, self.who["ann"], job_id)["state"], "waiting")
            with self.assertRaises(NotFound):
                queue.one(conn, self.who["ben"], job_id)
            with self.assertRaises(NotAllowed):
                queue.latest(conn, self.who["ann"])
            self.assertEqual([j["owner"] for j in queue.latest(conn, self.who["admin"])], ["ann"])


if __name__ == "__main__":
    unittest.main()
