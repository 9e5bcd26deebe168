"""Engine states of airflow records, and the three parts of a snap, on trends drawn by hand."""

import unittest

import numpy as np

from tests.support.courses import course
from tracebench.core.circuits.load_steps import Steps, find_states, find_surge
from tracebench.core.circuits.thinning import Grid

STEP_S = 0.01
STEPS = Steps(tolerance=0.06, key_on_below=0.95, steady_4000_above=1.98, least_rise=0.5)
IDLE = [(0, 0.4), (2, 0.4), (2.2, 1.4), (2.8, 1.4), (3, 1.05), (6, 1.05)]


def names(points, noise=0.005):
    grid = Grid(course(points, 1 / STEP_S, noise), STEP_S, 0.0)
    return [p.name for p in find_states(grid, STEPS)[0]]


class States(unittest.TestCase):
    def test_key_on_crank_and_idle(self):
        self.assertEqual(names(IDLE), ["key_on", "crank", "idle"])

    def test_cranking_lasts_until_its_level_is_left(self):
        for seed in range(8):
            grid = Grid(course(IDLE, 1 / STEP_S, 0.005, seed=seed), STEP_S, 0.0)
            crank = find_states(grid, STEPS)[0][1]
            self.assertAlmostEqual(crank.to_s, 2.8, delta=0.06)

    def test_a_record_that_begins_at_idle_has_no_key_on(self):
        self.assertEqual(names([(0, 1.05), (4, 1.05)]), ["idle"])

    def test_two_loads_are_told_apart_by_each_other(self):
        points = [*IDLE, (7, 1.4), (9, 1.4), (10, 1.75), (12, 1.75)]
        self.assertEqual(names(points)[-2:], ["steady_2500", "steady_4000"])

    def test_a_single_load_is_told_by_its_level(self):
        self.assertEqual(names([*IDLE, (7, 1.7), (9, 1.7)])[-1], "steady_2500")
        self.assertEqual(names([*IDLE, (7, 2.4), (9, 2.4)])[-1], "steady_4000")

    def test_a_snap_is_a_jump_that_does_not_rest(self):
        snap = [*IDLE, (6.08, 2.8), (6.2, 2.0), (6.7, 2.7), (6.9, 1.3), (8, 1.05), (10, 1.05)]
        self.assertIn("snap", names(snap))
        self.assertNotIn("snap", names([*IDLE, (6.3, 2.4), (9, 2.4)]))


class Surges(unittest.TestCase):
    def found(self, points, least=0.06):
        trend = course(points, 1 / STEP_S)
        return find_surge(trend, STEP_S, 0, trend.size, least)

    def test_peak_dip_and_top_in_this_order(self):
        surge = self.found([(0, 1.0), (0.1, 2.8), (0.2, 2.0), (0.8, 2.6), (1.0, 1.4), (2, 1.0)])
        self.assertAlmostEqual(surge.peak * STEP_S, 0.1, delta=0.02)
        self.assertAlmostEqual(surge.dip * STEP_S, 0.2, delta=0.02)
        self.assertAlmostEqual(surge.top * STEP_S, 0.8, delta=0.02)

    def test_a_climb_without_a_surge(self):
        surge = self.found([(0, 1.0), (0.8, 2.6), (1.0, 1.4), (2, 1.0)])
        self.assertIsNone(surge.peak)
        self.assertAlmostEqual(surge.top * STEP_S, 0.8, delta=0.02)

    def test_a_ripple_under_the_least_is_no_surge(self):
        ripple = [(0, 1.0), (0.1, 1.8), (0.13, 1.77), (0.8, 2.6), (1.0, 1.2), (2, 1.0)]
        self.assertIsNone(self.found(ripple, 0.06).peak)
        self.assertIsNotNone(self.found(ripple, 0.01).peak)

    def test_nothing_at_all(self):
        self.assertIsNone(find_surge(np.ones(3), STEP_S, 0, 3, 0.05).peak)
