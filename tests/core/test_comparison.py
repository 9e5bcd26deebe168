"""Differences between captures, against figures by hand."""

import unittest

from tracebench.core.answer import JudgedLimit, Limit, Reading
from tracebench.core.circuits import CIRCUITS
from tracebench.core.comparison import compared

THROTTLE = CIRCUITS["throttle-position"]


def reading(reading_id, value, uncertainty=0.001, cycle=None):
    return Reading(reading_id, value, "V", uncertainty, 0.0, 1.0, "signal", None, cycle)


def limit(reading_id, low, high):
    return JudgedLimit(Limit(reading_id, low, high), "inside", True)


class Comparison(unittest.TestCase):
    def test_what_parts_them_most_by_its_limit_comes_first(self):
        first = [reading("closed_v", 0.60), reading("open_v", 4.2), reading("noise_mv", 5.0, 0.1)]
        other = [reading("closed_v", 0.75), reading("open_v", 4.6), reading("noise_mv", 5.1, 0.1)]
        limits = [limit("closed_v", 0.45, 0.75), limit("open_v", 3.6, None), limit("noise_mv", None, 20.0)]
        rows = compared(THROTTLE, [first, other], limits)
        told = {row.reading: row.matters for row in rows}
        # Half of a span of 0.3 V; 0.4 V of a fifth of 3.6 V; within the uncertainty of the difference.
        self.assertAlmostEqual(told["closed_v"], 0.5)
        self.assertAlmostEqual(told["open_v"], 0.4 / 0.72)
        self.assertEqual(told["noise_mv"], 0.0)
        self.assertEqual([row.reading for row in rows], ["open_v", "closed_v", "noise_mv"])
        self.assertEqual(rows[0].values, (4.2, 4.6))

    def test_the_farthest_of_several_counts_and_one_that_lacks_it_stands_as_such(self):
        rows = compared(
            THROTTLE, [[reading("open_v", 4.0)], [], [reading("open_v", 4.0)], [reading("open_v", 2.0)]], []
        )
        self.assertEqual(rows[0].values, (4.0, None, 4.0, 2.0))
        self.assertAlmostEqual(rows[0].matters, 2.0 / 0.8)

    def test_summaries_alone_are_held_against_each_other(self):
        rows = compared(THROTTLE, [[reading("open_v", 4.0, cycle=1)], [reading("open_v", 3.0, cycle=1)]], [])
        self.assertEqual(rows, ())


if __name__ == "__main__":
    unittest.main()
