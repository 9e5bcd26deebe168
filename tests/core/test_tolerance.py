"""Tolerance intervals against published tables, the published formula, and drawn samples."""

import unittest

import numpy as np
from scipy import optimize, stats
from scipy.special import ndtr

from tracebench.core.errors import BadOption
from tracebench.core.tolerance import confidence_of_extremes, tolerance_interval, two_sided_factor


class Factors(unittest.TestCase):
    def test_two_sided_factors_of_the_published_tables(self):
        # ISO 16269-6:2014 annex D; the same in Odeh and Owen 1980, table 3 (from memory).
        for count, coverage, confidence, k in (
            (5, 0.95, 0.95, 5.077),
            (10, 0.95, 0.95, 3.393),
            (20, 0.95, 0.95, 2.760),
            (10, 0.90, 0.95, 2.856),
            (10, 0.99, 0.95, 4.437),
            (30, 0.99, 0.99, 3.742),
        ):
            with self.subTest(count=count, coverage=coverage, confidence=confidence):
                self.assertAlmostEqual(two_sided_factor(count, coverage, confidence), k, delta=0.006)

    def test_the_older_tables_are_an_approximation_and_near(self):
        """Wald and Wolfowitz 1946, tabulated by Bowker 1947: 3.379 for ten values."""
        for count, old in ((5, 5.079), (10, 3.379), (20, 2.752), (50, 2.379)):
            near = 1 / np.sqrt(count)
            r = optimize.brentq(lambda r, a=near: stats.norm.cdf(a + r) - stats.norm.cdf(a - r) - 0.95, 0, 20)
            approximate = r * np.sqrt((count - 1) / stats.chi2.ppf(0.05, count - 1))
            self.assertAlmostEqual(approximate, old, delta=0.002)
            self.assertAlmostEqual(two_sided_factor(count, 0.95, 0.95) / old, 1.0, delta=0.006)

    def test_the_exact_factor_is_right_where_the_approximation_is_not(self):
        """By two million drawn samples of ten: their mean and spread are independent, normal and chi."""
        rng = np.random.default_rng(16269)
        mean, sd = rng.normal(0, 1 / np.sqrt(10), 2_000_000), np.sqrt(rng.chisquare(9, 2_000_000) / 9)

        def confidence(k):
            return float(np.mean(ndtr(mean + k * sd) - ndtr(mean - k * sd) >= 0.95))

        # Three standard uncertainties of a share of two million are 0.00046.
        self.assertAlmostEqual(confidence(two_sided_factor(10, 0.95, 0.95)), 0.95, delta=0.00046)
        self.assertGreater(0.95 - confidence(3.379), 0.00046)

    def test_extremes_by_the_published_formula_and_its_known_counts(self):
        # 93 is the least sample whose extremes hold 95 % with 95 % (ISO 16269-6:2014 annex G, Wilks 1941).
        self.assertGreaterEqual(confidence_of_extremes(93, 0.95), 0.95)
        self.assertLess(confidence_of_extremes(92, 0.95), 0.95)
        self.assertGreaterEqual(confidence_of_extremes(46, 0.90), 0.95)
        self.assertLess(confidence_of_extremes(45, 0.90), 0.95)


class Intervals(unittest.TestCase):
    def test_a_normal_sample_takes_its_factor_and_another_its_extremes(self):
        normal = tolerance_interval([0.58, 0.61, 0.60, 0.63, 0.59, 0.62, 0.60, 0.61, 0.57, 0.64])
        self.assertEqual(normal.method, "normal")
        self.assertAlmostEqual(normal.high - normal.mean, two_sided_factor(10, 0.95, 0.95) * normal.sd)
        self.assertEqual(normal.words(), "95 % of parts with 95 % confidence from 10 sound captures (normal)")
        two_kinds = tolerance_interval([0.5, 0.501, 0.5, 0.499, 0.5, 0.9, 0.901, 0.9, 0.899, 0.9, 0.9])
        self.assertEqual((two_kinds.method, two_kinds.low, two_kinds.high), ("distribution-free", 0.499, 0.901))
        self.assertAlmostEqual(two_kinds.confidence, confidence_of_extremes(11, 0.95))
        self.assertLess(two_kinds.confidence, 0.15)

    def test_too_few_and_all_alike_are_refused_with_what_to_do(self):
        with self.assertRaisesRegex(BadOption, "5 are the fewest"):
            tolerance_interval([1.0, 2.0, 3.0, 4.0])
        with self.assertRaisesRegex(BadOption, "very same value"):
            tolerance_interval([2.0] * 8)


if __name__ == "__main__":
    unittest.main()
