"""A record of another circuit, handed in for this one: nothing of this part was measured."""

import unittest
from collections import Counter
from dataclasses import replace

from tests.core.grading.test_grading import DOCUMENT
from tests.outside.captures import CAPTURES
from tests.outside.workshop import WORKSHOP
from tests.support.waves import Sweep
from tracebench.core.capture import Capture
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.circuits import CIRCUITS
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import grade
from tracebench.core.proposal.another import looks_of_another

OUTSIDE = [(one.circuit, one.name, one.capture()) for one in (*CAPTURES, *WORKSHOP)]
"""Captures of formulas that the looks were not made from."""


def as_its_own(capture: Capture, code: str) -> Capture:
    """As a learner brings it in: the first lane taken for the first lane of the card's circuit."""
    lane = next(iter(capture.lanes.values()))
    own = CIRCUITS[code].lanes[0]
    return replace(capture, lanes={own.name: replace(lane, name=own.name, unit=own.unit)})


class Looks(unittest.TestCase):
    def test_no_part_is_taken_for_another_sound_or_faulty(self):
        for code, name, capture in OUTSIDE:
            with self.subTest(name):
                self.assertIsNone(looks_of_another(capture, code))

    def test_more_than_half_of_the_records_of_another_circuit_are_noticed(self):
        seen = Counter()
        for k, (code, _, capture) in enumerate(OUTSIDE):
            others = [c for c in CIRCUITS if c != code]
            for other in others[k % 9 :: 9]:
                seen[looks_of_another(as_its_own(capture, other), other) is not None] += 1
        self.assertGreater(seen[True] / seen.total(), 0.5, seen)

    def test_what_shows_nothing_could_be_anything(self):
        flat = Sweep(rate_hz=1000, closed_v=5.0, open_v=5.0, noise_v=0.002).capture()
        for code in CIRCUITS:
            self.assertIsNone(looks_of_another(as_its_own(flat, code), code), code)


class Marks(unittest.TestCase):
    def marked(self, capture: Capture, verdict: str) -> dict:
        steps = [
            {"kind": "capture"},
            {"kind": "reading", "reading": "closed_v"},
            {"kind": "reading", "reading": "open_v"},
            {"kind": "call"},
        ]
        card = card_from_json({**DOCUMENT, "steps": steps})
        taken = {"first": Taken(measured_under(card, "first", capture))}
        answers = {
            "reading-closed_v": {"value": 0.7, "pegs": [0.5]},
            "reading-open_v": {"value": 4.2, "pegs": [1.5]},
            "call": {"verdict": verdict, "confidence": 60},
        }
        found = grade(Attempt(card, answers_from_json(card, answers), taken))
        return {r["criterion"]: r for r in found["results"]}

    def test_a_wheel_for_a_throttle_earns_nothing_but_the_wish_for_another_record(self):
        wheel = next(c for code, name, c in OUTSIDE if code == "crank-position")
        for verdict in ("faulty", "sound"):
            marked = self.marked(as_its_own(wheel, "throttle-position"), verdict)
            for criterion in ("capture_quality", "reading:closed_v", "reading:open_v", "call"):
                self.assertEqual(marked[criterion]["score"], 0, (verdict, criterion))
            self.assertIn("crank", marked["capture_quality"]["reason"].lower())
            self.assertLess(marked["capture_quality"]["certainty"], 0.7)
        self.assertEqual(self.marked(as_its_own(wheel, "throttle-position"), "inconclusive")["call"]["score"], 1)

    def test_what_a_card_gives_is_measured_as_the_card_says(self):
        wheel = as_its_own(next(c for code, name, c in OUTSIDE if code == "crank-position"), "throttle-position")
        taken, given = (
            measured_under(card_from_json({**DOCUMENT, "source": source}), "first", wheel)
            for source in ({"kind": "upload"}, {"kind": "shelf", "version_id": 1})
        )
        self.assertEqual((taken.because, taken.readings), (("another_circuit",), ()))
        self.assertNotIn("another_circuit", [f.code for f in given.findings])
        self.assertTrue(given.readings)

    def test_a_throttle_is_marked_as_it_was(self):
        marked = self.marked(Sweep(rate_hz=2000, noise_v=0.004).capture(), "sound")
        self.assertEqual((marked["capture_quality"]["score"], marked["call"]["score"]), (1, 1))
