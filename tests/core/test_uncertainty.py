"""Stated uncertainties against simulation: the 95 % interval covers the true value nearly that often.

A sample of what `benchmarks/coverage.py` does with 500 captures; with 60 the share itself is uncertain by 3 %.
"""

import unittest

from tests.support.coverage import CASES, covered
from tests.support.variations import EVENTS

FEW = 24
"""Captures of events: long ones, each with several of them."""


class Coverage(unittest.TestCase):
    def test_intervals_cover_the_truth(self):
        for name, case in CASES.items():
            for reading_id, share in covered(case, FEW if case.code.startswith(EVENTS) else 60).items():
                with self.subTest(case=name, reading=reading_id):
                    self.assertGreaterEqual(share, 0.86)
