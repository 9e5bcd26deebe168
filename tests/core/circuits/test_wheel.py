"""Reading a wheel from the instants of its teeth alone, on wheels laid out by arithmetic."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.circuits.toothed.wheel import amplitudes, digital, levelled, polarity, read_wheel, teeth_of


def instants(teeth, missing, turns, wave=0.0, first=0, lost=()):
    """Sample instants of the teeth that are there: 100 samples a tooth, speed waving twice a turn by `wave`."""
    numbers = np.arange(first, teeth * turns)
    kept = numbers[(numbers % teeth < teeth - missing) & ~np.isin(numbers, lost)]
    angle = kept / teeth
    return 100 * teeth * (angle + wave / (4 * np.pi) * np.sin(4 * np.pi * angle))


class Wheels(unittest.TestCase):
    @given(st.integers(20, 120), st.integers(1, 3), st.floats(0, 0.08), st.integers(0, 19))
    @settings(max_examples=150)
    def test_teeth_gap_and_places(self, teeth, missing, wave, first):
        wheel = read_wheel(instants(teeth, missing, 5, wave, first))
        self.assertEqual((wheel.teeth, wheel.gap), (teeth, missing))
        places = np.arange(first, 5 * teeth) % teeth
        np.testing.assert_array_equal(wheel.place, places[places < teeth - missing])

    @given(st.integers(0, 57), st.integers(1, 3))
    def test_a_tooth_lost_once_leaves_the_count(self, place, turn):
        lost = turn * 60 + place
        wheel = read_wheel(instants(60, 2, 6, lost=(lost,)))
        self.assertEqual((wheel.teeth, wheel.gap), (60, 2))

    def test_a_tooth_lost_in_every_turn_still_counts(self):
        wheel = read_wheel(instants(60, 2, 6, lost=tuple(60 * k + 21 for k in range(6))))
        self.assertEqual((wheel.teeth, wheel.gap), (60, 2))

    def test_no_gap_is_no_turn(self):
        wheel = read_wheel(instants(60, 0, 3))
        self.assertEqual((wheel.teeth, wheel.gap, wheel.gaps.size), (0, 0, 0))
        self.assertTrue(np.all(wheel.place == -1))

    def test_ratio_of_a_gap_counts_its_teeth(self):
        wheel = read_wheel(instants(36, 2, 4))
        np.testing.assert_allclose(wheel.ratio[wheel.gaps], 3.0, atol=0.02)


class Signals(unittest.TestCase):
    def setUp(self):
        self.angle = np.arange(30_000) / 50
        self.sine = np.sin(2 * np.pi * self.angle)

    def test_two_levels_are_digital_and_a_sine_is_not(self):
        square = np.where(self.sine > 0, 5.0, 0.2)
        self.assertTrue(digital(square))
        self.assertFalse(digital(3 * self.sine))
        self.assertFalse(digital(0.1 * square))
        self.assertFalse(digital(square - 2.6))

    def test_teeth_are_placed_between_samples(self):
        at = teeth_of(self.sine, 1e-5, hall=False).falling
        expected = 25 + 50 * np.arange(600)
        np.testing.assert_allclose(at, expected[: at.size], atol=0.05)

    def test_levelled_makes_slow_and_fast_teeth_alike(self):
        growing = self.sine * np.linspace(0.5, 5, self.sine.size)
        even = levelled(growing, 1e-5)
        peaks = np.abs(even[2000:-2000]).reshape(-1, 50).max(axis=1)
        self.assertGreater(peaks.min(), 0.6)
        self.assertLess(peaks.max(), 1.4)

    def test_amplitude_of_each_tooth_is_peak_to_peak(self):
        growing = self.sine * np.repeat(np.arange(1, 601), 50)
        found = amplitudes(growing, 50.0 * np.arange(600))
        np.testing.assert_allclose(found[:50], 2 * np.arange(1, 51), rtol=0.01)

    def test_polarity_from_the_half_wave_before_the_gap(self):
        wave = np.where(np.floor(self.angle) % 60 < 58, self.sine, 0.0)
        for sign in (1, -1):
            signal = sign * wave + np.random.default_rng(3).normal(0, 0.01, wave.size)
            wheel = read_wheel(teeth_of(signal, 1e-5, digital(signal)).falling)
            self.assertEqual(polarity(signal, wheel, 1e-5), sign)
