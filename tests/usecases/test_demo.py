from datetime import UTC, datetime

from tests.support.database import DatabaseTest
from tests.support.demo import DemoTest
from tracebench.core.circuits import CIRCUITS
from tracebench.demo import cast, seed
from tracebench.processes.every_work import every_work
from tracebench.store.queries import queries
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import DEMO
from tracebench.usecases.marking import desk as desk_of
from tracebench.usecases.marking import grading
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import today
from tracebench.usecases.shelf import listing
from tracebench.usecases.skill import maps


class Demo(DemoTest):
    """What a first start shows: a class, vehicles, references that call right, sittings at every stage."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            row = queries.people.by_sign_in(conn, sign_in="instructor")
            cls.instructor = Person(row["id"], row["sign_in"], row["name"], row["role"], 1)
            cls.course_id = list(queries.courses.all_courses(conn))[0]["id"]

    def test_one_job_makes_it_and_once(self):
        with self.pool.transaction() as conn:
            job = queue.of(conn, DEMO)
            self.assertFalse(seed.ask(conn, self.now))
        self.assertEqual((job["state"], job["result"]), ("done", {"made": True}))
        # Begun again after a kill, and by hand: there is a course, and nothing more is made.
        self.assertEqual(every_work(self.uploads)[DEMO](self.pool.transaction, {}, self.now)(None), {"made": False})
        self.assertFalse(seed.load(self.pool, self.uploads, self.now))

    def test_is_as_large_as_promised(self):
        with self.pool.transaction() as conn:
            learners = [m for m in queries.courses.members(conn, course_id=self.course_id) if m["role"] == "learner"]
            vehicles = list(queries.courses.vehicles(conn))
            published = [
                r for r in listing.listed(conn, self.instructor, size=200)["items"] if r["state"] == "published"
            ]
        self.assertGreaterEqual(len(learners), 8)
        self.assertGreaterEqual(len(vehicles), 3)
        self.assertGreaterEqual(len(published), 6)
        self.assertGreaterEqual(len(cast.CARDS), 3)

    def test_references_call_what_their_titles_say(self):
        with self.pool.transaction() as conn:
            calls = {
                r["title"]: r["call"] for r in listing.listed(conn, self.instructor, size=200)["items"] if r["call"]
            }
        self.assertGreaterEqual(len(calls), 66)
        for title, call in calls.items():
            expected = "sound" if ", sound" in title else "inconclusive" if "passed cold" in title else "faulty"
            self.assertEqual(call, expected, title)

    def test_every_circuit_has_one_without_a_fault_and_two_with(self):
        with self.pool.transaction() as conn:
            items = [r for r in listing.listed(conn, self.instructor, size=200)["items"] if r["call"]]
        for code in CIRCUITS:
            calls = [r["call"] == "faulty" for r in items if r["circuit"] == code]
            self.assertGreaterEqual(calls.count(False), 1, code)
            self.assertGreaterEqual(calls.count(True), 2, code)

    def test_cards_ask_for_every_kind_of_call(self):
        with self.pool.transaction() as conn:
            rows = desk_of.desk(conn, self.instructor, self.course_id, released=500)
            calls = {grading.settled(conn, r["id"])["measured"]["call"] for r in rows}
            hot = next(r for r in rows if r["title"] == "Stalls when hot")
            said = grading.settled(conn, hot["id"])["measured"]
        self.assertEqual(calls, {"sound", "faulty", "inconclusive"})
        self.assertEqual(said["because"], ["condition_not_shown"])

    def test_sittings_stand_at_every_stage_over_four_weeks(self):
        with self.pool.transaction() as conn:
            rows = desk_of.desk(conn, self.instructor, self.course_id, released=500)
            learners = [m["id"] for m in queries.courses.members(conn, course_id=self.course_id)]
            states = {r["state"] for x in learners for r in queries.sittings.of_learner(conn, learner_id=x)}
        self.assertEqual(states, {"open", "handed_in", "released"})
        handed = [r["handed_in_at"] for r in rows if r["handed_in_at"]]
        self.assertGreater((max(handed) - min(handed)).days, 14)
        self.assertLessEqual(max(handed), self.now)

    def test_every_view_has_something_to_show(self):
        with self.pool.transaction() as conn:
            view = today.for_person(conn, self.instructor, self.now.date())
            desk = desk_of.desk(conn, self.instructor, self.course_id)
            chart = maps.skill_map(conn, self.instructor, self.course_id)
        self.assertTrue(view["waiting"])
        self.assertTrue(view["drifting"])
        self.assertGreater(len(desk), len(view["waiting"]))
        estimates = {c["estimate"] for learner in chart["learners"] for c in learner["cells"]}
        self.assertGreater(max(estimates) - min(estimates), 0.3)

    def test_nothing_waits_in_the_uploads_folder(self):
        self.assertEqual(list(self.uploads.iterdir()), [])


class AskedFor(DatabaseTest):
    def test_twice_is_once(self):
        now = datetime.now(UTC).replace(tzinfo=None)
        with self.pool.transaction() as conn:
            self.assertEqual((seed.ask(conn, now), seed.ask(conn, now)), (True, True))
            self.assertEqual(queries.jobs.waiting_count(conn), 1)
