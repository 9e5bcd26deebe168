"""Crests, moving figures and rank correlation against SciPy's own."""

import unittest

import numpy as np
import scipy
from hypothesis import given
from hypothesis import strategies as st

from tracebench.core.measure.crests import crests
from tracebench.core.robust.series import rank_correlation, running_max, running_mean, running_median, running_min

WAVES = st.lists(st.integers(-6, 6), min_size=1, max_size=60).map(lambda x: np.array(x, dtype=float))
WIDTHS = st.integers(1, 30)


class Crests(unittest.TestCase):
    @given(WAVES, st.integers(-5, 6), st.integers(0, 8))
    def test_as_the_reference_library_finds_them(self, wave, height, prominence):
        expected, _ = scipy.signal.find_peaks(wave, height=height, prominence=prominence)
        self.assertEqual(crests(wave, height, prominence).tolist(), expected.tolist())

    @given(st.permutations(range(40)), st.integers(1, 12))
    def test_those_too_near_to_a_higher_one_go(self, wave, apart):
        # No two alike: of two as high as each other either may stay.
        wave = np.array(wave, dtype=float)
        expected, _ = scipy.signal.find_peaks(wave, height=5, prominence=3, distance=apart)
        self.assertEqual(crests(wave, 5, 3, apart).tolist(), expected.tolist())


class Moving(unittest.TestCase):
    @given(WAVES, WIDTHS)
    def test_a_window_is_centred_and_the_ends_repeat(self, wave, width):
        odd = min(width | 1, (wave.size - 1) | 1)
        for ours, theirs in (
            (running_median, scipy.ndimage.median_filter),
            (running_mean, scipy.ndimage.uniform_filter1d),
            (running_max, scipy.ndimage.maximum_filter1d),
            (running_min, scipy.ndimage.minimum_filter1d),
        ):
            expected = theirs(wave, size=odd, mode="nearest") if odd >= 3 else wave
            np.testing.assert_allclose(ours(wave, width), expected, atol=1e-12)


class Ranks(unittest.TestCase):
    @given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 9)), min_size=2, max_size=40))
    def test_rank_correlation(self, pairs):
        one, other = np.array(pairs, dtype=float).T
        if np.ptp(one) == 0 or np.ptp(other) == 0:
            self.assertEqual(rank_correlation(one, other), 0.0)
        else:
            self.assertAlmostEqual(rank_correlation(one, other), scipy.stats.spearmanr(one, other).statistic, places=9)
