import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.measure.levels import level_of
from tracebench.core.robust.grouped import grouped_median, grouped_medians


class GroupedMedian(unittest.TestCase):
    def test_equal_samples_give_their_value(self):
        self.assertEqual(grouped_median(np.full(9, 1.25), 0.25), 1.25)
        # A middle between two codes is exact, also where a file's text has rounded them.
        for one, other in ((0.0195, 0.0293), (0.0293, 0.0391)):
            self.assertAlmostEqual(grouped_median(np.array([one, other] * 8), 0.0098), (one + other) / 2, places=9)

    def test_textbook_example(self):
        # Grouped data with classes 1 wide centred on 1, 2, 3: counts 4, 10, 6. L + (n/2 - F) / f * w = 2.1.
        samples = np.repeat([1.0, 2.0, 3.0], [4, 10, 6])
        self.assertAlmostEqual(grouped_median(samples, 1.0), 1.5 + (10 - 4) / 10)

    def test_between_codes_it_beats_the_plain_median(self):
        rng = np.random.default_rng(8)
        step, level = 0.04, 0.713
        codes = np.round((level + rng.normal(0, 0.02, 20_000)) / step) * step
        self.assertLess(abs(grouped_median(codes, step) - level), 0.002)
        self.assertGreater(abs(float(np.median(codes)) - level), 0.002)

    def test_textbook_example_of_a_row_long_enough_to_be_counted(self):
        samples = np.repeat([1.0, 2.0, 3.0], [8000, 20_000, 12_000])
        np.random.default_rng(4).shuffle(samples)
        self.assertAlmostEqual(grouped_median(samples, 1.0), 1.5 + (20_000 - 8000) / 20_000)

    @settings(max_examples=100, deadline=None)
    @given(st.integers(1, 40), st.integers(0, 10_000), st.sampled_from([0.0, 1.0]))
    def test_of_a_table_it_is_that_of_each_row(self, width, seed, step):
        rows = np.random.default_rng(seed).integers(0, 4, (5, width)).astype(float)
        np.testing.assert_allclose(grouped_medians(rows, step), [grouped_median(row, step) for row in rows], rtol=1e-12)


class LevelOf(unittest.TestCase):
    def test_empty_stretch_is_refused(self):
        with self.assertRaises(ValueError):
            level_of(np.empty(0))

    def test_noise_free_level_is_exact(self):
        found = level_of(np.full(500, 0.508))
        self.assertEqual(found.value, 0.508)
        self.assertEqual(found.uncertainty, 0.0)

    def test_resolution_alone_gives_a_rectangular_uncertainty(self):
        # JCGM 100, 4.3.7: half-width a of a rectangular distribution gives a / sqrt(3) = step / sqrt(12).
        samples = np.tile([1.00, 1.00, 1.00, 1.04], 100)[:399]
        self.assertGreaterEqual(level_of(samples).uncertainty, 0.04 / np.sqrt(12))

    def test_stated_uncertainty_covers_white_noise(self):
        rng = np.random.default_rng(12)
        inside = 0
        for _ in range(400):
            found = level_of(2.0 + rng.normal(0, 0.03, 800))
            inside += abs(found.value - 2.0) <= 2 * found.uncertainty
        self.assertGreaterEqual(inside / 400, 0.93)

    def test_a_single_outlier_does_not_move_it(self):
        samples = np.full(200, 1.0)
        samples[50] = 9.0
        self.assertAlmostEqual(level_of(samples).value, 1.0)
