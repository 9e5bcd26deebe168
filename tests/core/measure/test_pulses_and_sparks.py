"""Pulses, hulls and burns on courses whose answers are known by construction."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests.support.pulses import axis, noisy, spark
from tracebench.core.measure.hulls import _lower_hull, against_course, bulge_over
from tracebench.core.measure.pulse_train import find_pulses, rest_of, without_drift
from tracebench.core.measure.spark import count_rings, find_burn


class Pulses(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.tuples(st.integers(6, 60), st.integers(6, 60)), min_size=1, max_size=12), st.integers(0, 99))
    def test_every_pulse_between_two_rests_is_found_once(self, widths, seed):
        course, bounds, at = [0.0] * 10, [], 10
        for wide, rest in widths:
            course += [1.0] * wide + [0.0] * rest
            bounds.append((at, at + wide))
            at += wide + rest
        samples = np.array(course) + np.random.default_rng(seed).normal(0, 0.04, len(course))
        found = find_pulses(samples, 0.3, 0.6)
        self.assertEqual(list(zip(found.start.tolist(), found.stop.tolist(), strict=True)), bounds)

    def test_those_cut_by_an_end_are_left_out(self):
        samples = np.array([1.0] * 5 + [0.0] * 5 + [1.0] * 5 + [0.0] * 5 + [1.0] * 5)
        found = find_pulses(samples, 0.3, 0.6)
        self.assertEqual((found.start.tolist(), found.stop.tolist()), ([10], [15]))
        self.assertEqual(find_pulses(np.zeros(50), 0.3, 0.6).count, 0)

    def test_rest_is_where_the_lane_spends_its_time(self):
        samples = noisy(np.concatenate([np.full(900, 0.4), np.full(100, 8.0)]), 0.01)
        rest = rest_of(samples)
        self.assertAlmostEqual(rest.level, 0.4, delta=0.01)
        self.assertAlmostEqual(rest.sigma, 0.01, delta=0.004)
        self.assertAlmostEqual(rest.over, 7.6, delta=0.06)
        self.assertEqual(rest_of(np.full(100, 2.0)).over, 0.0)

    def test_a_line_of_one_sample_counts_wherever_it_lies_in_a_long_record(self):
        samples = np.random.default_rng(2).normal(0, 0.05, 2_000_003)
        for place in (700_001, 700_002, 700_013):
            lined = samples.copy()
            lined[place], lined[place + 500] = 12.0, -7.0
            rest = rest_of(lined)
            self.assertAlmostEqual(rest.over, 12.0, delta=0.01)
            self.assertAlmostEqual(rest.under, 7.0, delta=0.01)

    def test_a_coarse_recorder_has_noise_of_its_step(self):
        samples = np.zeros(2000)
        samples[500:540] = np.linspace(0, 5, 40)
        coarse = np.round(noisy(samples, 0.001) / 0.1) * 0.1
        self.assertAlmostEqual(rest_of(coarse).sigma, 0.1 / np.sqrt(12), delta=0.001)
        switching = np.where(samples > 0, 5.0, 0.0)
        self.assertEqual(rest_of(switching).sigma, 0.0)

    def test_drift_is_taken_off_and_a_steady_lane_is_left_alone(self):
        times = axis(2.0, 10_000)
        pulses = np.where((times % 0.1) < 0.01, 5.0, 0.0)
        steady = noisy(pulses, 0.01)
        self.assertEqual(without_drift(steady, 1e-4, rest_of(steady))[1], 0.0)
        flat, wander = without_drift(steady + 0.5 * times, 1e-4, rest_of(steady + 0.5 * times))
        self.assertAlmostEqual(wander, 1.0, delta=0.1)
        self.assertLess(np.ptp(np.median(flat[:20_000].reshape(20, 1000), axis=1)), 0.05)


class Hulls(unittest.TestCase):
    @settings(max_examples=50, deadline=None)
    @given(st.lists(st.floats(-5, 5), min_size=4, max_size=80))
    def test_lower_hull_is_scipys(self, values):
        y = np.array(values)
        ours = set(_lower_hull(y).tolist())
        x = np.arange(y.size)
        # A far point above leaves the lower hull as it is and keeps qhull out of degenerate input.
        hull = ConvexHull(np.column_stack([np.append(x, y.size / 2), np.append(y, 1e3)]), qhull_options="QJ")
        line = np.interp(x, sorted(ours), y[sorted(ours)])
        self.assertTrue(np.all(line <= y + 1e-9))
        corners = {int(v) for v in hull.vertices if v < y.size}
        inside = np.interp(x, sorted(corners), y[sorted(corners)])
        np.testing.assert_allclose(line, inside, atol=2e-3)

    def test_a_bump_on_a_decay(self):
        t = np.linspace(0, 3, 1500)
        for at, size in ((1.0, 0.08), (1.8, 0.05)):
            course = np.exp(-t / 0.8) + size * np.exp(-(((t - at) / 0.12) ** 2))
            found = against_course(course, bulge_over(course))
            self.assertAlmostEqual(t[found.at], at, delta=0.02)
            self.assertAlmostEqual(found.size, size, delta=0.15 * size)

    def test_a_plain_decay_has_none(self):
        self.assertLess(bulge_over(np.exp(-np.linspace(0, 4, 1000))).size, 2e-3)
        self.assertIsNone(bulge_over(np.zeros(4)))


class Burns(unittest.TestCase):
    RATE = 500_000

    def found(self, noise=0.01, **more):
        part = noisy(spark(axis(0.008, self.RATE), [0.0005], **more), noise)
        return find_burn(part, 250, 1 / self.RATE, noise)

    def test_length_level_and_roughness(self):
        for burn_ms in (0.4, 1.2, 2.4):
            found = self.found(burn_ms=burn_ms)
            self.assertAlmostEqual((found.stop - found.start) / self.RATE * 1000, burn_ms, delta=0.012)
            self.assertAlmostEqual(found.level, 1.5, delta=0.03)
        self.assertAlmostEqual(self.found(roughness=0.15).roughness, 0.15, delta=0.02)

    def test_no_burn_is_no_burn(self):
        self.assertIsNone(self.found(burn_ms=0.0))

    def test_rings_die_away_by_their_decrement(self):
        # A damped ring exp(-t / tau) cos: a crest each period while it is over an eighth of the level.
        t = axis(0.004, self.RATE)
        for tau_ms in (0.3, 0.6, 1.0):
            ring = 1.4 * np.exp(-1000 * t / tau_ms) * np.cos(2 * np.pi * 1000 * t / 0.25)
            count = count_rings(ring, 1.5, 1 / self.RATE, 1e-4)
            expected = np.floor(tau_ms * np.log(1.4 / (0.12 * 1.5)) / 0.25)
            self.assertAlmostEqual(count, expected, delta=2)

    def test_noise_that_hides_rings_gives_no_count(self):
        self.assertTrue(np.isnan(count_rings(np.zeros(2000), 1.5, 1 / self.RATE, 0.5)))


if __name__ == "__main__":
    unittest.main()
