"""Stated uncertainties against simulation: the 95 % interval covers the true value nearly that often.

A sample of what `benchmarks/coverage.py` does with 500 captures; with 60 the share itself is uncertain by 3 %.
"""

import unittest

from tests.support.coverage import CASES, covered


class Coverage(unittest.TestCase):
    def test_intervals_cover_the_truth(self):
        for name, case in CASES.items():
            for reading_id, share in covered(case, 60).items():
                with self.subTest(case=name, reading=reading_id):
                    self.assertGreaterEqual(share, 0.86)
