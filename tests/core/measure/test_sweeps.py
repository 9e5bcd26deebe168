import unittest

import numpy as np

from tests.support.waves import Sweep
from tracebench.core.measure.sweeps import find_rests, largest_reversal
from tracebench.core.robust.series import block_medians, bridged, joined, running_median, runs


class FindRests(unittest.TestCase):
    def rests(self, sweep: Sweep):
        return find_rests(sweep.samples()[1], 1 / sweep.rate_hz, 0.25)

    def test_nothing_moves(self):
        self.assertEqual(find_rests(np.full(2000, 1.0), 1e-3, 0.25), [])

    def test_two_sweeps_have_five_rests_in_turn(self):
        found = self.rests(Sweep())
        self.assertEqual([r.side for r in found], ["low", "high", "low", "high", "low"])

    def test_rests_lie_where_the_hand_held_still(self):
        sweep = Sweep(rate_hz=500)
        found = self.rests(sweep)[1]
        begin = sweep.hold_s + sweep.way_s
        self.assertAlmostEqual(found.start / 500, begin, delta=0.15)
        self.assertAlmostEqual(found.stop / 500, begin + sweep.hold_s, delta=0.15)

    def test_a_pause_on_the_way_is_no_rest(self):
        travel = np.interp(np.arange(9000) / 1000, [1, 3, 4, 6, 7, 8.5], [0, 0.5, 0.5, 1, 1, 0])
        found = find_rests(0.7 + 3.5 * travel, 1e-3, 0.25)
        self.assertEqual([r.side for r in found], ["low", "high", "low"])

    def test_half_an_opening_is_no_open_rest(self):
        travel = np.interp(np.arange(14_000) / 1000, [1, 3, 4, 6, 7, 9, 10, 12], [0, 0.5, 0.5, 0, 0, 1, 1, 0])
        found = find_rests(0.7 + 3.5 * travel, 1e-3, 0.25)
        self.assertEqual([r.side for r in found].count("high"), 1)


class LargestReversal(unittest.TestCase):
    def test_none_on_the_way_up(self):
        self.assertEqual(largest_reversal(np.linspace(0, 1, 100), 0, 100, rising=True)[0], 0.0)

    def test_step_back_on_the_way_up(self):
        samples = np.concatenate([np.linspace(0, 2, 100), np.linspace(1.7, 3, 100)])
        self.assertAlmostEqual(largest_reversal(samples, 0, 200, rising=True)[0], 0.3)

    def test_step_up_on_the_way_down(self):
        samples = np.concatenate([np.linspace(3, 2, 100), np.linspace(2.2, 0, 100)])
        self.assertAlmostEqual(largest_reversal(samples, 0, 200, rising=False)[0], 0.2)


class Series(unittest.TestCase):
    def test_runs_of_true(self):
        self.assertEqual(runs(np.array([True, True, False, True])), [(0, 2), (3, 4)])
        self.assertEqual(runs(np.zeros(3, dtype=bool)), [])

    def test_joined_closes_small_gaps_only(self):
        self.assertEqual(joined([(10, 12), (0, 5), (7, 9)], 2), [(0, 12)])
        self.assertEqual(joined([(0, 5), (9, 12)], 2), [(0, 5), (9, 12)])

    def test_block_medians_count_a_short_last_block(self):
        np.testing.assert_array_equal(block_medians(np.array([1.0, 5.0, 2.0, 9.0]), 3), [2.0, 9.0])

    def test_running_median_keeps_a_ramp(self):
        ramp = np.linspace(0, 1, 50)
        np.testing.assert_allclose(running_median(ramp, 11), ramp)

    def test_bridged_draws_a_line_across(self):
        np.testing.assert_allclose(bridged(np.array([0.0, 9.0, 9.0, 3.0]), [(1, 3)]), [0, 1, 2, 3])
