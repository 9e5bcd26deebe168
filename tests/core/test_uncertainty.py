"""Stated uncertainties against simulation: the 95 % interval covers the true value nearly that often.

A sample of what `benchmarks/coverage.py` does with 500 captures; with 60 the share itself is uncertain by 3 %.
"""

import unittest
from dataclasses import replace

import numpy as np

from tests.support.courses import captured
from tests.support.coverage import CASES, K_95, covered, misses
from tests.support.recorders import RECORDERS
from tests.support.variations import EVENTS
from tracebench.core.capture import Lane, capture_from_stamps
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

FEW = 24
"""Captures of events: long ones, each with several of them."""


class Coverage(unittest.TestCase):
    def test_intervals_cover_the_truth(self):
        for name, case in CASES.items():
            for reading_id, share in covered(case, FEW if case.code.startswith(EVENTS) else 60).items():
                with self.subTest(case=name, reading=reading_id):
                    self.assertGreaterEqual(share, 0.86)

    def test_they_do_as_well_through_recorders_that_are_worse(self):
        for recorder in RECORDERS:
            off = np.concatenate([x for case in CASES.values() for x in misses(case, 3, recorder).values()])
            with self.subTest(recorder=recorder, readings=off.size):
                # Three captures of a case share what they were drawn by: the share itself is known to some 3 %.
                self.assertGreaterEqual(np.mean(off <= K_95), 0.85)
                self.assertLessEqual(np.mean(off > 4), 0.03)

    def test_what_is_told_of_a_scope_stands_in_the_doubt_of_its_levels(self):
        # 12.6 V read on a scope good to 2 %: half a width of 0.252 V, over the root of three.
        lanes = {"supply": 12.6 + 0.01 * np.random.default_rng(3).standard_normal(4000)}
        plain = measure(captured("supply-ground", 1000, **lanes), "supply-ground")
        told = measure(captured("supply-ground", 1000, **lanes), "supply-ground", (), {"accuracy_pct": "2"})
        self.assertLess(plain.reading("supply_v").uncertainty, 0.005)
        self.assertAlmostEqual(told.reading("supply_v").uncertainty, 0.02 * 12.63 / 3**0.5, delta=0.002)

    def test_an_accuracy_that_is_none_is_refused_in_words(self):
        lanes = {"supply": np.full(4000, 12.6)}
        for text in ("good", "-1", "90", "nan"):
            with self.subTest(text=text), self.assertRaisesRegex(BadOption, "accuracy_pct"):
                measure(captured("supply-ground", 1000, **lanes), "supply-ground", (), {"accuracy_pct": text})

    def test_codes_of_uneven_rows_are_those_of_the_file(self):
        # A tenth of a volt a code, and rows missing: what lies between two rows is no finer than they are.
        kept = np.random.default_rng(5).random(6000) > 0.1
        lane = Lane("supply", np.full(6000, 12.6)[kept], "V")
        steps = np.where(np.arange(6000) % 1000 < 40, 12.5, 12.6)[kept]
        uneven = capture_from_stamps(np.arange(6000)[kept] / 1000, {"supply": replace(lane, samples=steps)})
        self.assertGreaterEqual(measure(uneven, "supply-ground").reading("supply_v").uncertainty, 0.99 * 0.1 / 12**0.5)
