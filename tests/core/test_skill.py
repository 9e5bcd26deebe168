import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tracebench.core.grading.grade import CRITERIA
from tracebench.core.skill import SKILLS, START_DEVIATION, Outcome, Rating, course_of, rested, updated


class Published(unittest.TestCase):
    def test_worked_example_of_the_glicko_system(self):
        # Glickman, 'The Glicko system', worked example: 1500 (200) beats 1400 (30), loses to 1550 (100)
        # and 1700 (300): new rating 1464, deviation 151.4.
        games = [Outcome(1, 1, 1400, 30), Outcome(0, 1, 1550, 100), Outcome(0, 1, 1700, 300)]
        found = updated(Rating(1500, 200), games)
        self.assertAlmostEqual(found.rating, 1464.1, delta=0.05)
        self.assertAlmostEqual(found.deviation, 151.4, delta=0.05)


class Updated(unittest.TestCase):
    def test_no_outcome_changes_nothing(self):
        self.assertEqual(updated(Rating(), []), Rating())

    def test_success_raises_and_failure_lowers_alike(self):
        up, down = updated(Rating(), [Outcome(1.0)]), updated(Rating(), [Outcome(0.0)])
        self.assertAlmostEqual(up.rating - 1500, 1500 - down.rating)

    def test_a_half_weight_tells_less(self):
        whole, half = updated(Rating(), [Outcome(1.0)]), updated(Rating(), [Outcome(1.0, weight=0.5)])
        self.assertGreater(half.deviation, whole.deviation)

    def test_a_weight_of_two_is_the_same_twice_and_of_none_is_nothing(self):
        for rating in (Rating(), Rating(1720, 90)):
            for score in (0.0, 0.3, 1.0):
                twice = updated(rating, [Outcome(score)] * 2)
                double = updated(rating, [Outcome(score, weight=2.0)])
                self.assertAlmostEqual(double.rating, twice.rating, places=9)
                self.assertAlmostEqual(double.deviation, twice.deviation, places=9)
                self.assertEqual(updated(rating, [Outcome(score, weight=0.0)]), rating)

    @given(st.lists(st.floats(min_value=0, max_value=1), min_size=1, max_size=30))
    def test_more_evidence_never_widens_the_band(self, scores):
        rating = Rating()
        for score in scores:
            after = updated(rating, [Outcome(score)])
            self.assertLessEqual(after.deviation, rating.deviation)
            self.assertTrue(math.isfinite(after.rating))
            rating = after
        low, high = rating.band()
        self.assertTrue(0 <= low <= rating.chance() <= high <= 1)


class Rested(unittest.TestCase):
    def test_certainty_fades_but_never_below_a_newcomers(self):
        rating = Rating(1600, 80)
        self.assertGreater(rested(rating, 4).deviation, 80)
        self.assertEqual(rested(rating, 4).rating, 1600)
        # Variances add (Glickman 1999): 80^2 + 4 x 18^2 = 7,696, whose root is 87.73.
        self.assertAlmostEqual(rested(rating, 4).deviation, 87.73, places=2)
        self.assertEqual(rested(rating, 1e6).deviation, START_DEVIATION)


class Course(unittest.TestCase):
    def test_estimates_follow_each_sitting(self):
        out = course_of([(0, [Outcome(1.0)] * 3), (7, [Outcome(0.0)] * 3)])
        self.assertEqual([e.outcomes for e in out], [3, 3])
        self.assertGreater(out[0].rating.chance(), 0.5)
        self.assertLess(out[1].rating.rating, out[0].rating.rating)

    def test_every_criterion_belongs_to_a_skill(self):
        self.assertLessEqual({c.skill for c in CRITERIA}, {key for key, _ in SKILLS})
