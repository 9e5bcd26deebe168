"""Sound recordings are never condemned and planted faults never missed, whatever rate, bits, noise, hum and hand.

A sample of what `benchmarks/variations.py` does with 300 of each; its rates stand in docs/measurements.md.
"""

import unittest

from tests.support.variations import EVENTS, EXPECTED, Variation
from tracebench.bench.sources import SOURCES

SOUND, SOUND_EVENTS = 6, 2
"""Records of events have a hundred times the samples; the benchmark takes as many of them."""

FAULTY = 1


class Variations(unittest.TestCase):
    def test_every_fault_on_offer_has_its_expectation(self):
        for code, source in SOURCES.items():
            self.assertEqual({f.key for f in source.faults} - {"none"}, set(EXPECTED[code]), code)

    def test_sound_ones_have_no_fault(self):
        for code in EXPECTED:
            for seed in range(5000, 5000 + (SOUND_EVENTS if code.startswith(EVENTS) else SOUND)):
                with self.subTest(circuit=code, seed=seed):
                    answer = Variation(code, seed).answer()
                    self.assertEqual([f.text for f in answer.findings if f.kind == "fault"], [])
                    self.assertNotEqual(answer.call, "faulty", answer.because)

    def test_planted_ones_are_found(self):
        for code, faults in EXPECTED.items():
            for place, (fault, wanted) in enumerate(faults.items()):
                # In noise the first fault of each circuit of events, and every one of the others.
                ways = (False, True) if place == 0 or not code.startswith(EVENTS) else (False,)
                for seed in range(7000, 7000 + FAULTY):
                    with self.subTest(circuit=code, fault=fault, seed=seed):
                        for in_noise in ways:
                            one = Variation(code, seed, fault)
                            answer = one.answer(in_noise)
                            self.assertTrue(one.found(answer, wanted), (in_noise, [f.text for f in answer.findings]))
