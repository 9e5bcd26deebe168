"""Steps that circuits share: levels of two states, tops of transitions, extremes, slips and rates."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.support.courses import captured, course
from tracebench.core.circuits import CIRCUITS, extremes, lane_levels, measure, probe, record_checks, thinning
from tracebench.core.circuits.circuit import Told
from tracebench.core.circuits.work import Work, inner


def work_of(rate_hz=1000.0, code="rail-pressure", **lanes):
    return Work(captured(code, rate_hz, **lanes), Told((), {}))


class Levels(unittest.TestCase):
    @given(st.floats(0.0, 1.0), st.floats(3.0, 5.0), st.integers(20, 400))
    def test_states_of_a_square_wave_without_its_edges(self, low, high, period):
        wave = np.where(np.arange(4000) % period < period // 2, high, low)
        edge = np.convolve(wave, np.ones(3) / 3, mode="same")  # edges of three samples
        middle = 0.5 * (low + high)
        self.assertAlmostEqual(lane_levels.state_level(edge, 0.0, below=middle).value, low, places=9)
        self.assertAlmostEqual(lane_levels.state_level(edge, 0.0, above=middle).value, high, places=9)

    def test_few_samples_of_a_state_are_still_read(self):
        wave = np.where(np.arange(100) % 20 == 0, 5.0, 0.0)
        self.assertAlmostEqual(lane_levels.state_level(wave, 0.0, above=2.5).value, 5.0)

    def test_a_flat_top_is_not_pushed_up_by_its_noise(self):
        part = np.concatenate([np.linspace(1, 4, 50), np.full(200, 4.0)])
        noisy = part + np.random.default_rng(2).normal(0, 0.02, part.size)
        peak = float(noisy.max())
        self.assertGreater(peak, 4.03)
        self.assertAlmostEqual(lane_levels.top_of(noisy, 1.0, peak), 4.0, delta=0.01)

    def test_extreme_is_a_median_over_its_width(self):
        values = course([(0, 1.0), (1, 1.0)], 1000)
        values[300:340] = 3.0
        values[700] = 9.0  # one sample is no extreme
        value, at, _ = extremes.extreme_of(values, 0.001, 0.020, largest=True)
        self.assertEqual(value, 3.0)
        self.assertTrue(300 <= at < 340)
        values[500:540] = -2.0
        self.assertEqual(extremes.extreme_of(values, 0.001, 0.020, largest=False)[0], -2.0)

    def test_the_largest_of_many_is_taken_back_to_their_level(self):
        # Mean of the largest of n normal values: 1.539 for 10, 2.508 for 100 (Tippett 1925, tabled).
        for rivals, tabled in ((10, 1.539), (100, 2.508)):
            self.assertAlmostEqual(extremes.excess_of_largest(1.0, rivals)[0], tabled, delta=0.02)
        self.assertEqual(extremes.excess_of_largest(0.3, 1), (0.0, 0.3))
        drawn = [
            extremes.extreme_of(np.random.default_rng(k).normal(2.0, 0.05, 4000), 0.001, 0.020, largest=True)
            for k in range(60)
        ]
        self.assertAlmostEqual(float(np.mean([d.value for d in drawn])), 2.0, delta=0.003)
        within = np.mean([abs(d.value - 2.0) <= 1.96 * d.uncertainty for d in drawn])
        self.assertGreaterEqual(within, 0.9)

    def test_nor_do_coarse_codes_move_it(self):
        """Medians of a few codes jump by whole ones: the largest of them is no rival of its neighbours' level."""
        step = 0.02
        for level in (1.634, 1.640, 1.646):
            drawn = [
                extremes.extreme_of(
                    step * np.round(np.random.default_rng(k).normal(level, 0.6 * step, 5000) / step),
                    0.0005,
                    0.020,
                    largest=True,
                ).value
                for k in range(20)
            ]
            self.assertAlmostEqual(float(np.median(drawn)), level, delta=0.2 * step)


class Grids(unittest.TestCase):
    def test_times_of_a_grid_and_back(self):
        work = work_of(signal=course([(0, 0.0), (10, 10.0)], 1000))
        grid = thinning.on_grid(work, work.capture.lanes["signal"].samples, 0.02)
        self.assertAlmostEqual(grid.interval_s, 0.02)
        self.assertEqual(grid.index(grid.time_s(123)), 123)
        self.assertEqual((grid.index(-5.0), grid.index(99.0)), (0, grid.values.size - 1))
        phase = grid.phase("idle", 50, 100)
        self.assertEqual((phase.from_s, phase.to_s), (1.0, 2.0))
        trimmed = inner(phase)
        self.assertTrue(1.0 < trimmed[0] < trimmed[1] < 2.0)

    def test_a_slower_record_stays_as_it_is(self):
        work = work_of(rate_hz=20.0, signal=np.arange(100.0))
        grid = thinning.on_grid(work, work.capture.lanes["signal"].samples, 0.02)
        self.assertEqual(grid.values.size, 100)


class Connection(unittest.TestCase):
    def slips(self, seconds, into=2.0):
        values = np.full(10_000, into)
        values[4000 : 4000 + round(1000 * seconds)] = 0.0
        work = work_of(signal=values)
        return probe.take_slips(work, "signal"), work

    def test_a_long_fall_to_zero_is_the_probes(self):
        found, work = self.slips(0.4)
        self.assertEqual(len(found), 1)
        slip = next(f for f in work.findings if f.code == "probe_slip")
        self.assertTrue(slip.hides)
        self.assertAlmostEqual(slip.from_s, 4.0, delta=0.01)
        self.assertAlmostEqual(slip.to_s, 4.4, delta=0.01)

    def test_a_short_one_and_one_to_the_end_are_not(self):
        self.assertEqual(self.slips(0.1)[0], [])
        self.assertEqual(self.slips(6.0)[0], [])

    def test_nor_is_a_level_near_zero(self):
        self.assertEqual(self.slips(0.4, into=0.15)[0], [])

    def test_rate_is_named_with_what_it_should_have_shown(self):
        work = work_of(rate_hz=100.0, signal=np.ones(500))
        record_checks.check_rate(work, "a 50 ms rise", 0.050)
        self.assertEqual([f.code for f in work.findings], ["undersampled"])
        self.assertIn("100 samples a second put 5 across a 50 ms rise; 10 are needed", work.findings[0].text)
        work = work_of(rate_hz=1000.0, signal=np.ones(500))
        record_checks.check_rate(work, "a 50 ms rise", 0.050)
        self.assertEqual(work.findings, [])

    def test_missing_readings_say_why(self):
        # A pressure that never moves, without the throttle's lane: its code says nothing of most of its readings.
        answer = measure(captured("manifold-pressure", 500, signal=np.full(2000, 1.3)), "manifold-pressure")
        why = {m.reading: m.why for m in answer.missing}
        given = {r.id for r in answer.readings}
        self.assertEqual(set(why) | given, set(CIRCUITS["manifold-pressure"].reading_ids))
        self.assertEqual(why["overrun_v"], "no overrun phase in this capture")
        self.assertEqual(why["rise_ms"], "no snap phase in this capture")
