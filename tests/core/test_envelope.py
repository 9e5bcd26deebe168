import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tracebench.core.envelope import BASE_FACTOR, envelope, pyramid


class Envelope(unittest.TestCase):
    @given(st.lists(st.integers(min_value=0, max_value=4095), min_size=1, max_size=500), st.integers(1, 40))
    def test_every_sample_lies_inside_its_bin(self, samples, factor):
        row = np.array(samples, dtype=np.uint16)
        low, high = envelope(row, row, factor)
        self.assertEqual(low.size, -(-row.size // factor))
        for k, value in enumerate(row):
            self.assertTrue(low[k // factor] <= value <= high[k // factor])

    def test_extremes_are_kept(self):
        row = np.zeros(1000)
        row[777] = 5.0
        low, high = envelope(row, row, 64)
        self.assertEqual((low.min(), high.max()), (0.0, 5.0))


class Pyramid(unittest.TestCase):
    def test_short_records_need_none(self):
        self.assertEqual(pyramid(np.zeros(BASE_FACTOR)), [])

    def test_levels_agree_with_the_raw_samples(self):
        row = np.random.default_rng(0).normal(size=100_003)
        for factor, low, high in pyramid(row):
            expected_low, expected_high = envelope(row, row, factor)
            np.testing.assert_array_equal(low, expected_low)
            np.testing.assert_array_equal(high, expected_high)

    def test_kept_part_is_under_a_twentieth_of_the_raw_size(self):
        row = np.zeros(2_000_000, dtype=np.uint16)
        kept = sum(low.nbytes + high.nbytes for _, low, high in pyramid(row))
        self.assertLess(kept, 0.05 * row.nbytes)
