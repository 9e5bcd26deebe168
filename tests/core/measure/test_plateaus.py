import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.courses import course
from tracebench.core.measure.plateaus import find_plateaus

STEP_S = 0.01


def found(points, noise=0.0, tolerance=0.05, least_s=0.5):
    return find_plateaus(course(points, 1 / STEP_S, noise), STEP_S, tolerance, least_s)


class FindPlateaus(unittest.TestCase):
    def test_a_ramp_has_none(self):
        self.assertEqual(found([(0, 0.0), (10, 10.0)]), [])

    def test_a_constant_is_one(self):
        (only,) = found([(0, 2.0), (5, 2.0)])
        self.assertEqual((only.start, only.stop, only.level), (0, 500, 2.0))

    def test_levels_and_ends_of_two_rests(self):
        low, high = found([(0, 1.0), (3, 1.0), (4, 3.0), (7, 3.0)], noise=0.004)
        self.assertAlmostEqual(low.level, 1.0, delta=0.005)
        self.assertAlmostEqual(high.level, 3.0, delta=0.005)
        self.assertAlmostEqual(low.stop * STEP_S, 3.0, delta=0.12)
        self.assertAlmostEqual(high.start * STEP_S, 4.0, delta=0.12)

    def test_shorter_than_asked_is_none(self):
        points = [(0, 0.0), (1, 1.0), (1.3, 1.0), (2.3, 2.0)]
        self.assertEqual(found(points, least_s=0.6), [])

    def test_one_level_parted_for_a_moment_is_one_rest(self):
        grid = course([(0, 1.0), (4, 1.0)], 1 / STEP_S)
        grid[200:208] = 5.0
        self.assertEqual(len(find_plateaus(grid, STEP_S, 0.05, 0.5)), 1)

    def test_a_creeping_level_is_cut(self):
        creeping = found([(0, 1.0), (20, 1.6)], tolerance=0.05)
        self.assertGreater(len(creeping), 1)

    @given(
        levels=st.lists(st.floats(0.5, 4.5), min_size=1, max_size=4),
        noise=st.sampled_from([0.0, 0.002, 0.008]),
    )
    def test_every_long_rest_is_found(self, levels, noise):
        points, at = [], 0.0
        for level in levels:
            points += [(at, level), (at + 1.5, level)]
            at += 2.0
        rests = found(points, noise)
        for k, level in enumerate(levels):
            middle = (2.0 * k + 0.75) / STEP_S
            here = [p for p in rests if p.start <= middle <= p.stop]
            self.assertTrue(here, (k, levels))
            self.assertAlmostEqual(here[0].level, level, delta=0.06)
