"""A fuel level sender moved by hand: polylines over its divider, written out here. All values are from memory."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course
from tracebench.core.answer import Phase
from tracebench.core.circuits import measure

CODE = "fuel-level"
RATE = 500


def volts(ohm, feed=5.0, pull_up=120.0):
    return feed * ohm / (ohm + pull_up)


def arm(empty_ohm=180.0, full_ohm=12.0, noise=0.005, way_s=5.0):
    """Empty for two seconds, up, full for two seconds, down, twice; the ohms move evenly."""
    points, at = [(0.0, empty_ohm)], 2.0
    for _ in range(2):
        points += [(at, empty_ohm), (at + way_s, full_ohm), (at + way_s + 2, full_ohm), (at + 2 * way_s + 2, empty_ohm)]
        at += 2 * way_s + 4
    ohm = course([*points, (at, empty_ohm)], RATE)
    return volts(ohm) + np.random.default_rng(3).normal(0, noise, ohm.size)


def spots(lane, depth, at=(4.0, 11.5), lasts_s=0.03):
    """Contact lost for a moment: the feed pulls the wire up."""
    t = np.arange(lane.size) / RATE
    return lane + sum(depth * ((t >= s) & (t < s + lasts_s)) for s in at)


def answer(lane, options=None, phases=()):
    return measure(captured(CODE, RATE, signal=lane), CODE, phases, options)


class FuelLevel(unittest.TestCase):
    def test_a_sound_sender_reads_its_ends_in_volts_and_ohms(self):
        found = answer(arm())
        self.assertEqual((found.call, codes(found)), ("sound", []))
        for reading_id, wanted, within in (
            ("empty_v", volts(180), 0.004),
            ("full_v", volts(12), 0.004),
            ("empty_ohm", 180, 0.8),
            ("full_ohm", 12, 0.3),
            ("contacts_lost_count", 0, 0),
        ):
            self.assertAlmostEqual(found.reading(reading_id).value, wanted, delta=within, msg=reading_id)
        turn = ["empty", "filling", "full", "emptying"]
        self.assertEqual([p.name for p in found.phases], [*turn, *turn, "empty"])

    def test_another_feed_and_pull_up_are_told(self):
        lane = arm() * 8.0 / 5.0
        found = answer(lane, {"supply_v": "8", "pull_up_ohm": "120"})
        self.assertAlmostEqual(found.reading("empty_ohm").value, 180, delta=0.8)

    def test_a_worn_track_loses_contact_upward_and_is_shown_where(self):
        for depth in (0.3, 1.2):
            found = answer(spots(arm(), depth))
            faults = [f for f in found.findings if f.kind == "fault"]
            self.assertEqual([f.code for f in faults], ["contact_lost", "contact_lost"], depth)
            self.assertAlmostEqual(faults[0].from_s, 4.0, delta=0.05)
            self.assertEqual(found.reading("contacts_lost_count").value, 2)
            self.assertAlmostEqual(found.reading("empty_v").value, volts(180), delta=0.004)

    def test_what_goes_both_ways_is_interference(self):
        t = np.arange(arm().size)
        needles = arm() + 0.8 * np.isin(t % 700, (100,)) - 0.8 * np.isin(t % 700, (450,))
        self.assertEqual(codes(answer(needles), "fault"), [])

    def test_an_arm_that_does_not_reach_an_end(self):
        self.assertEqual(codes(answer(arm(full_ohm=60)), "fault"), ["full_not_reached"])
        self.assertEqual(codes(answer(arm(empty_ohm=90)), "fault"), ["empty_not_reached"])
        self.assertEqual(answer(arm(full_ohm=33)).call, "sound")

    def test_open_shorted_and_dead(self):
        still = np.random.default_rng(2).normal(0, 0.004, 5000)
        self.assertEqual(codes(answer(4.98 + still), "fault"), ["open_circuit"])
        self.assertEqual(codes(answer(0.08 + still), "fault"), ["short_circuit"])
        dead = answer(0.003 + still)
        self.assertEqual((dead.call, codes(dead, "fault"), codes(dead)[0]), ("inconclusive", [], "flat_line"))
        stuck = answer(1.9 + still)
        self.assertEqual((stuck.call, codes(stuck, "fault")), ("inconclusive", []))
        moved = answer(1.9 + still, phases=[Phase("empty", 1, 3), Phase("full", 5, 7)])
        self.assertEqual(codes(moved, "fault"), ["sticks"])

    def test_half_a_movement_tells_nothing_of_the_other_end(self):
        half = answer(arm()[: 6 * RATE])
        self.assertEqual((half.call, codes(half, "fault")), ("inconclusive", []))
        self.assertIn("missing_phase", codes(half))


if __name__ == "__main__":
    unittest.main()
