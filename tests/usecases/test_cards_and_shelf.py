"""Job cards and references through the use cases: checks, versions, what a card takes over from its reference."""

from unittest import mock

from tests.support.client import CIRCUIT, EMPTY_DOCUMENT, NOW
from tests.usecases.test_sittings import UseCase
from tracebench.core.errors import BadOption, UnknownCircuit
from tracebench.usecases.cards import job_cards
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.shelf import captures, listing, recordings, references, versions


class Bench(UseCase):
    def recorded(self, circuit=CIRCUIT, fault="none", who="teacher") -> int:
        settings = {"range_v": 10.0, "duration_s": 32.0, "rate_hz": 500.0, "ground": "sensor ground"}
        if circuit == "supply-ground":
            settings |= {"range_v": 20.0, "duration_s": 3.0}
        made = recordings.made_on_trainer(circuit, {"fault": fault}, settings, 5)
        return self.do(captures.keep, who, made, NOW)

    def reference(self, circuit=CIRCUIT, fault="none", **document) -> int:
        body = {**EMPTY_DOCUMENT, "limits": [], **document}
        return self.do(references.create, "teacher", self.recorded(circuit, fault), "A reference", body, NOW)


class References(Bench):
    def test_versions_are_frozen_while_the_draft_goes_on(self):
        reference_id = self.reference()
        first = self.do(references.publish, "teacher", reference_id, NOW)
        with self.assertRaisesRegex(Conflict, "published already"):
            self.do(references.publish, "teacher", reference_id, NOW)
        changed = self.do(
            references.save,
            "teacher",
            reference_id,
            first["revision"],
            "New title",
            {**first["document"], "notes": "n"},
            NOW,
        )
        self.assertEqual(changed["state"], "draft")
        second = self.do(references.publish, "teacher", reference_id, NOW)
        self.assertEqual([v["version"] for v in second["versions"]], [2, 1])
        with self.pool.transaction() as conn:
            old = versions.version_of(conn, second["versions"][1]["id"])
        self.assertEqual((old["title"], old["document"]["notes"]), ("A reference", ""))

    def test_two_windows_do_not_overwrite_each_other(self):
        reference_id = self.reference()
        now = self.do(references.one, "teacher", reference_id)
        self.do(references.save, "teacher", reference_id, now["revision"], "Mine", now["document"], NOW)
        with self.assertRaisesRegex(Conflict, "reload"):
            self.do(references.save, "teacher", reference_id, now["revision"], "Theirs", now["document"], NOW)

    def test_told_phases_limits_and_options_change_what_is_measured(self):
        limits = [{"reading": "ground_v", "low": None, "high": 0.01, "basis": "maker", "marginal": None}]
        answer = self.do(references.one, "teacher", self.reference(limits=limits))["answer"]
        self.assertIn("ground_high", answer["because"])
        phases = [{"name": "closed", "from": 0.2, "to": 0.6}]
        answer = self.do(references.one, "teacher", self.reference(phases=phases))["answer"]
        self.assertIn((0.2, 0.6), [(p["from"], p["to"]) for p in answer["phases"]])

    def test_what_the_core_says_is_kept_until_the_reference_or_the_engine_changes(self):
        reference_id = self.reference()
        first = self.do(references.one, "teacher", reference_id)
        with mock.patch.object(references, "measure", side_effect=AssertionError("measured again")):
            self.assertEqual(self.do(references.one, "teacher", reference_id)["answer"], first["answer"])
            self.do(references.publish, "teacher", reference_id, NOW)
            with (
                self.assertRaisesRegex(AssertionError, "again"),
                mock.patch.object(references, "ENGINE_VERSION", "99.0"),
            ):
                self.do(references.one, "teacher", reference_id)
            limits = [{"reading": "ground_v", "low": None, "high": 0.01, "basis": "maker", "marginal": None}]
            document = {**first["document"], "limits": limits}
            with self.assertRaisesRegex(AssertionError, "again"):
                self.do(references.save, "teacher", reference_id, first["revision"], "Narrower", document, NOW)
        # What cannot be measured is not kept, or the sheet could never be opened again.
        self.assertEqual(self.do(references.one, "teacher", reference_id)["title"], "A reference")
        now = self.do(references.save, "teacher", reference_id, first["revision"], "Narrower", document, NOW)
        self.assertEqual((now["title"], now["answer"]["because"]), ("Narrower", ["ground_high"]))

    def test_what_the_core_cannot_measure_with_is_refused_before_it_is_kept(self):
        reference_id = self.reference()
        now = self.do(references.one, "teacher", reference_id)
        document = {**now["document"], "options": {"reference_v": "plenty"}}
        with self.assertRaises(BadOption):
            self.do(references.save, "teacher", reference_id, now["revision"], "A reference", document, NOW)
        with self.assertRaises(BadOption):
            self.do(references.create, "teacher", now["capture_id"], "Another", document, NOW)
        self.assertEqual(self.do(references.one, "teacher", reference_id)["document"], now["document"])

    def test_refusals_name_the_part(self):
        for document, words in (
            ({"limits": [{"reading": "nope", "low": 1.0, "high": None, "basis": "maker"}]}, "unknown reading"),
            ({"tags": [{"from": 0, "to": 1, "lane": "signal", "text": " "}]}, "1 to 300"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadOption, words):
                self.reference(**document)
        with self.assertRaises(NotAllowed):
            self.do(listing.listed, "ann")

    def test_somebody_elses_own_capture_makes_no_reference(self):
        capture_id = self.recorded(who="out")
        with self.assertRaises(NotFound):
            self.do(references.create, "teacher", capture_id, "Taken", EMPTY_DOCUMENT, NOW)


class Cards(Bench):
    def document(self, **changes):
        return {
            "circuit": CIRCUIT,
            "title": "A card",
            "source": {"kind": "upload"},
            "steps": [{"kind": "capture"}, {"kind": "call"}],
            **changes,
        }

    def test_a_card_takes_deciding_limits_and_options_from_its_reference(self):
        limits = [{"reading": "closed_v", "low": 0.5, "high": 0.7, "basis": "maker", "marginal": None}]
        made = self.do(
            references.publish, "teacher", self.reference(limits=limits, options={"reference_v": "5.0"}), NOW
        )
        version_id = made["versions"][0]["id"]
        card_id = self.do(
            job_cards.create, "teacher", self.course_id, self.document(reference_version_id=version_id), NOW
        )
        card = self.do(job_cards.one, "teacher", card_id)["document"]
        closed = next(x for x in card["limits"] if x["reading"] == "closed_v")
        self.assertEqual((closed["low"], closed["high"], closed["basis"]), (0.5, 0.7, "maker"))
        self.assertEqual(card["options"], {"reference_v": "5.0"})

    def test_a_reference_of_another_circuit_is_refused(self):
        other = self.do(references.publish, "teacher", self.reference("supply-ground"), NOW)["versions"][0]["id"]
        with self.assertRaisesRegex(BadOption, "choose another"):
            self.do(job_cards.create, "teacher", self.course_id, self.document(reference_version_id=other), NOW)

    def test_refusals_name_the_field(self):
        for changes, words in (
            ({"title": ""}, "title"),
            ({"source": {"kind": "magic"}}, "source"),
            ({"source": {"kind": "trainer", "fault": "gremlins"}}, "worn-idle"),
            ({"attempts": 0}, "attempts"),
            ({"school": "fast"}, "school"),
            ({"steps": []}, "at least one step"),
            ({"steps": [{"kind": "reading", "reading": "nope"}]}, "no reading"),
            ({"steps": [{"kind": "call"}, {"kind": "call"}]}, "twice"),
            ({"points": {"call": -1}}, "0 to 100"),
            ({"reference_version_id": 99_999}, "does not exist"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadOption, words):
                self.do(job_cards.create, "teacher", self.course_id, self.document(**changes), NOW)
        with self.assertRaises(UnknownCircuit):
            self.do(job_cards.create, "teacher", self.course_id, self.document(circuit="flux"), NOW)

    def test_learners_see_published_cards_without_what_they_must_find_out(self):
        trainer = self.document(
            source={"kind": "trainer", "fault": "short-travel", "severity": 1.0, "vehicle": "Bay 2"}, title="Lame"
        )
        card_id = self.do(job_cards.create, "teacher", self.course_id, trainer, NOW)
        self.assertNotIn(card_id, [c["id"] for c in self.do(job_cards.listed, "ann")])
        self.do(job_cards.publish, "teacher", card_id, NOW)
        (seen,) = [c for c in self.do(job_cards.listed, "ann") if c["id"] == card_id]
        self.assertNotIn("short-travel", str(seen))
        self.do(job_cards.retire, "teacher", card_id, NOW)
        self.assertNotIn(card_id, [c["id"] for c in self.do(job_cards.listed, "ann")])

    def test_the_school_goes_to_circuits_that_have_one(self):
        document = self.document(circuit="supply-ground", schools={"sweep": "any"})
        card_id = self.do(job_cards.create, "teacher", self.course_id, document, NOW)
        self.assertEqual(self.do(job_cards.one, "teacher", card_id)["document"]["circuit"], "supply-ground")
