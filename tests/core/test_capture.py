import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.capture import Capture, Lane, capture_from_stamps
from tracebench.core.errors import BadCapture


def lanes(samples: np.ndarray) -> dict[str, Lane]:
    return {"signal": Lane("signal", samples, "V")}


class FromStamps(unittest.TestCase):
    def test_too_few_samples_are_refused(self):
        with self.assertRaisesRegex(BadCapture, "5 samples"):
            capture_from_stamps(np.arange(5.0), lanes(np.zeros(5)))

    def test_even_stamps_keep_every_sample(self):
        samples = np.random.default_rng(0).normal(size=100)
        found = capture_from_stamps(np.arange(100) * 0.01 + 3, lanes(samples))
        np.testing.assert_array_equal(found.lanes["signal"].samples, samples)
        self.assertAlmostEqual(found.interval_s, 0.01)
        self.assertAlmostEqual(found.start_s, 3)

    def test_jitter_below_half_a_sample_is_an_even_grid(self):
        rng = np.random.default_rng(1)
        times = (np.arange(1000) + rng.uniform(-0.3, 0.3, 1000)) * 1e-3
        times.sort()
        samples = rng.normal(size=1000)
        np.testing.assert_array_equal(capture_from_stamps(times, lanes(samples)).lanes["signal"].samples, samples)

    def test_repeated_stamps_from_rounding_are_an_even_grid(self):
        times = np.floor(np.arange(1000) * 2.5e-4 / 1e-3) * 1e-3
        samples = np.arange(1000.0)
        found = capture_from_stamps(times, lanes(samples))
        np.testing.assert_array_equal(found.lanes["signal"].samples, samples)
        self.assertAlmostEqual(found.interval_s, 2.5e-4, delta=2e-6)

    def test_a_gap_is_bridged_on_the_time_axis(self):
        times = np.concatenate([np.arange(500), np.arange(700, 1200)]) * 1e-3
        found = capture_from_stamps(times, lanes(times * 2))
        self.assertAlmostEqual(found.duration_s, 1.2, delta=0.002)
        self.assertAlmostEqual(found.lanes["signal"].samples[600], 1.2, places=6)
        self.assertEqual(found.source_samples, 1000)
        self.assertIn("uneven", found.notes[0])

    def test_time_running_backwards_names_the_row(self):
        times = np.arange(20.0)
        times[7] = 3.0
        with self.assertRaisesRegex(BadCapture, "row 8"):
            capture_from_stamps(times, lanes(np.zeros(20)))

    def test_one_stamp_for_all_rows_is_refused(self):
        with self.assertRaisesRegex(BadCapture, "same time stamp"):
            capture_from_stamps(np.zeros(30), lanes(np.zeros(30)))

    def test_missing_cells_are_bridged_and_told(self):
        samples = np.arange(50.0)
        samples[10:12] = np.nan
        found = capture_from_stamps(np.arange(50.0), lanes(samples))
        np.testing.assert_allclose(found.lanes["signal"].samples, np.arange(50.0))
        self.assertIn("2 missing cells", found.notes[0])

    def test_a_lane_without_numbers_is_refused(self):
        with self.assertRaisesRegex(BadCapture, "no numbers"):
            capture_from_stamps(np.arange(50.0), lanes(np.full(50, np.nan)))

    @settings(max_examples=30, deadline=None)
    @given(st.lists(st.floats(min_value=1e-6, max_value=1.0), min_size=20, max_size=200))
    def test_any_rising_stamps_give_an_even_record_of_the_same_length(self, steps):
        times = np.concatenate([[0.0], np.cumsum(steps)])
        found = capture_from_stamps(times, lanes(times.copy()))
        self.assertTrue(np.all(np.isfinite(found.lanes["signal"].samples)))
        self.assertAlmostEqual(found.duration_s, times[-1], delta=2.1 * found.interval_s)
        self.assertLessEqual(found.samples, 4 * times.size + 2)


class CaptureRules(unittest.TestCase):
    def test_times_that_no_recorder_has_are_refused_in_words(self):
        samples = lanes(np.zeros(50))
        for interval, start, words in (
            (1e-320, 0.0, "are the times in seconds"),
            (float("nan"), 0.0, "sampling interval"),
            (-0.1, 0.0, "sampling interval"),
            (1e300, 0.0, "sampling interval"),
            (1e-6, 1e13, "tell samples"),
            (1e-6, float("inf"), "tell samples"),
        ):
            with self.subTest(interval=interval, start=start), self.assertRaisesRegex(BadCapture, words):
                Capture(samples, interval, start)
        self.assertEqual(Capture(samples, 1e-9, -5.0).samples, 50)

    def test_lanes_of_different_length_are_refused(self):
        with self.assertRaisesRegex(BadCapture, "differ in length"):
            Capture({"a": Lane("a", np.zeros(20), "V"), "b": Lane("b", np.zeros(30), "V")}, 0.1)

    def test_index_stays_inside(self):
        capture = Capture(lanes(np.zeros(20)), 0.1, start_s=5.0)
        self.assertEqual([capture.index(t) for t in (-1, 5.0, 5.26, 99)], [0, 0, 3, 19])
