import unittest

import numpy as np
from scipy import stats

from tracebench.core.robust.codes import distinct_levels, resolution
from tracebench.core.robust.noise import MAD_TO_SIGMA, detrended, fast_noise, percentile_range, robust_sigma


class RobustSigma(unittest.TestCase):
    def test_empty_is_zero(self):
        self.assertEqual(robust_sigma(np.empty(0)), 0.0)

    def test_factor_is_that_of_the_normal_distribution(self):
        self.assertAlmostEqual(MAD_TO_SIGMA, 1 / stats.norm.ppf(0.75), places=3)

    def test_agrees_with_scipy(self):
        # Reference library: scipy.stats.median_abs_deviation.
        samples = np.random.default_rng(5).normal(1, 0.2, 999)
        expected = stats.median_abs_deviation(samples, scale="normal")
        self.assertAlmostEqual(robust_sigma(samples), float(expected), places=4)

    def test_a_tenth_of_outliers_does_not_double_it(self):
        samples = np.random.default_rng(6).normal(0, 0.01, 1000)
        samples[:100] = 5.0
        self.assertLess(robust_sigma(samples), 0.02)


class Ripple(unittest.TestCase):
    """A sine spends so long near its crests that its 1st to 99th percentile is cos(pi / 100) of peak to peak."""

    def wave(self, noise=0.0, step=0.0, hertz=371.3):
        t = np.arange(50_000) / 10_000
        out = 0.1 * np.sin(2 * np.pi * hertz * t) + np.random.default_rng(8).normal(0, noise, t.size)
        return np.round(out / step) * step if step else out

    def test_noise_and_codes_are_taken_off(self):
        truth = 0.2 * np.cos(np.pi / 100)
        for noise, step in ((0.0, 0.0), (0.004, 0.0), (0.004, 0.005), (0.008, 0.001)):
            seen = self.wave(noise, step)
            width, doubt = percentile_range(seen, 1.0, 99.0, step)
            plain = float(np.subtract(*np.percentile(seen, (99.0, 1.0))))
            self.assertLess(abs(width - truth), 3 * doubt)
            self.assertLessEqual(abs(width - truth), abs(plain - truth) + 1e-4)

    def test_a_wave_of_a_few_samples_is_not_taken_for_noise(self):
        seen = self.wave()[::10]
        self.assertGreater(percentile_range(seen, 1.0, 99.0, 0.0)[0], 0.19)

    def test_noise_under_a_moving_signal(self):
        self.assertAlmostEqual(fast_noise(self.wave(0.004, hertz=40.0)), 0.004, delta=0.0002)


class Detrended(unittest.TestCase):
    def test_a_straight_line_vanishes(self):
        np.testing.assert_allclose(detrended(np.linspace(2, 3, 50)), 0, atol=1e-12)

    def test_mean_is_zero(self):
        self.assertAlmostEqual(float(detrended(np.array([1.0, 5.0, 2.0, 8.0])).mean()), 0.0)


class Resolution(unittest.TestCase):
    def test_constant_has_none(self):
        self.assertEqual(resolution(np.full(10, 3.0)), 0.0)
        self.assertEqual(distinct_levels(np.full(10, 3.0)), 1)

    def test_finds_the_code_width_of_a_recorder(self):
        step = 10 / 2**12
        samples = np.round(np.random.default_rng(7).uniform(0, 5, 5000) / step) * step
        self.assertAlmostEqual(resolution(samples), step, places=6)

    def test_rounding_in_the_last_digits_of_text_is_no_step(self):
        samples = np.array([0.1, 0.1 + 1e-12, 0.2, 0.3])
        self.assertAlmostEqual(resolution(samples), 0.1, places=6)

    def test_counts_codes_across_the_swing(self):
        self.assertEqual(distinct_levels(np.arange(0, 31) * 0.04), 31)
