"""The machine's clock is set while sittings with a time limit run: nobody loses a minute, nobody gains an hour."""

import unittest
from datetime import timedelta

from tests.support.client import NOW, WebTest
from tracebench.processes.clock_watch import ClockWatch
from tracebench.store.queries import queries
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import works
from tracebench.usecases.people import accounts
from tracebench.usecases.school import clock
from tracebench.usecases.sitting import sittings


class Watch(unittest.TestCase):
    def setUp(self):
        self.wall, self.passed = 1e9, 50.0
        self.watch = ClockWatch(lambda: self.wall, lambda: self.passed)

    def after(self, wall, passed):
        self.wall, self.passed = self.wall + wall, self.passed + passed
        return self.watch.set_by_s()

    def test_an_hour_forward_a_day_back_and_a_sleep_are_told_once(self):
        self.assertEqual(self.after(10, 10), 0)
        self.assertAlmostEqual(self.after(3610, 10), 3600)
        self.assertEqual(self.after(10, 10), 0)
        self.assertAlmostEqual(self.after(-86390, 10), -86400)
        self.assertAlmostEqual(self.after(600, 1), 599)
        self.assertEqual(self.after(1, 1), 0)

    def test_a_clock_that_is_led_gently_was_not_set(self):
        for _ in range(2000):
            self.assertEqual(self.after(1.02, 1), 0)


class WasSet(WebTest):
    def test_ends_jobs_and_sessions_move_along(self):
        card_id = self.published_card(version_id=self.published_reference()["version_id"])
        ann = self.caller("ann")
        sitting_id = ann.post(f"/api/cards/{card_id}/sittings").json["id"]
        ends_at = NOW + timedelta(minutes=30)
        with self.pool.transaction() as conn:
            sittings.end_at(conn, sitting_id, ends_at, NOW)
            who = accounts._person(queries.people.by_sign_in(conn, sign_in="ann"))
            token = accounts.begin_session(conn, who, "here", "desk", NOW)
        for hours in (1, -1, 24, -24):
            jump = timedelta(hours=hours)
            with self.subTest(hours=hours), self.pool.transaction() as conn:
                self.assertEqual(clock.was_set(conn, jump.total_seconds(), NOW), 1)
                self.assertEqual(queries.sittings.by_id(conn, sitting_id=sitting_id)["ends_at"], ends_at + jump)
                # Nothing is due that was not, what will be due is as soon after, and nobody was signed out.
                self.assertEqual(queries.jobs.due_count(conn, at=NOW + jump), 0)
                due = ends_at + jump + 2 * sittings.GRACE
                self.assertEqual(queries.jobs.due_count(conn, at=due), 1)
                self.assertIsNotNone(accounts.of_session(conn, token, NOW + jump + timedelta(seconds=1)))
                clock.was_set(conn, -jump.total_seconds(), NOW)
        lines = self.caller("admin").get("/api/audit?about=school").json
        self.assertEqual([line["who"] for line in lines], ["Trace Bench"] * 8)
        at = ends_at + 3 * sittings.GRACE
        queue.do_all(self.pool.transaction, works(self.uploads), lambda: at)
        self.assertEqual(ann.get(f"/api/sittings/{sitting_id}").json["state"], "handed_in")


if __name__ == "__main__":
    unittest.main()
