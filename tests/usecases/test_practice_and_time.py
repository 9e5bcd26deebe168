"""Practice told at once, sittings with a time limit, and parts of each learner's own: through the use cases."""

from datetime import timedelta

from tests.support.client import NOW
from tests.usecases.test_sittings import SETTINGS, UseCase
from tracebench.core.errors import BadOption
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import works
from tracebench.usecases.marking import desk as desk_of
from tracebench.usecases.marking import grading, underway
from tracebench.usecases.people import courses
from tracebench.usecases.sitting import recording, sittings
from tracebench.usecases.skill import maps

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
        learners = self.do(maps.skill_map, "teacher", self.course_id)["learners"]
        self.assertEqual([person["sittings"] for person in learners], [0, 0])
        log = self.do(maps.logbook, "teacher", self.course_id, self.who["ann"].id)
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


class MoreTime(UseCase):
    def begun(self, who="ann", **card):
        sitting_id = self.do(sittings.start, who, self.card(**{"minutes": 20, **card}), NOW)
        return sitting_id, self.do(sittings.one, who, sitting_id)["ends_at"]

    def extra(self, percent, who="ann", by="teacher"):
        self.do(courses.set_extra_time, by, self.course_id, self.who[who].id, percent, NOW)

    def work(self, at):
        queue.do_all(self.pool.transaction, works(self.uploads), lambda: at)

    def state(self, sitting_id):
        return self.do(sittings.one, "ann", sitting_id)["state"]

    def test_a_learner_with_extra_time_has_it_on_every_card_with_a_limit_from_then_on(self):
        first, ends = self.begun()
        self.extra(25)
        self.assertEqual(ends, NOW + 20 * MINUTE)
        self.assertEqual(self.do(sittings.one, "ann", first)["ends_at"], ends)
        _, ends = self.begun()
        self.assertEqual(ends, NOW + 25 * MINUTE)
        _, others = self.begun("ben")
        self.assertEqual(others, NOW + 20 * MINUTE)
        _, none = self.begun(minutes=None)
        self.assertIsNone(none)
        # A part of a minute is given whole, and they are told what they have before they begin.
        self.extra(3)
        self.card(minutes=20)
        self.assertIn(21, [c["minutes"] for c in self.do(job_cards.listed, "ann")])
        self.assertNotIn(21, [c["minutes"] for c in self.do(job_cards.listed, "ben")])
        self.extra(0)

    def test_who_may_give_it_and_how_much(self):
        for percent in (-1, 201):
            with self.assertRaisesRegex(BadOption, "0 to 200"):
                self.extra(percent)
        with self.assertRaisesRegex(NotFound, "no such learner"):
            self.extra(10, who="teacher")
        with self.assertRaises(NotAllowed):
            self.extra(10, by="ben")

    def test_minutes_given_while_one_sits_move_the_end_and_the_hand_in(self):
        sitting_id, ends = self.begun()
        told = self.do(underway.give_time, "teacher", sitting_id, 10, "The scope had to be changed.", NOW)
        self.assertIn((sitting_id, ends + 10 * MINUTE), [(t["id"], t["ends_at"]) for t in told])
        self.work(ends + 5 * MINUTE)
        self.assertEqual(self.state(sitting_id), "open")
        self.assertEqual(self.do(sittings.time_of, "ann", sitting_id), {"state": "open", "ends_at": ends + 10 * MINUTE})
        self.work(ends + 13 * MINUTE)
        self.assertNotEqual(self.state(sitting_id), "open")
        with self.assertRaisesRegex(Conflict, "handed in"):
            self.do(underway.give_time, "teacher", sitting_id, 10, "", NOW)
        with self.pool.transaction() as conn:
            page = {"before_id": 1 << 60, "about": "sitting", "about_id": sitting_id, "person_id": None, "most": 50}
            written = {row["action"]: row for row in queries.audit.page(conn, **page)}
        self.assertEqual(written["sitting.time"]["why"], "The scope had to be changed.")

    def test_who_is_over_the_end_gets_the_minutes_from_now_on(self):
        sitting_id, ends = self.begun()
        now = ends + 1.5 * MINUTE
        self.do(underway.give_time, "teacher", sitting_id, 5, "", now)
        self.assertEqual(self.do(sittings.time_of, "ann", sitting_id)["ends_at"], now + 5 * MINUTE)

    def test_who_sits_is_listed_with_how_far_they_are(self):
        sitting_id, _ = self.begun()
        (row,) = (t for t in self.do(underway.listed, "teacher", self.course_id) if t["id"] == sitting_id)
        self.assertEqual((row["learner"], row["done"], row["has_capture"]), ("Ann", 0, False))
        self.do(recording.for_sitting, "ann", sitting_id, SETTINGS, NOW)
        (row,) = (t for t in self.do(underway.listed, "teacher", self.course_id) if t["id"] == sitting_id)
        self.assertEqual((row["done"], row["has_capture"]), (1, True))
        self.do(sittings.hand_in, "ann", sitting_id, True, NOW)
        self.assertNotIn(sitting_id, [t["id"] for t in self.do(underway.listed, "teacher", self.course_id)])

    def test_a_trial_and_a_card_without_a_limit_have_no_minutes_to_give(self):
        sitting_id, _ = self.begun(minutes=None)
        with self.assertRaisesRegex(Conflict, "no time limit"):
            self.do(underway.give_time, "teacher", sitting_id, 10, "", NOW)
        trial = self.do(sittings.start, "teacher", self.card(minutes=20), NOW)
        with self.assertRaises(NotFound):
            self.do(underway.give_time, "teacher", trial, 10, "", NOW)
        for minutes in (0, 481):
            with self.assertRaisesRegex(BadOption, "minutes"):
                self.do(underway.give_time, "teacher", sitting_id, minutes, "", NOW)


