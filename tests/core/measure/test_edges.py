import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tracebench.core.measure.edges import find_edges, swing_thresholds


class FindEdges(unittest.TestCase):
    def test_none_in_a_constant(self):
        edges = find_edges(np.ones(50), 0.3, 0.7)
        self.assertEqual((edges.rising.size, edges.falling.size), (0, 0))

    def test_between_two_samples(self):
        edges = find_edges(np.array([0.0, 0.0, 1.0, 1.0, 0.0]), 0.3, 0.7)
        np.testing.assert_allclose(edges.rising, [1.5])
        np.testing.assert_allclose(edges.falling, [3.5])

    def test_another_level_than_the_middle(self):
        ramp = np.linspace(0, 1, 101)
        np.testing.assert_allclose(find_edges(ramp, 0.1, 0.9, 0.25).rising, [25.0], atol=0.01)

    def test_noise_inside_the_band_makes_no_edges(self):
        rng = np.random.default_rng(2)
        wave = (np.arange(4000) // 200 % 2) + rng.normal(0, 0.1, 4000)
        edges = find_edges(wave, 0.2, 0.8)
        self.assertEqual((edges.rising.size, edges.falling.size), (10, 9))

    def test_a_swing_that_turns_back_is_no_edge(self):
        self.assertEqual(find_edges(np.array([0, 0.5, 0.6, 0.4, 0, 0.0]), 0.3, 0.7).rising.size, 0)

    @given(hertz=st.floats(3.0, 40.0), phase=st.floats(0.0, 1.0))
    def test_edges_of_a_sine_stand_a_period_apart(self, hertz, phase):
        wave = np.sin(2 * np.pi * (hertz * np.arange(2000) / 1000 + phase))
        edges = find_edges(wave, -0.4, 0.4)
        periods = np.diff(edges.rising)
        if periods.size:
            np.testing.assert_allclose(periods, 1000 / hertz, atol=0.05)

    def test_thresholds_lie_inside_the_swing(self):
        low, high = swing_thresholds(np.concatenate([np.zeros(500), np.full(500, 5.0)]), 0.2)
        self.assertAlmostEqual(low, 1.0)
        self.assertAlmostEqual(high, 4.0)
