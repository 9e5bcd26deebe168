"""Cylinders against a reference's own: what is odd is named, what all have in common is not."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.answer import Reading
from tracebench.core.circuits.events.reference import TOLD_FROM, beside_reference

USUAL = {1: 1.50, 2: 1.46, 3: 1.53, 4: 1.49}


def row(values, uncertainty=0.01, reading="burn_ms"):
    return [Reading(reading, v, "ms", uncertainty, 0.0, 1.0, "secondary", c) for c, v in values.items()]


class AgainstTheReference(unittest.TestCase):
    def test_the_odd_one_is_first_with_how_far_it_stands_out(self):
        found = beside_reference(row({**USUAL, 3: 0.9}), row(USUAL))
        self.assertEqual((found[0].cylinder, found[0].told), (3, True))
        # 0.9 where 1.53 is expected; the spread is 3 % of that: 0.63 / 0.0459 = 13.7 spreads under.
        self.assertAlmostEqual(found[0].apart, -0.63 / (0.03 * 1.53), delta=0.01)
        self.assertEqual([b.cylinder for b in found if b.told], [3])

    def test_another_speed_moves_all_alike_and_names_none(self):
        found = beside_reference(row({c: v - 0.4 for c, v in USUAL.items()}), row(USUAL))
        self.assertFalse(any(b.told for b in found))

    def test_siblings_that_differ_in_the_reference_may_differ_here(self):
        # Against its siblings cylinder 2 is odd; against the reference's own it is as it should be.
        uneven = {**USUAL, 2: 0.8}
        self.assertFalse(any(b.told for b in beside_reference(row(uneven), row(uneven))))

    def test_half_of_them_odd_are_the_ones_that_left_the_reference(self):
        # A paired coil takes two of four along; the other two are as the reference has them.
        # However well the two that left agree with each other.
        away = {1: 0.012, 2: -0.86, 3: -0.86, 4: -0.02}
        found = beside_reference(row({c: v + away[c] for c, v in USUAL.items()}), row(USUAL))
        self.assertEqual({b.cylinder for b in found if b.told}, {2, 3})

    def test_one_cylinder_or_another_reading_gives_nothing(self):
        self.assertEqual(beside_reference(row({1: 1.5}), row(USUAL)), [])
        self.assertEqual(beside_reference(row(USUAL), row(USUAL, reading="burn_kv")), [])

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(st.floats(0.5, 5.0), min_size=3, max_size=8),
        st.floats(-0.3, 0.3),
        st.floats(0.001, 0.2),
    )
    def test_no_shift_and_no_uncertainty_makes_a_stranger(self, values, shift, uncertainty):
        reference = dict(enumerate(values, start=1))
        own = {c: v + shift for c, v in reference.items()}
        found = beside_reference(row(own, uncertainty), row(reference, uncertainty))
        self.assertTrue(all(abs(b.apart) < TOLD_FROM for b in found))
        self.assertEqual(len(found), len(reference))
