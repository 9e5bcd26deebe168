import unittest
from unittest import mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.measure import excursions
from tracebench.core.measure.excursions import find_excursions


def ramp(rate_hz: float, seconds: float = 6.0, low: float = 0.7, high: float = 4.2) -> np.ndarray:
    return np.interp(np.arange(int(rate_hz * seconds)) / rate_hz, [1.0, seconds - 1], [low, high])


class FindExcursions(unittest.TestCase):
    def test_nothing_in_a_clean_ramp(self):
        self.assertEqual(find_excursions(ramp(1000.0), 1e-3), [])

    def test_rectangular_dip_has_its_place_width_and_depth(self):
        samples = ramp(1000.0)
        samples[2500:2520] -= 0.8
        (found,) = find_excursions(samples, 1e-3)
        self.assertEqual((found.start, found.stop), (2500, 2520))
        self.assertAlmostEqual(found.depth, -0.8, delta=0.02)

    def test_upward_ones_have_positive_depth(self):
        samples = ramp(1000.0)
        samples[3000:3005] += 0.5
        (found,) = find_excursions(samples, 1e-3)
        self.assertAlmostEqual(found.depth, 0.5, delta=0.02)

    def test_under_sixty_millivolts_is_texture(self):
        samples = ramp(1000.0)
        samples[2500:2520] -= 0.05
        self.assertEqual(find_excursions(samples, 1e-3), [])

    def test_longer_than_150_ms_is_no_excursion(self):
        samples = ramp(1000.0)
        samples[2500:2700] -= 0.8
        self.assertEqual(find_excursions(samples, 1e-3), [])

    def test_two_in_one_place_stay_two(self):
        samples = ramp(10_000.0)
        samples[25_000:25_050] -= 0.8
        samples[25_200:25_250] -= 0.6
        self.assertEqual(len(find_excursions(samples, 1e-4)), 2)

    def test_a_step_that_does_not_return_is_no_excursion(self):
        samples = ramp(1000.0)
        samples[3000:] -= 0.5
        self.assertEqual(find_excursions(samples, 1e-3), [])

    def test_quick_turn_of_a_movement_is_no_spike(self):
        times = np.arange(4000) / 1000
        samples = 0.7 + 3.5 * np.clip(1 - np.abs(times - 2) / 0.4, 0, 1)
        self.assertEqual(find_excursions(samples, 1e-3), [])

    def test_steady_noise_of_a_long_record_gives_none(self):
        samples = ramp(50_000.0, 12.0) + np.random.default_rng(2).normal(0, 0.03, 600_000)
        self.assertEqual(find_excursions(samples, 2e-5), [])

    def test_a_long_record_asked_in_pieces_tells_what_the_whole_of_it_tells(self):
        # Deep and short, shallow and long, over the border of two pieces, near the end, and too shallow to count.
        planted = ((100_000, 40, 0.5), (150_000, 4_000, 0.09), (8 * 32_768 - 30, 60, 0.4), (296_000, 500, 0.3))
        for start, width, depth in (*planted, (120_000, 3_000, 0.03)):
            samples = ramp(50_000.0) + np.random.default_rng(start).normal(0, 0.01, 300_000)
            samples[start : start + width] -= depth
            found = find_excursions(samples, 2e-5)
            with self.subTest(start=start, depth=depth), mock.patch.object(excursions, "_LONG", samples.size + 1):
                self.assertEqual(found, find_excursions(samples, 2e-5))
                self.assertEqual(bool(found), depth > 0.06)

    def test_hum_gives_none(self):
        samples = ramp(2000.0)
        samples += 0.05 * np.sin(2 * np.pi * 50 * np.arange(samples.size) / 2000)
        self.assertEqual(find_excursions(samples, 1 / 2000), [])

    @settings(max_examples=40, deadline=None)
    @given(
        place=st.floats(min_value=1.3, max_value=4.7),
        width_ms=st.floats(min_value=3, max_value=60),
        depth=st.floats(min_value=0.25, max_value=2.0),
        rate=st.sampled_from([1000.0, 4000.0, 20_000.0]),
        noise=st.sampled_from([0.0, 0.01, 0.02]),
    )
    def test_planted_dips_are_found_where_they_are(self, place, width_ms, depth, rate, noise):
        samples = ramp(rate) + np.random.default_rng(1).normal(0, 1, int(rate * 6)) * noise
        start = int(place * rate)
        stop = start + max(3, int(width_ms / 1000 * rate))
        samples[start:stop] -= depth
        found = find_excursions(samples, 1 / rate)
        self.assertEqual(len(found), 1)
        self.assertLess(abs(found[0].start - start), 0.01 * samples.size)
        self.assertAlmostEqual(found[0].depth, -depth, delta=max(0.05, 4 * noise, 0.05 * depth))
