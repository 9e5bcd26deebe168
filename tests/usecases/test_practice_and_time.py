"""Practice told at once, sittings with a time limit, and parts of each learner's own: through the use cases."""

from datetime import timedelta

from tests.support.client import NOW
from tests.usecases.test_sittings import SETTINGS, UseCase
from tracebench.store.queries import queries
from tracebench.usecases import desk as desk_of
from tracebench.usecases import grading, jobs, recording, sittings, skills
from tracebench.usecases.errors import Conflict
from tracebench.usecases.job_kinds import works

MINUTE = timedelta(minutes=1)


class Practice(UseCase):
    def sat(self, who, card_id):
        sitting_id = self.do(sittings.start, who, card_id, NOW)
        self.do(recording.for_sitting, who, sitting_id, SETTINGS, NOW)
        return sitting_id, self.do(sittings.hand_in, who, sitting_id, True, NOW)

    def test_practice_is_told_at_once_and_counts_for_nothing(self):
        _, exam = self.sat("ben", self.card())
        self.assertEqual((exam["state"], exam["feedback"]), ("handed_in", None))
        sitting_id, told = self.sat("ann", self.card(mode="practice"))
        self.assertEqual((told["state"], told["practice"], told["may_try_again"]), ("released", True, True))
        self.assertGreater(told["feedback"]["grade"]["points"], 0)
        desk = self.do(desk_of.desk, "teacher", self.course_id)
        self.assertEqual({e["learner"] for e in desk}, {"Ben"})
        learners = self.do(skills.skill_map, "teacher", self.course_id)["learners"]
        self.assertEqual([person["sittings"] for person in learners], [0, 0])
        log = self.do(skills.logbook, "teacher", self.course_id, self.who["ann"].id)
        self.assertEqual(([s["id"] for s in log["practice"]], log["sittings"]), ([sitting_id], []))
        with self.assertRaises(Conflict):
            self.do(desk_of.take_back, "teacher", sitting_id, "", NOW)
        with self.assertRaisesRegex(Conflict, "marks that count"):
            self.do(sittings.ask_again, "ann", sitting_id, "why?", NOW)

    def test_what_was_told_is_closed_while_a_second_try_is_open(self):
        card_id = self.card(mode="practice")
        first, _ = self.sat("ann", card_id)
        second = self.do(sittings.start, "ann", card_id, NOW)
        told = self.do(sittings.one, "ann", first)
        self.assertEqual((told["feedback"], told["feedback_waits"], told["may_try_again"]), (None, True, False))
        self.do(recording.for_sitting, "ann", second, SETTINGS, NOW)
        self.do(sittings.hand_in, "ann", second, True, NOW)
        self.assertIsNotNone(self.do(sittings.one, "ann", first)["feedback"])
        self.assertFalse(self.do(sittings.one, "ann", second)["may_try_again"])

    def test_an_explanation_is_worth_nothing_where_nobody_reads_it(self):
        steps = [{"kind": "capture", "prompt": ""}, {"kind": "explain", "prompt": "Why?", "phrases": ["a"]}]
        for mode, there in (("exam", True), ("practice", False)):
            card_id = self.card(mode=mode, steps=steps)
            sitting_id, _ = self.sat("ben", card_id)
            run = self.do(grading.sheet, "teacher", sitting_id)["grade"]
            self.assertEqual(any(r["criterion"].startswith("explain") for r in run["results"]), there)


class TimeLimit(UseCase):
    def begun(self, who="ann"):
        sitting_id = self.do(sittings.start, who, self.card(minutes=20), NOW)
        return sitting_id, self.do(sittings.one, who, sitting_id)

    def save(self, sitting, at, value=0.6):
        answer = {"value": value, "pegs": [1.0]}
        return self.do(sittings.save_answer, "ann", sitting["id"], "reading-closed_v", answer, sitting["revision"], at)

    def work(self, at):
        jobs.do_all(self.pool.transaction, works(self.uploads), lambda: at)

    def test_an_answer_counts_until_the_end_and_a_minute_for_what_was_on_its_way(self):
        _, sitting = self.begun()
        self.assertEqual(sitting["ends_at"], NOW + 20 * MINUTE)
        sitting = self.save(sitting, NOW + 20 * MINUTE + 0.9 * MINUTE)
        with self.assertRaisesRegex(Conflict, "time is up"):
            self.save(sitting, NOW + 21.1 * MINUTE, 0.9)
        kept = self.do(sittings.one, "ann", sitting["id"])
        self.assertEqual(kept["answers"]["reading-closed_v"]["value"], 0.6)

    def test_nothing_else_of_a_sitting_changes_after_its_end(self):
        sitting_id, _ = self.begun()
        late = NOW + 22 * MINUTE
        for step, more in (
            (recording.for_sitting, (SETTINGS, late)),
            (sittings.use_capture, (1, late)),
            (sittings.take_hint, ("call", late)),
            (sittings.add_record, ("voltages", [], late)),
        ):
            with self.assertRaisesRegex(Conflict, "time is up"):
                self.do(step, "ann", sitting_id, *more)

    def test_a_sitting_that_was_left_is_handed_in_with_what_was_saved(self):
        sitting_id, sitting = self.begun()
        self.save(sitting, NOW + MINUTE)
        self.work(NOW + 20 * MINUTE)
        self.assertEqual(self.do(sittings.one, "ann", sitting_id)["state"], "open")
        self.work(NOW + 23 * MINUTE)
        sheet = self.do(grading.sheet, "teacher", sitting_id)
        self.assertEqual((sheet["state"], sheet["answers"]["reading-closed_v"]["value"]), ("handed_in", 0.6))
        self.assertEqual(sheet["handed_in_at"], NOW + 23 * MINUTE)

    def test_one_that_was_handed_in_stays_so(self):
        sitting_id, _ = self.begun()
        self.do(sittings.hand_in, "ann", sitting_id, True, NOW + 5 * MINUTE)
        self.work(NOW + 23 * MINUTE)
        self.assertEqual(self.do(sittings.one, "ann", sitting_id)["handed_in_at"], NOW + 5 * MINUTE)

    def test_an_instructors_trial_has_no_end(self):
        _, sitting = self.begun("teacher")
        self.assertIsNone(sitting["ends_at"])


class OfTheirOwn(UseCase):
    def level(self, who, card_id):
        sitting_id = self.do(sittings.start, who, card_id, NOW)
        self.do(recording.for_sitting, who, sitting_id, SETTINGS, NOW)
        self.do(sittings.hand_in, who, sitting_id, True, NOW)
        with self.pool.transaction() as conn:
            measured = grading.settled(conn, sitting_id)["measured"]
            queries.sittings.release(conn, sitting_id=sitting_id, released_by=None, at=NOW)
        return next(r["value"] for r in measured["readings"] if r["id"] == "closed_v")

    def test_neighbours_have_other_parts_and_so_has_each_attempt(self):
        same = self.card(source={"kind": "trainer", "fault": "worn-mid", "severity": 1.0})
        own = self.card(source={"kind": "trainer", "fault": "worn-mid", "severity": 1.0, "varied": True})
        self.assertAlmostEqual(self.level("ann", same), self.level("ben", same), delta=0.006)
        levels = [self.level("ann", own), self.level("ben", own), self.level("ann", own)]
        apart = [abs(a - b) for k, a in enumerate(levels) for b in levels[:k]]
        self.assertGreater(min(apart), 0.006)
