"""Grading of other circuits: the same criteria, from the circuits' own tables."""

import unittest

from tests.support.rooms import facts
from tests.support.variations import Variation
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.card import Card
from tracebench.core.cards.documents import card_from_json
from tracebench.core.circuits import CIRCUITS, finding_spec
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import grade


def card_of(code: str) -> Card:
    kind = CIRCUITS[code]
    steps = [{"kind": "cautions"}, {"kind": "capture"}]
    steps += [{"kind": "reading", "reading": r} for r in kind.asked]
    return card_from_json(
        {"circuit": code, "title": "A card", "source": {"kind": "upload"}, "steps": [*steps, {"kind": "call"}]}
    )


def attempt_of(code: str, fault: str, **call) -> Attempt:
    """Somebody who reads everything as it is, and calls it as it is unless told otherwise."""
    source, kind, card = SOURCES[code], CIRCUITS[code], card_of(code)
    capture = record(code, ScopeSettings(source.range_v, source.manoeuvres[0].duration_s, source.rate_hz), 3, fault)
    measured = measured_under(card, "first", capture)
    answers = {"cautions": {"read": [c.key for c in kind.cautions]}, "capture": {}}
    for reading_id in kind.asked:
        reading = measured.reading(reading_id)
        pegs = [] if reading is None else [reading.from_s, reading.to_s]
        answers[f"reading-{reading_id}"] = (
            {"absent": True} if reading is None else {"value": reading.value, "pegs": pegs}
        )
    found = next((f for f in measured.findings if f.kind == "fault"), None)
    spec = finding_spec(kind, found.code) if found else None
    right = {
        "verdict": measured.call,
        "cause": spec.cause if spec else "none",
        "evidence": [[found.from_s, min(found.to_s, found.from_s + 0.4)]] if found else [[1.0, 2.0]],
        "next_test": spec.next_tests[0] if spec else "none",
        "confidence": 100,
    }
    answers["call"] = {**right, **call}
    return Attempt(card, answers_from_json(card, answers), {"first": Taken(measured)})


class FullMarks(unittest.TestCase):
    def test_right_answers_earn_every_point_on_a_faulty_part(self):
        for code, fault in facts("GRADED").items():
            with self.subTest(circuit=code):
                result = grade(attempt_of(code, fault))
                lost = [(r["title"], r["reason"]) for r in result["results"] if r["score"] < 1]
                self.assertEqual(lost, [])

    def test_condemning_a_sound_part_costs_the_call_and_says_why(self):
        for code in facts("GRADED"):
            with self.subTest(circuit=code):
                result = grade(attempt_of(code, "none", verdict="faulty", cause="connection", confidence=100))
                rows = {r["criterion"]: r for r in result["results"]}
                self.assertEqual(rows["call"]["score"], 0.0)
                self.assertIn("It says sound", rows["call"]["reason"])
                self.assertEqual(rows["confidence"]["score"], 0.0)

    def test_a_cause_that_the_findings_do_not_support_earns_nothing(self):
        rows = grade(attempt_of("pedal-position", "reference-lost", cause="pedal"))["results"]
        cause = next(r for r in rows if r["criterion"] == "cause")
        self.assertEqual(cause["score"], 0.0)
        self.assertIn("Supply or reference", cause["reason"])


class Slips(unittest.TestCase):
    def test_factors_and_other_readings_are_named_in_any_circuit(self):
        attempt = attempt_of("manifold-pressure", "none")
        measured = attempt.taken["first"].measured
        idle, peak = (measured.reading(r).value for r in ("idle_v", "snap_peak_v"))
        for value, slip in (
            (1000 * idle, "factor_1000"),
            (10 * idle, "factor_10"),
            (-idle, "factor_-1"),
            (peak, "wrong_phase"),
        ):
            given = answers_from_json(attempt.card, {"reading-idle_v": {"value": value}})
            rows = grade(Attempt(attempt.card, {**attempt.answers, **given}, attempt.taken))["results"]
            self.assertEqual(next(r for r in rows if r["criterion"] == "reading:idle_v")["slip"], slip)


class Same(unittest.TestCase):
    def test_the_same_attempt_always_gets_the_same_marks(self):
        one, two = (grade(attempt_of("rail-pressure", "hunting")) for _ in range(2))
        self.assertEqual(one, two)

    def test_the_same_recording_always_gets_the_same_answer(self):
        one, two = (Variation("airflow-voltage", 4).answer().as_json() for _ in range(2))
        self.assertEqual(one, two)
