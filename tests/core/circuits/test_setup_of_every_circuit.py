"""Every set-up finding on every circuit: provoked on a sound recording of the trainer, with a near miss that must not.

What a circuit cannot show is named with its reason, so that no pair is left out by oversight.
"""

import unittest

from tests.support.courses import codes
from tests.support.rooms import fact, facts
from tests.support.setup_changes import NO_CLAMP, sound
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.circuits.setup_findings import SETUP_FINDINGS

TOLD = {"trigger_outside", "cold_capture", "other_design", "condition_not_shown", "another_circuit"}
"""Found by what is told of a capture, not on its lanes: tests/core/circuits/test_told.py; the last one against a card:
tests/core/grading/test_record_of_another.py."""


class EveryPair(unittest.TestCase):
    def test_no_pair_is_left_out(self):
        every = {f.code for f in SETUP_FINDINGS} - TOLD
        for code in CIRCUITS:
            pairs, excused = fact(code, "SETUP"), dict(fact(code, "EXCUSED"))
            if "zero_not_set" not in pairs:
                excused["zero_not_set"] = NO_CLAMP
            with self.subTest(circuit=code):
                self.assertEqual(set(pairs) | set(excused), every)
                self.assertEqual(set(pairs) & set(excused), set())

    def test_each_is_provoked_and_its_near_miss_is_not(self):
        for code, pairs in facts("SETUP").items():
            capture = sound(code)
            clean = codes(measure(capture, code), "set-up")
            with self.subTest(circuit=code):
                self.assertEqual(clean, [])
            for finding, pair in pairs.items():
                with self.subTest(circuit=code, finding=finding):
                    answer = measure(pair.provoked(capture), code)
                    self.assertIn(finding, codes(answer, "set-up"))
                    self.assertNotEqual(answer.call, "faulty", answer.because)
                with self.subTest(circuit=code, near_miss_of=finding):
                    self.assertNotIn(finding, codes(measure(pair.near(capture), code), "set-up"))
