"""Whole attempts, measured: somebody who reads a trace right, somebody who hands in nothing, and the sums."""

import unittest

from tests.support.waves import Sweep
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import CRITERIA, grade
from tracebench.core.steps.call.confidence import brier_score

DOCUMENT = {
    "circuit": "throttle-position",
    "title": "A card",
    "source": {"kind": "upload"},
    "limits": [
        {"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker"},
        {"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"},
    ],
    "steps": [
        {"kind": "cautions"},
        {"kind": "capture"},
        {"kind": "reading", "reading": "closed_v"},
        {"kind": "reading", "reading": "opening_s"},
        {"kind": "reading", "reading": "dropout_depth_v"},
        {"kind": "compare", "reading": "open_v"},
        {"kind": "call"},
    ],
}


def worn() -> Sweep:
    plain = Sweep(rate_hz=2000)
    places = [plain.instant_of_travel(0.14, s, c) for s in (0, 1) for c in (False, True)]
    return Sweep(rate_hz=2000, noise_v=0.004, dips=tuple((p, 0.01, 1.2) for p in places))


def attempt(sweep: Sweep, **changes) -> Attempt:
    """Somebody who reads this trace right: closed at 0.7 V, 4.4 s from 10 to 90 %, dips of 1.2 V if there are any."""
    card = card_from_json({**DOCUMENT, **changes})
    first = sweep.dips[0][0] if sweep.dips else None
    answers = {
        "cautions": {"read": [c.key for c in card.first.circuit.cautions]},
        "capture": {},
        "reading-closed_v": {"value": 0.7, "pegs": [0.5]},
        "reading-opening_s": {"value": 4.4, "pegs": [1.55, 5.95]},
        "reading-dropout_depth_v": {"value": 1.2, "pegs": [first]} if first else {"absent": True},
        "compare-open_v": {"state": "inside"},
        "call": {
            "verdict": "faulty" if first else "sound",
            "cause": "worn-track" if first else "none",
            "evidence": [[first - 0.05, first + 0.05]] if first else [[1.0, 6.5]],
            "next_test": "wiring" if first else "none",
            "confidence": 100,
        },
    }
    taken = {"first": Taken(measured_under(card, "first", sweep.capture()))}
    return Attempt(card, answers_from_json(card, answers), taken)


class WholeAttempt(unittest.TestCase):
    def test_right_answers_earn_every_point_sound_and_faulty(self):
        for sweep in (Sweep(rate_hz=2000, noise_v=0.004), worn()):
            result = grade(attempt(sweep))
            self.assertEqual(result["earned"], result["points"], [r for r in result["results"] if r["score"] < 1])

    def test_points_for_reading_the_trace_are_summed_apart(self):
        result = grade(attempt(worn()))
        around = sum(r["points"] for r in result["results"] if r["criterion"] in ("cautions", "capture_quality"))
        self.assertEqual(result["around"]["points"], around)
        self.assertEqual(result["trace"]["points"] + around, result["points"])
        self.assertEqual(result["trace"]["earned"] + result["around"]["earned"], result["earned"])

    def test_the_same_attempt_is_always_graded_alike(self):
        self.assertEqual(grade(attempt(worn())), grade(attempt(worn())))

    def test_nothing_handed_in_earns_nothing_and_does_not_crash(self):
        result = grade(Attempt(card_from_json(DOCUMENT), {}, {}))
        self.assertEqual(result["earned"], 0)
        self.assertTrue(all(r["reason"] for r in result["results"]))

    def test_every_mark_has_a_reason_and_every_reading_its_piece_of_trace(self):
        for r in grade(attempt(worn()))["results"]:
            self.assertGreater(len(r["reason"]), 10)
            if r["criterion"].startswith("reading:"):
                self.assertEqual(len(r["stretches"]), 1)

    def test_points_of_the_card_outrank_the_defaults_and_zero_leaves_out(self):
        result = grade(attempt(Sweep(), points={"call": 10.0, "confidence": 0.0}))
        by_key = {r["criterion"]: r for r in result["results"]}
        self.assertEqual(by_key["call"]["points"], 10)
        self.assertNotIn("confidence", by_key)

    def test_certainty_of_the_whole_is_that_of_its_least_certain_part(self):
        result = grade(attempt(worn()))
        self.assertEqual(result["certainty"], min(r["certainty"] for r in result["results"]))

    def test_criteria_are_listed_once(self):
        self.assertEqual(len({c.key for c in CRITERIA}), len(CRITERIA))


class SeveralCaptures(unittest.TestCase):
    def test_each_step_is_marked_on_the_capture_that_it_names(self):
        further = {"key": "again", "circuit": "throttle-position", "source": {"kind": "upload"}}
        steps = [
            {"kind": "reading", "reading": "closed_v"},
            {"kind": "reading", "reading": "closed_v", "capture": "again"},
            {"kind": "call"},
            {"kind": "call", "capture": "again"},
        ]
        card = card_from_json({**DOCUMENT, "further": [further], "steps": steps})
        captures = {"first": worn(), "again": Sweep(rate_hz=2000, noise_v=0.004, closed_v=0.6)}
        taken = {k: Taken(measured_under(card, k, s.capture())) for k, s in captures.items()}
        given = {
            "reading-closed_v": {"value": 0.7, "pegs": [0.5]},
            "again/reading-closed_v": {"value": 0.6, "pegs": [0.5]},
            "call": {"verdict": "faulty"},
            "again/call": {"verdict": "sound"},
        }
        found = grade(Attempt(card, answers_from_json(card, given), taken))["results"]
        scores = {r["criterion"]: r["score"] for r in found}
        for criterion in ("reading:closed_v", "again/reading:closed_v", "call", "again/call"):
            self.assertEqual(scores[criterion], 1, criterion)
        alone = grade(Attempt(card, answers_from_json(card, given), {"first": taken["first"]}))["results"]
        self.assertEqual({r["criterion"]: r["score"] for r in alone}["again/call"], 0)


class Confidence(unittest.TestCase):
    def test_saying_what_one_believes_is_best(self):
        # Strictly proper (Brier 1950): the expected score is largest at the belief itself.
        for belief in (20, 55, 80):
            expected = [
                belief / 100 * brier_score(said, True) + (1 - belief / 100) * brier_score(said, False)
                for said in range(101)
            ]
            self.assertEqual(expected.index(max(expected)), belief)