class TimeLimit(UseCase):
    def begun(self, who="ann"):
        sitting_id = self.do(sittings.start, who, self.card(minutes=20), NOW)
        return sitting_id, self.do(sittings.one, who, sitting_id)

    def save(self, sitting, at, value=0.6):
        answer = {"value": value, "pegs": [1.0]}
        return self.do(sittings.save_answer, "ann", sitting["id"], "reading-closed_v", answer, sitting["revision"], at)

    def work(self, at):
        queue.do_all(self.pool.transaction, works(self.uploads), lambda: at)

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
        part = {"kind": "trainer", "fault": "worn-mid", "severity": 1.0}
        same = self.card(source={**part, "varied": False})
        # Unless that is unticked, each has a part of their own.
        own = self.card(source=part)
        self.assertAlmostEqual(self.level("ann", same), self.level("ben", same), delta=0.006)
        levels = [self.level("ann", own), self.level("ben", own), self.level("ann", own)]
        apart = [abs(a - b) for k, a in enumerate(levels) for b in levels[:k]]
        self.assertGreater(min(apart), 0.006)

    def test_parts_that_are_dealt_out_go_round_and_no_learner_is_told_which(self):
        dealt = {"kind": "trainer", "fault": "short-travel", "severity": 1.0, "instead": ["none"]}
        card_id, called = self.card(source=dealt), {}
        for who in ("ann", "ben"):
            sitting_id = self.do(sittings.start, who, card_id, NOW)
            made = self.do(recording.for_sitting, who, sitting_id, SETTINGS, NOW)
            done = self.do(sittings.hand_in, who, sitting_id, True, NOW)
            self.assertNotIn("short-travel", f"{made} {done}")
            called[who] = grading_call(self, sitting_id)
        self.assertEqual(sorted(called.values()), ["faulty", "sound"])

    def test_a_part_that_the_circuit_has_not_is_refused_in_words(self):
        with self.assertRaisesRegex(BadOption, "slow-hose.*choose one of"):
            self.card(source={"kind": "trainer", "fault": "none", "instead": ["slow-hose"]})


def grading_call(case: UseCase, sitting_id: int) -> str:
    """What the tool calls a handed-in capture, as the marker sees it."""
    return case.do(grading.sheet, "teacher", sitting_id)["measured"]["call"]


class OpeningDay(UseCase):
    def test_a_card_opens_with_its_day_and_not_a_second_before(self):
        card_id = self.card(opens=NOW.date().isoformat())
        midnight = NOW.replace(hour=0, minute=0, second=0, microsecond=0)
        with self.assertRaisesRegex(Conflict, f"opens on {NOW.date()}"):
            self.do(sittings.start, "ann", card_id, midnight - timedelta(seconds=1))
        self.assertTrue(self.do(sittings.start, "ann", card_id, midnight))
        self.assertTrue(self.do(sittings.start, "ben", card_id, NOW))
