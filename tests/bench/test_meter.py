"""The simulated meter against sums by hand and levels that are known. Figures of the meter: from memory."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tracebench.bench.meter import COUNTS, MOST_FIGURES, UPDATE_S, meter_figures


def held(*levels, rate=1000.0, each_s=4.0):
    return np.repeat(np.array(levels), round(rate * each_s)), 1 / rate


class Meter(unittest.TestCase):
    def test_a_level_is_shown_to_its_last_digit(self):
        samples, interval = held(0.604, 4.417)
        figures = meter_figures(samples, interval, 100.0)
        self.assertEqual(len(figures), 20)  # 8 s at 2.5 a second
        self.assertEqual(figures[0], (100.4, 0.6))
        self.assertEqual(figures[-1], (108.0, 4.42))  # 20 V in 2,000 counts: steps of 10 mV

    def test_a_gap_that_is_short_beside_an_update_all_but_vanishes(self):
        samples, interval = held(3.0)
        samples[2000:2020] = 0.0  # 20 ms down to nothing: 5 % of one update
        figures = [volts for _, volts in meter_figures(samples, interval, 0.0)]
        self.assertEqual(sorted(figures), [2.85, *[3.0] * 9])

    def test_small_levels_have_their_own_range(self):
        samples, interval = held(0.0213)
        self.assertEqual({v for _, v in meter_figures(samples, interval, 0.0)}, {0.0213})

    def test_too_short_a_record_has_no_figures_and_a_long_one_not_too_many(self):
        self.assertEqual(meter_figures(*held(1.0, each_s=0.79), 0.0), [])
        self.assertEqual(meter_figures(np.zeros(0), 0.001, 0.0), [])
        samples, interval = held(1.0, rate=100.0, each_s=1000.0)
        figures = meter_figures(samples, interval, 0.0)
        self.assertLessEqual(len(figures), MOST_FIGURES)
        self.assertGreater(figures[-1][0], 990.0)

    @given(st.lists(st.floats(-15, 15), min_size=2, max_size=30), st.floats(0.001, 0.1))
    def test_figures_lie_within_the_record_and_half_a_digit_of_it(self, levels, interval):
        samples = np.repeat(np.array(levels), max(1, round(UPDATE_S / interval)))
        for (at, volts), level in zip(meter_figures(samples, interval, 0.0), levels, strict=True):
            self.assertLessEqual(at, samples.size * interval + 0.001)
            self.assertLessEqual(abs(volts - level), 0.5 * 20.0 / COUNTS + 1e-6)


if __name__ == "__main__":
    unittest.main()
