"""Weighted kappa against scikit-learn, statsmodels and a published table."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from sklearn.metrics import cohen_kappa_score
from statsmodels.stats.inter_rater import cohens_kappa

from tracebench.core.grading.agreement import LEAST_PAIRS, LEVELS, agreement, level, weighted_kappa


def pairs_of(table):
    return [(a, b) for a, row in enumerate(table) for b, count in enumerate(row) for _ in range(count)]


class WeightedKappa(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), min_size=2, max_size=80))
    def test_it_is_scikit_learns(self, pairs):
        ours = weighted_kappa(pairs, LEVELS)
        first, second = zip(*pairs, strict=True)
        if ours is None:
            # All decisions of both are one and the same: nothing was left to chance.
            self.assertEqual(len({*first, *second}), 1)
            return
        theirs = cohen_kappa_score(first, second, labels=list(range(LEVELS)), weights="quadratic")
        self.assertAlmostEqual(ours, theirs, places=10)

    def test_two_levels_give_the_published_plain_kappa(self):
        # Of two levels all disagreement weighs the same. Psychotic or not, of the table of two raters in Fleiss, Levin
        # and Paik, Statistical Methods for Rates and Proportions (3rd ed.), table 18.1, its categories 2 and 3 put
        # together: 0.75, 0.05; 0.05, 0.15. Observed 0.90, by chance 0.68, kappa 0.22 / 0.32.
        self.assertAlmostEqual(weighted_kappa(pairs_of([[75, 5], [5, 15]]), 2), 0.22 / 0.32, places=12)

    def test_a_table_of_three_levels_by_hand_and_by_statsmodels(self):
        # Squared weights: one level apart counts once, two levels four times; by chance as rows and columns have it.
        table = [[20, 4, 1], [3, 15, 2], [0, 5, 10]]
        rows, columns = np.sum(table, axis=1), np.sum(table, axis=0)
        self.assertEqual((list(rows), list(columns)), ([25, 20, 15], [23, 24, 13]))
        observed = 4 + 3 + 2 + 5 + 4 * 1
        chance = (25 * 24 + 20 * 23 + 20 * 13 + 15 * 24 + 4 * (25 * 13 + 15 * 23)) / 60
        ours = weighted_kappa(pairs_of(table), 3)
        self.assertAlmostEqual(ours, 1 - observed / chance, places=12)
        self.assertAlmostEqual(ours, float(cohens_kappa(np.array(table), wt="quadratic").kappa), places=10)

    def test_full_agreement_is_one_and_exchanged_ends_are_less_than_none(self):
        self.assertEqual(weighted_kappa([(k, k) for k in range(5)], LEVELS), 1.0)
        self.assertAlmostEqual(weighted_kappa([(k, 4 - k) for k in range(5)], LEVELS), -1.0, places=12)


class Levels(unittest.TestCase):
    def test_points_are_told_apart_by_quarters(self):
        told = [level(earned, 2.0) for earned in (0, 0.2, 0.3, 0.5, 1.0, 1.5, 1.8, 2.0)]
        self.assertEqual(told, [0, 0, 1, 1, 2, 3, 4, 4])

    def test_too_few_decisions_say_nothing(self):
        few = agreement([(0, 0), (4, 4)])
        self.assertEqual((few.pairs, few.same, few.kappa), (2, 2, None))
        enough = agreement([(0, 0), (4, 4)] * LEAST_PAIRS)
        self.assertEqual(enough.kappa, 1.0)


if __name__ == "__main__":
    unittest.main()
