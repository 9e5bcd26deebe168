"""What a marker looks at first, and why."""

import unittest

from tracebench.core.grading.order import Handed, looks, sample


def handed(number, share=0.8, certainty=0.95, **more):
    return Handed(number, 1, share, certainty, **more)


class Looks(unittest.TestCase):
    def test_those_with_reasons_come_first_in_order(self):
        rows = [
            handed(1),
            handed(2, certainty=0.5, unsure=("Evidence",)),
            handed(3, alike=True),
            handed(4, asked=True),
            handed(5, certainty=0.2, unsure=("Cause", "Evidence", "Call")),
            handed(6),
        ]
        found = looks(rows)
        self.assertEqual([x.id for x in found], [4, 3, 5, 2, 1, 6])
        self.assertEqual([x.clear for x in found], [False] * 4 + [True] * 2)
        self.assertEqual(found[2].reasons, ("the tool is unsure of cause, evidence",))

    def test_unusual_against_the_class_in_words(self):
        rows = [handed(k, share) for k, share in enumerate((0.8, 0.82, 0.85, 0.78, 0.83, 0.2))]
        found = {x.id: x.reasons for x in looks(rows)}
        self.assertEqual(found[5], ("far below the class: 20 % where the middle is 81 %",))
        self.assertEqual([r for k, r in found.items() if k != 5], [()] * 5)
        # Four are no class; with those settled already they are.
        few = [handed(1, 0.2), handed(2, 0.8)]
        self.assertTrue(all(x.clear for x in looks(few)))
        self.assertFalse(all(x.clear for x in looks(few, [handed(k, 0.8) for k in range(10, 14)])))

    def test_sample_is_the_root_of_the_number_from_lowest_to_highest(self):
        for count, wanted in ((0, 0), (1, 1), (2, 2), (4, 2), (9, 3), (15, 4), (30, 6)):
            clear = [handed(k, k / 100) for k in range(count)]
            chosen = sample(clear)
            self.assertEqual(len(chosen), wanted, count)
            if count > 1:
                self.assertLessEqual({0, count - 1}, chosen)


if __name__ == "__main__":
    unittest.main()
