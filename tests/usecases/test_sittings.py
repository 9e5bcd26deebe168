"""Sittings through the use cases: attempts, saving, two windows, capture, hand-in, and what a learner may see when."""

import inspect
from datetime import timedelta
from unittest import mock

import numpy as np

from tests.support.client import CIRCUIT, EMPTY_DOCUMENT, NOW, STEPS
from tests.support.courses import captured
from tests.support.database import DatabaseTest
from tests.support.waves import Sweep
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import works
from tracebench.usecases.marking import desk as desk_of
from tracebench.usecases.marking import grading, likeness
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, references
from tracebench.usecases.sitting import recording, sittings
from tracebench.usecases.sitting.rows import sitting_of

SETTINGS = {"range_v": 10.0, "duration_s": 32.0, "rate_hz": 500.0, "ground": "sensor ground", "sweeps": 2, "way_s": 6.0}


class UseCase(DatabaseTest):
    """A course with an instructor and two learners; `self.do(step, ...)` runs a step in its own transaction."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            cls.course_id = queries.courses.add(conn, title="One", at=NOW)
            cls.who = {}
            for name, role in (("teacher", "instructor"), ("ann", "learner"), ("ben", "learner"), ("out", "learner")):
                person_id = accounts.add(conn, name, name.title(), role, "long enough", NOW)
                cls.who[name] = Person(person_id, name, name.title(), role, 1)
                if name != "out":
                    queries.courses.join_course(conn, course_id=cls.course_id, person_id=person_id)

    def do(self, step, who, *arguments, **more):
        if "begin" in inspect.signature(step).parameters:
            return step(self.pool.transaction, self.who[who], *arguments, **more)
        with self.pool.transaction() as conn:
            done = step(conn, self.who[who], *arguments, **more)
        if step is not sittings.hand_in:
            return done
        queue.do_all(self.pool.transaction, works(self.uploads), lambda: NOW)
        with self.pool.transaction() as conn:
            return sittings.one(conn, self.who[who], done["id"])

    def card(self, publish=True, **changes) -> int:
        document = {
            "circuit": CIRCUIT,
            "title": "Hesitates",
            "brief": "Stumbles.",
            "source": {"kind": "trainer", "fault": "worn-idle", "severity": 1.0},
            "attempts": 2,
            "steps": STEPS,
            **changes,
        }
        card_id = self.do(job_cards.create, "teacher", self.course_id, document, NOW)
        if publish:
            self.do(job_cards.publish, "teacher", card_id, NOW)
        return card_id


class Starting(UseCase):
    def test_an_open_sitting_is_gone_on_with(self):
        card_id = self.card()
        first = self.do(sittings.start, "ann", card_id, NOW)
        self.assertEqual(self.do(sittings.start, "ann", card_id, NOW), first)

    def test_attempts_run_out(self):
        card_id = self.card(attempts=1)
        sitting_id = self.do(sittings.start, "ann", card_id, NOW)
        self.do(sittings.hand_in, "ann", sitting_id, True, NOW)
        with self.assertRaisesRegex(Conflict, "all 1 attempts are used"):
            self.do(sittings.start, "ann", card_id, NOW)

    def test_a_draft_is_nobodys_and_a_retired_card_takes_no_more(self):
        draft = self.card(publish=False)
        with self.assertRaises(NotFound):
            self.do(sittings.start, "ann", draft, NOW)
        with self.assertRaisesRegex(Conflict, "publish the card first"):
            self.do(sittings.start, "teacher", draft, NOW)
        card_id = self.card()
        begun = self.do(sittings.start, "ben", card_id, NOW)
        self.do(job_cards.retire, "teacher", card_id, NOW)
        self.assertEqual(self.do(sittings.start, "ben", card_id, NOW), begun)
        with self.assertRaisesRegex(Conflict, "retired"):
            self.do(sittings.start, "ann", card_id, NOW)

    def test_outside_the_course_there_is_no_card(self):
        with self.assertRaises(NotFound):
            self.do(sittings.start, "out", self.card(), NOW)

    def test_an_instructors_sitting_is_a_trial_with_feedback_at_once(self):
        sitting_id = self.do(sittings.start, "teacher", self.card(), NOW)
        self.do(recording.for_sitting, "teacher", sitting_id, SETTINGS, NOW)
        done = self.do(sittings.hand_in, "teacher", sitting_id, True, NOW)
        self.assertTrue(done["trial"])
        self.assertIsNotNone(done["feedback"])
        desk = self.do(desk_of.desk, "teacher", self.course_id)
        self.assertNotIn(sitting_id, [d["id"] for d in desk])


class Working(UseCase):
    def setUp(self):
        self.card_id = self.card()
        self.sitting_id = self.do(sittings.start, "ann", self.card_id, NOW)

    def save(self, step, answer, revision=None):
        now = self.do(sittings.one, "ann", self.sitting_id)["revision"]
        return self.do(sittings.save_answer, "ann", self.sitting_id, step, answer, revision or now, NOW)

    def test_each_answer_is_kept_beside_the_others(self):
        self.save("reading-closed_v", {"value": 0.62, "pegs": [0.5]})
        kept = self.save("compare-closed_v", {"state": "inside"})["answers"]
        self.assertEqual(kept["reading-closed_v"], {"value": 0.62, "pegs": [0.5]})
        self.assertEqual(kept["compare-closed_v"], {"state": "inside"})

    def test_an_older_window_is_told_and_overwrites_nothing(self):
        old = self.do(sittings.one, "ann", self.sitting_id)["revision"]
        self.save("reading-closed_v", {"value": 0.62})
        with self.assertRaisesRegex(Conflict, "another window"):
            self.save("reading-closed_v", {"value": 9.9}, old)
        kept = self.do(sittings.one, "ann", self.sitting_id)["answers"]
        self.assertEqual(kept["reading-closed_v"]["value"], 0.62)

    def test_answers_that_fit_no_step_are_refused(self):
        for step, answer, words in (
            ("nope", {}, "no step"),
            ("reading-closed_v", {"value": "much"}, "must be a number"),
            ("compare-closed_v", {"state": "fine"}, "inside, marginal, outside"),
            ("call", {"verdict": "broken"}, "sound, faulty, inconclusive"),
            ("call", {"confidence": 140}, "between 0 and 100"),
        ):
            with self.subTest(step=step, answer=answer), self.assertRaisesRegex(BadAnswer, words):
                self.save(step, answer)

    def test_the_trainer_records_with_the_cards_fault_and_the_learners_settings(self):
        self.assertIsNone(self.do(recording.for_sitting, "ann", self.sitting_id, SETTINGS, NOW))
        done = self.do(sittings.one, "ann", self.sitting_id)
        with self.pool.transaction() as conn:
            answer = captures.measured(conn, done["capture_id"], CIRCUIT, {})
        self.assertIn("dropout", answer.because)
        self.assertAlmostEqual(answer.duration_s, 32.0, places=1)
        with self.assertRaisesRegex(BadOption, "choose one of"):
            self.do(recording.for_sitting, "ann", self.sitting_id, {**SETTINGS, "range_v": 3.0}, NOW)

    def test_somebody_elses_sitting_is_not_there(self):
        for step, arguments in (
            (sittings.one, ()),
            (sittings.hand_in, (True, NOW)),
            (recording.for_sitting, (SETTINGS, NOW)),
        ):
            with self.subTest(step=step.__name__), self.assertRaises(NotFound):
                self.do(step, "ben", self.sitting_id, *arguments)

    def test_hand_in_lists_what_is_missing_and_then_nothing_changes_any_more(self):
        with self.assertRaisesRegex(Conflict, "there is no capture yet"):
            self.do(sittings.hand_in, "ann", self.sitting_id, False, NOW)
        self.do(sittings.hand_in, "ann", self.sitting_id, True, NOW)
        with self.assertRaisesRegex(Conflict, "can no longer change"):
            self.save("compare-closed_v", {"state": "inside"}, 1)

    def test_a_card_changed_meanwhile_leaves_the_sitting_its_version(self):
        document = self.do(job_cards.one, "teacher", self.card_id)["document"]
        revision = self.do(job_cards.one, "teacher", self.card_id)["revision"]
        self.do(job_cards.save, "teacher", self.card_id, revision, {**document, "title": "Another title"}, NOW)
        self.do(job_cards.publish, "teacher", self.card_id, NOW)
        self.assertEqual(self.do(sittings.one, "ann", self.sitting_id)["card"]["title"], "Hesitates")
        # Whoever begins now has the latest.
        later = self.do(sittings.start, "ben", self.card_id, NOW)
        self.assertEqual(self.do(sittings.one, "ben", later)["card"]["title"], "Another title")


class Releasing(UseCase):
    def handed_in(self) -> int:
        sitting_id = self.do(sittings.start, "ann", self.card(), NOW)
        self.do(recording.for_sitting, "ann", sitting_id, SETTINGS, NOW)
        self.do(sittings.hand_in, "ann", sitting_id, True, NOW)
        return sitting_id

    def test_nothing_of_the_key_before_everything_after(self):
        sitting_id = self.handed_in()
        before = self.do(sittings.one, "ann", sitting_id)
        self.assertIsNone(before["feedback"])
        self.assertEqual(set(before["card"]["source"]), {"kind", "vehicle"})
        self.assertNotIn("points", before["card"])
        self.do(grading.release, "teacher", sitting_id, NOW)
        after = self.do(sittings.one, "ann", sitting_id)
        self.assertEqual(after["feedback"]["measured"]["call"], "faulty")

    def test_marks_are_changed_with_a_reason_until_release_and_released_once(self):
        sitting_id = self.handed_in()
        sheet = self.do(grading.change, "teacher", sitting_id, "call", 1.0, "Half right.", NOW)
        row = next(r for r in sheet["grade"]["results"] if r["criterion"] == "call")
        self.assertEqual((row["settled"], row["changed"]["reason"]), (1.0, "Half right."))
        self.assertNotEqual(row["earned"], row["settled"])
        with self.assertRaisesRegex(BadOption, "0 to 2"):
            self.do(grading.change, "teacher", sitting_id, "call", 9.0, "Generous.", NOW)
        with self.assertRaisesRegex(BadOption, "say why"):
            self.do(grading.change, "teacher", sitting_id, "call", 1.0, " ", NOW)
        self.do(grading.release, "teacher", sitting_id, NOW)
        for again in (
            lambda: self.do(grading.release, "teacher", sitting_id, NOW),
            lambda: self.do(grading.change, "teacher", sitting_id, "call", 1.0, "Late.", NOW),
        ):
            with self.assertRaises(Conflict):
                again()

    def test_of_two_markers_the_second_is_told_what_the_first_did_and_decides(self):
        sitting_id = self.handed_in()
        rows = self.do(grading.sheet, "teacher", sitting_id)["grade"]["results"]
        stood = next(r["settled"] for r in rows if r["criterion"] == "call")
        self.do(grading.change, "teacher", sitting_id, "call", 1.25, "Half right.", NOW, stood)
        with self.assertRaisesRegex(Conflict, r"Teacher gave 1.25 points for this meanwhile \(Half right\.\)"):
            self.do(grading.change, "teacher", sitting_id, "call", 0.5, "Too kind.", NOW, stood)
        sheet = self.do(grading.change, "teacher", sitting_id, "call", 0.5, "Too kind.", NOW, 1.25)
        self.assertEqual(next(r["settled"] for r in sheet["grade"]["results"] if r["criterion"] == "call"), 0.5)

    def test_learners_do_not_mark(self):
        with self.assertRaises(NotAllowed):
            self.do(grading.release, "ann", self.handed_in(), NOW)


class Alike(UseCase):
    """Two learners who hand in one capture: a note for the instructor, and nothing taken off."""

    def handed_in(self, who, card_id, volts):
        capture = captured(CIRCUIT, 500, signal=volts)
        made = captures.Made(CIRCUIT, "test2.csv", "file", capture, {})
        capture_id = self.do(captures.keep, who, made, NOW)
        sitting_id = self.do(sittings.start, who, card_id, NOW)
        self.do(sittings.use_capture, who, sitting_id, capture_id, NOW)
        self.do(sittings.hand_in, who, sitting_id, True, NOW)
        return sitting_id

    def notes(self, sitting_id):
        sheet = self.do(grading.sheet, "teacher", sitting_id)
        return [(n["kind"], n["learner"]) for n in sheet["likenesses"]], sheet["grade"]["earned"]

    def test_a_cropped_copy_is_told_on_both_sheets_and_on_the_desk(self):
        card_id = self.card(source={"kind": "upload"})
        volts = Sweep(rate_hz=500, noise_v=0.004, bits=12).samples()[1]
        first = self.handed_in("ann", card_id, volts)
        self.assertEqual(self.notes(first)[0], [])
        alone = self.notes(first)[1]
        second = self.handed_in("ben", card_id, volts[400:])
        self.assertEqual(self.notes(second)[0], [("cropped", "Ann")])
        self.assertEqual(self.notes(first), ([("cropped", "Ben")], alone))
        desk = {d["id"]: d["alike"] for d in self.do(desk_of.desk, "teacher", self.course_id)}
        self.assertTrue(desk[first] and desk[second])

    def test_a_copy_on_another_card_of_the_circuit_is_told_too(self):
        volts = Sweep(rate_hz=500, noise_v=0.004, bits=12, seed=21).samples()[1]
        self.handed_in("ann", self.card(source={"kind": "upload"}), volts)
        hidden = volts[300:] + np.random.default_rng(5).normal(0, 0.004, volts.size - 300)
        second = self.handed_in("ben", self.card(source={"kind": "upload"}, title="Another"), hidden)
        self.assertEqual(self.notes(second)[0], [("cropped", "Ann")])

    def reference(self, capture_id, at):
        reference_id = self.do(
            references.create, "teacher", capture_id, "Clean sweep", {**EMPTY_DOCUMENT, "limits": []}, at, True
        )
        self.do(references.publish, "teacher", reference_id, at)
        return reference_id

    def test_a_copy_of_what_lay_on_the_shelf_is_told_with_the_reference(self):
        volts = Sweep(rate_hz=500, noise_v=0.004, bits=12, seed=31).samples()[1]
        made = captures.Made(CIRCUIT, "clean.csv", "file", captured(CIRCUIT, 500, signal=volts), {})
        kept = self.do(captures.keep, "teacher", made, NOW - timedelta(days=3))
        reference_id = self.reference(kept, NOW - timedelta(days=2))
        hidden = volts[250:-100] + np.random.default_rng(6).normal(0, 0.004, volts.size - 350)
        sitting_id = self.handed_in("ann", self.card(source={"kind": "upload"}), hidden)
        (note,) = self.do(grading.sheet, "teacher", sitting_id)["likenesses"]
        self.assertEqual((note["reference_id"], note["reference"]), (reference_id, "Clean sweep"))
        self.assertEqual((note["sitting_id"], note["learner"], note["kind"]), (None, None, "cropped"))
        self.assertTrue({d["id"]: d["alike"] for d in self.do(desk_of.desk, "teacher", self.course_id)}[sitting_id])

    def test_what_the_shelf_took_from_a_sitting_is_no_copy_of_it(self):
        volts = Sweep(rate_hz=500, noise_v=0.004, bits=12, seed=32).samples()[1]
        sitting_id = self.handed_in("ann", self.card(source={"kind": "upload"}), volts)
        self.reference(self.do(grading.sheet, "teacher", sitting_id)["capture_id"], NOW + timedelta(minutes=5))
        with self.pool.transaction() as conn:
            sitting = sitting_of(queries.sittings.by_id(conn, sitting_id=sitting_id))
        self.assertEqual(likeness.find(self.pool.transaction, sitting), [])

    def test_an_export_of_the_trainer_is_told_with_whom_it_was_given_and_is_not_given_up_then(self):
        volts = Sweep(rate_hz=500, noise_v=0.004, bits=12, seed=33).samples()[1]
        made = captures.Made(CIRCUIT, "worn idle", "trainer", captured(CIRCUIT, 500, signal=volts), {})
        kept = [self.do(captures.keep, who, made, NOW - timedelta(days=3)) for who in ("ann", "out")]
        hidden = 1.3 * volts[250:-100] + np.random.default_rng(6).normal(0, 0.004, volts.size - 350)
        sitting_id = self.handed_in("ann", self.card(source={"kind": "upload"}), hidden)
        notes = self.do(grading.sheet, "teacher", sitting_id)["likenesses"]
        self.assertEqual(
            [(n["given_to"], n["capture_id"], n["kind"]) for n in notes],
            [("Ann", kept[0], "scaled"), ("Out", kept[1], "scaled")],
        )
        unused = self.do(captures.unused, "ann")
        self.assertNotIn(kept[0], [c["id"] for c in unused["captures"]])

    def test_another_capture_of_the_same_part_is_not(self):
        card_id = self.card(source={"kind": "upload"})
        for who, seed in (("ann", 11), ("ben", 12)):
            sitting_id = self.handed_in(who, card_id, Sweep(rate_hz=500, noise_v=0.004, seed=seed).samples()[1])
            self.assertEqual(self.notes(sitting_id)[0], [])


class KnownOfACapture(UseCase):
    """What is known beside the samples goes into the marks: coolant, log, voltages, trigger, ground."""

    def measured(self, records=(), **document):
        card_id = self.card(source={"kind": "upload"}, steps=[{"kind": "capture"}, {"kind": "call"}], **document)
        capture = captured(CIRCUIT, 500, signal=Sweep(rate_hz=500, noise_v=0.004).samples()[1])
        detail = {"scan": [{"name": "coolant", "unit": "°C", "points": [[0.0, 20.0], [5.0, 88.0]]}]}
        detail["trainer"] = {"trigger": {"lane": "signal", "level": 9.0}, "ground": "battery negative"}
        made = captures.Made(CIRCUIT, "test2.csv", "file", capture, detail)
        capture_id = self.do(captures.keep, "ann", made, NOW)
        sitting_id = self.do(sittings.start, "ann", card_id, NOW)
        self.do(sittings.use_capture, "ann", sitting_id, capture_id, NOW)
        for kind, rows in records:
            self.do(sittings.add_record, "ann", sitting_id, kind, rows, NOW)
        self.do(sittings.hand_in, "ann", sitting_id, True, NOW)
        return self.do(grading.sheet, "teacher", sitting_id)

    def test_the_coolant_and_the_log_tell_the_condition(self):
        sheet = self.measured([("log", [{"at_s": "4", "action": "wiggle", "where": "plug"}])], complaint="moved")
        self.assertEqual(set(sheet["measured"]["shown"]), {"warm", "moved"})
        self.assertEqual(sheet["measured"]["call"], "sound")
        self.assertEqual(self.measured(complaint="hot")["measured"]["because"], ["condition_not_shown"])

    def test_trigger_and_ground_are_told(self):
        quality = next(r for r in self.measured()["grade"]["results"] if r["criterion"] == "capture_quality")
        self.assertEqual(quality["earned"], 2.0)
        self.assertIn("trigger was set to 9", quality["reason"])
        self.assertIn("battery negative", quality["reason"])


class NobodyWaits(UseCase):
    """Hand-in answers at once; the marks are worked out by a job, with nothing held meanwhile."""

    def handed_in(self, **card) -> int:
        sitting_id = self.do(sittings.start, "ann", self.card(**card), NOW)
        self.do(recording.for_sitting, "ann", sitting_id, SETTINGS, NOW)
        with self.pool.transaction() as conn:
            self.told = sittings.hand_in(conn, self.who["ann"], sitting_id, True, NOW)
        return sitting_id

    def work(self) -> None:
        queue.do_all(self.pool.transaction, works(self.uploads), lambda: NOW)

    def test_until_the_marks_are_there_nothing_can_be_settled_and_everybody_is_told(self):
        sitting_id = self.handed_in()
        self.assertEqual((self.told["state"], self.told["marks_job"]["state"]), ("handed_in", "waiting"))
        entry = next(d for d in self.do(desk_of.desk, "teacher", self.course_id) if d["id"] == sitting_id)
        self.assertEqual((entry["earned"], entry["points"], entry["certainty"]), (None, None, None))
        for too_early in (
            lambda: self.do(grading.sheet, "teacher", sitting_id),
            lambda: self.do(grading.release, "teacher", sitting_id, NOW),
            lambda: self.do(grading.change, "teacher", sitting_id, "call", 1.0, "Early.", NOW),
        ):
            with self.assertRaisesRegex(Conflict, "being worked out"):
                too_early()
        self.work()
        entry = next(d for d in self.do(desk_of.desk, "teacher", self.course_id) if d["id"] == sitting_id)
        self.assertGreater(entry["points"], 0)
        self.assertIsNone(self.do(sittings.one, "ann", sitting_id)["marks_job"])
        self.do(grading.release, "teacher", sitting_id, NOW)

    def test_what_is_handed_in_changes_no_more_and_is_marked_once(self):
        sitting_id = self.handed_in()
        revision = self.told["revision"]
        with self.assertRaisesRegex(Conflict, "handed in"):
            self.do(sittings.save_answer, "ann", sitting_id, "compare-closed_v", {}, revision, NOW)
        with self.pool.transaction() as conn, self.assertRaisesRegex(Conflict, "handed in"):
            sittings.hand_in(conn, self.who["ann"], sitting_id, True, NOW)
        self.work()
        self.work()
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) AS runs FROM grade_run WHERE sitting_id = %s", (sitting_id,))
            self.assertEqual(cursor.fetchone()["runs"], 1)

    def test_the_sitting_is_not_held_while_its_marks_are_worked_out(self):
        sitting_id = self.handed_in()
        seen = []

        def meanwhile(sitting, taken):
            with self.pool.transaction() as conn:
                queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
            seen.append(self.do(sittings.one, "ann", sitting_id)["marks_job"]["state"])
            return graded(sitting, taken)

        graded = grading.graded
        with mock.patch.object(grading, "graded", meanwhile):
            self.work()
        self.assertEqual(seen, ["running"])

    def test_marks_that_cannot_be_worked_out_say_so_and_can_be_tried_again(self):
        sitting_id = self.handed_in()
        with mock.patch.object(grading, "graded", side_effect=BadOption("the card is broken")):
            self.work()
        self.assertNotIn("broken", str(self.do(sittings.one, "ann", sitting_id)))
        with self.assertRaisesRegex(Conflict, "could not be worked out: the card is broken"):
            self.do(grading.sheet, "teacher", sitting_id)
        self.do(grading.mark_again, "teacher", sitting_id, NOW)
        self.work()
        self.assertGreater(self.do(grading.sheet, "teacher", sitting_id)["grade"]["points"], 0)
