"""Sound recordings are never condemned and planted faults never missed, whatever rate, bits, noise, hum and hand.

A sample of what `benchmarks/variations.py` does with 300 of each; its rates stand in docs/measurements.md.
"""

import unittest

from tests.support.variations import EXPECTED, Variation
from tracebench.bench.circuits import SOURCES

SOUND = 6
FAULTY = 1


class Variations(unittest.TestCase):
    def test_every_fault_on_offer_has_its_expectation(self):
        for code, source in SOURCES.items():
            self.assertEqual({f.key for f in source.faults} - {"none"}, set(EXPECTED[code]), code)

    def test_sound_ones_have_no_fault(self):
        for code in EXPECTED:
            for seed in range(5000, 5000 + SOUND):
                with self.subTest(circuit=code, seed=seed):
                    answer = Variation(code, seed).answer()
                    self.assertEqual([f.text for f in answer.findings if f.kind == "fault"], [])
                    self.assertNotEqual(answer.call, "faulty", answer.because)

    def test_planted_ones_are_found(self):
        for code, faults in EXPECTED.items():
            for fault, wanted in faults.items():
                for seed in range(7000, 7000 + FAULTY):
                    with self.subTest(circuit=code, fault=fault, seed=seed):
                        for in_noise in (False, True):
                            one = Variation(code, seed, fault)
                            answer = one.answer(in_noise)
                            self.assertTrue(one.found(answer, wanted), (in_noise, [f.text for f in answer.findings]))
