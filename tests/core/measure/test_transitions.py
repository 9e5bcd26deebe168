import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.measure.transitions import crossing, transition


def first_order(rate_hz: float, tau_s: float) -> np.ndarray:
    times = np.arange(int(rate_hz * (1 + 12 * tau_s))) / rate_hz
    return np.where(times < 0.5, 0.0, 1 - np.exp(-(times - 0.5) / tau_s))


class Crossing(unittest.TestCase):
    def test_none_when_the_level_is_never_reached(self):
        self.assertIsNone(crossing(np.linspace(0, 1, 50), 0, 50, 2.0, 1.0))

    def test_halfway_between_two_samples(self):
        found = crossing(np.array([0.0, 0.0, 2.0, 2.0]), 0, 4, 1.0, 2.0)
        self.assertAlmostEqual(found.index, 1.5)

    def test_falling_edges_are_found_with_a_negative_step(self):
        found = crossing(np.linspace(5, 0, 101), 0, 101, 2.5, -5.0)
        self.assertAlmostEqual(found.index, 50.0, places=3)


class Transition(unittest.TestCase):
    """IEEE Std 181-2011: 10 and 90 percent reference levels, transition duration."""

    def test_straight_ramp_takes_eight_tenths_of_its_length(self):
        ramp = np.concatenate([np.zeros(500), np.linspace(0, 5, 1001), np.full(500, 5.0)])
        self.assertAlmostEqual(transition(ramp, 0, ramp.size, 0.0, 5.0).samples, 800, delta=1)

    def test_first_order_step_takes_2_197_time_constants(self):
        # Textbook: t(90 %) - t(10 %) = tau ln 9.
        rate, tau = 20_000.0, 0.05
        found = transition(first_order(rate, tau), 0, int(rate * 1.5), 0.0, 1.0)
        self.assertAlmostEqual(found.samples / rate, tau * np.log(9), delta=0.005 * tau * np.log(9))

    def test_raised_cosine_against_the_closed_form(self):
        # 0.5 - 0.5 cos(pi u): u(10 %) = acos(0.8) / pi, u(90 %) = 1 - u(10 %).
        u = np.linspace(0, 1, 4001)
        edge = np.concatenate([np.zeros(1000), 0.5 - 0.5 * np.cos(np.pi * u), np.ones(1000)])
        expected = (1 - 2 * np.arccos(0.8) / np.pi) * 4000
        self.assertAlmostEqual(transition(edge, 0, edge.size, 0, 1).samples, expected, delta=0.005 * expected)

    def test_incomplete_transition_is_none(self):
        self.assertIsNone(transition(np.linspace(0, 0.8, 200), 0, 200, 0.0, 1.0))

    @settings(max_examples=40, deadline=None)
    @given(
        length=st.integers(min_value=60, max_value=4000),
        low=st.floats(min_value=-5, max_value=5),
        step=st.floats(min_value=0.5, max_value=10),
        rising=st.booleans(),
    )
    def test_ramps_of_any_length_and_level(self, length, low, step, rising):
        step = step if rising else -step
        ramp = np.concatenate([np.full(200, low), np.linspace(low, low + step, length), np.full(200, low + step)])
        found = transition(ramp, 0, ramp.size, low, low + step)
        self.assertAlmostEqual(found.samples, 0.8 * (length - 1), delta=max(1.0, 0.005 * length))

    def test_one_percent_noise_moves_it_less_than_two_percent(self):
        rng = np.random.default_rng(4)
        ramp = np.concatenate([np.zeros(500), np.linspace(0, 5, 2001), np.full(500, 5.0)])
        ramp += rng.normal(0, 0.05, ramp.size)
        self.assertAlmostEqual(transition(ramp, 0, ramp.size, 0.0, 5.0).samples, 1600, delta=32)
