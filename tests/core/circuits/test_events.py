"""Cylinders of events, siblings against each other, and which event is the strangest."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from tests.support.courses import captured
from tests.support.pulses import noisy
from tracebench.core.circuits.circuit import Told
from tracebench.core.circuits.events.attribution import attributed, firing_order, sync_instants
from tracebench.core.circuits.events.siblings import against_others, distances
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.work import Work
from tracebench.core.errors import BadOption
from tracebench.core.measure.pulse_train import rest_of

RATE = 10_000
PITCH = 370
"""Samples between events: 37 ms."""


def work_of(sync=None, samples=40_000, **options):
    lanes = {"current": np.zeros(samples)}
    if sync is not None:
        lanes["sync"] = sync
    return Work(captured("injector-current-parade", RATE, **lanes), Told((), options))


def sync_lane(at, samples=40_000, wide=15, high=5.0, noise=0.02):
    out = np.zeros(samples)
    for a in at:
        out[int(a) - 3 : int(a) + wide] = high
    return noisy(out, noise)


class Order(unittest.TestCase):
    def test_told_in_any_writing(self):
        for text in ("1-3-4-2", "1, 3, 4, 2", "1 3 4 2"):
            self.assertEqual(firing_order(work_of(firing_order=text)), (1, 3, 4, 2))
        self.assertEqual(firing_order(work_of(cylinders="3")), (1, 2, 3))
        self.assertEqual(firing_order(work_of()), ())

    def test_nonsense_is_refused(self):
        for options in ({"firing_order": "1-1-2"}, {"firing_order": "a-b"}, {"cylinders": "40"}):
            with self.assertRaises(BadOption):
                firing_order(work_of(**options))


class Sync(unittest.TestCase):
    def test_pulses_of_either_sign_and_ringing_ones(self):
        at = np.arange(500, 39_000, 4 * PITCH)
        for lane in (sync_lane(at), -sync_lane(at)):
            np.testing.assert_allclose(sync_instants(lane, rest_of(lane)), at - 3, atol=2)
        ringing = sync_lane(at)
        for a in at:
            ringing[a + 30 : a + 36] = 4.0
        self.assertEqual(sync_instants(ringing, rest_of(ringing)).size, at.size)

    def test_a_dead_lane_has_none(self):
        dead = noisy(np.zeros(4000), 0.02)
        self.assertEqual(sync_instants(dead, rest_of(dead)).size, 0)


class Attribution(unittest.TestCase):
    def setUp(self):
        self.at = np.arange(600.0, 39_000, PITCH)
        self.names = np.array([(1, 3, 4, 2)[k % 4] for k in range(self.at.size)])
        self.sync = sync_lane(self.at[::4])

    def cylinders(self, at, **more):
        work = work_of(self.sync, firing_order="1-3-4-2")
        return attributed(work, at), work

    def test_by_sync_and_order(self):
        places, _ = self.cylinders(self.at)
        np.testing.assert_array_equal(places.cylinder, self.names)
        self.assertTrue(places.by_sync)
        self.assertAlmostEqual(places.cycle_samples, 4 * PITCH, delta=1)
        self.assertEqual((places.missing, places.doubled), ((), ()))

    @settings(max_examples=40, deadline=None)
    @given(st.sets(st.integers(0, 103), max_size=12), st.floats(-60, 60))
    def test_whatever_is_missing_and_wherever_the_sync_sits_the_rest_keep_their_cylinders(self, gone, shift):
        at = np.arange(600.0, 39_000, PITCH)
        names = np.array([(1, 3, 4, 2)[k % 4] for k in range(at.size)])
        kept = np.array([k for k in range(at.size) if k not in gone])
        work = work_of(sync_lane(at[::4] + shift), firing_order="1-3-4-2")
        places = attributed(work, at[kept])
        np.testing.assert_array_equal(places.cylinder, names[kept])
        inner = [k for k in gone if kept[0] < k < kept[-1]]
        self.assertEqual(sorted(round((m - 600) / PITCH) for m, _ in places.missing), sorted(inner))
        self.assertEqual({c for _, c in places.missing}, {int(names[k]) for k in inner})

    def test_a_doubled_event_shares_its_slot(self):
        extra = np.sort(np.append(self.at, self.at[9] + 40))
        places, _ = self.cylinders(extra)
        self.assertEqual(places.doubled, (10,))
        self.assertEqual(places.cylinder[10], places.cylinder[9])

    def test_two_sync_pulses_a_cycle(self):
        work = work_of(sync_lane(self.at[::2]), firing_order="1-3-4-2")
        places = attributed(work, self.at)
        np.testing.assert_array_equal(places.cylinder, self.names)
        self.assertIn("sync_twice", [f.code for f in work.findings])

    def test_speed_that_changes_within_the_record(self):
        pitch = np.linspace(500, 180, 90)
        at = 600 + np.concatenate([[0], np.cumsum(pitch)])
        work = work_of(sync_lane(at[::4], 40_000), firing_order="1-3-4-2")
        places = attributed(work, at)
        np.testing.assert_array_equal(places.cylinder, [(1, 3, 4, 2)[k % 4] for k in range(at.size)])

    def test_by_position_without_sync(self):
        kept = np.array([k for k in range(60) if k % 4 != 2])
        places = attributed(work_of(cylinders="4"), self.at[kept])
        self.assertFalse(places.by_sync)
        np.testing.assert_array_equal(places.cylinder, kept % 4 + 1)
        self.assertEqual({c for _, c in places.missing}, {3})

    def test_a_sync_lane_without_pulses_is_said(self):
        work = work_of(noisy(np.zeros(40_000), 0.02), cylinders="4")
        self.assertFalse(attributed(work, self.at).by_sync)
        self.assertIn("flat_line", [f.code for f in work.findings])


class Siblings(unittest.TestCase):
    def test_spread_is_scipys_mad_of_the_others(self):
        # Reference library: scipy.stats.median_abs_deviation.
        values = {1: 5.0, 2: 5.2, 3: 4.9, 4: 5.1, 5: 7.0}
        odd = next(o for o in against_others(values, 0.0) if o.cylinder == 5)
        others = np.array([5.0, 5.2, 4.9, 5.1])
        spread = stats.median_abs_deviation(others, scale="normal")
        self.assertAlmostEqual(odd.apart, (7.0 - np.median(others)) / spread, places=3)
        self.assertAlmostEqual(odd.ratio, 7.0 / np.median(others))

    def test_one_wild_value_does_not_hide_another(self):
        found = against_others({1: 5.0, 2: 5.0, 3: 50.0, 4: 2.0, 5: 5.0, 6: 5.0}, 0.1)
        self.assertEqual({o.cylinder for o in found if abs(o.apart) > 5}, {3, 4})

    def test_alone_there_is_nothing_to_compare(self):
        self.assertEqual(against_others({1: 5.0}, 0.1), [])

    def test_distances_within_groups(self):
        values = np.array([1.0, 1.1, 0.9, 5.0, 5.1, 4.9, 5.0, 9.0])
        groups = np.array([1, 1, 1, 2, 2, 2, 2, 2])
        far = distances(values, groups, 0.01, 0.0)
        self.assertEqual(int(np.argmax(far)), 7)
        self.assertLess(far[:7].max(), 2.1)
        self.assertEqual(distances(np.array([np.nan, 1.0]), np.array([1, 1]), 0.01, 0.0).tolist(), [0.0, 0.0])


class Table(unittest.TestCase):
    def test_one_bad_firing_among_2000_is_on_top(self):
        rng = np.random.default_rng(3)
        size, bad = 2000, 1377
        at = 0.037 * np.arange(size)
        table = EventTable("current", at, at + 0.003, np.arange(size) % 4 + 1)
        peaks = 7.5 + 0.05 * rng.normal(size=size)
        peaks[bad] = 6.6
        table.put("peak_a", "A", peaks, np.full(size, 0.02))
        table.put("on_ms", "ms", 3 + 0.01 * rng.normal(size=size), np.full(size, 0.004))
        work = work_of()
        report(work, table)
        top = max(work.events, key=lambda e: e.unusual)
        self.assertEqual((top.number, top.by, top.cylinder), (bad + 1, "peak_a", bad % 4 + 1))
        listed = {r.cycle for r in work.readings if r.cycle is not None}
        self.assertIn(bad + 1, listed)
        self.assertLessEqual(len(listed), 120)

    def test_what_the_whole_row_does_is_no_stranger_and_hides_none(self):
        rng = np.random.default_rng(4)
        at = 0.037 * np.arange(80)
        table = EventTable("current", at, at + 0.003, np.arange(80) % 4 + 1)
        # A battery that recovers after the start: every peak rises by a fifth; one firing in the middle does not.
        peaks = (1 - 0.2 * np.exp(-at / 0.3)) * (0.90 + 0.01 * (np.arange(80) % 4)) + 0.002 * rng.normal(size=80)
        peaks[14] *= 0.85
        table.put("peak_a", "A", peaks, np.full(80, 0.002))
        work = work_of()
        report(work, table)
        far = np.array([e.unusual for e in work.events])
        self.assertEqual(int(np.argmax(far)), 14)
        self.assertGreater(far[14], 10)
        self.assertLess(np.delete(far, 14).max(), 8)

    def test_an_event_without_a_reading_that_its_kind_has_is_strange(self):
        at = 0.1 * np.arange(20)
        table = EventTable("current", at, at + 0.01, np.zeros(20, dtype=np.int64))
        values = np.full(20, 1.4)
        values[4] = np.nan
        table.put("burn_ms", "ms", values, np.full(20, 0.01))
        work = work_of()
        report(work, table)
        self.assertEqual(max(work.events, key=lambda e: e.unusual).number, 5)
        self.assertAlmostEqual(work.value("burn_ms"), 1.4)

    def test_summaries_cylinders_and_events_have_their_own_readings(self):
        at = 0.1 * np.arange(8)
        table = EventTable("current", at, at + 0.01, np.array([1, 2] * 4))
        table.put("peak_a", "A", np.array([1.0, 2.0] * 4), np.full(8, 0.01))
        work = work_of()
        report(work, table)
        by = {(r.cylinder, r.cycle): r.value for r in work.readings}
        self.assertEqual((by[(1, None)], by[(2, None)], by[(1, 3)]), (1.0, 2.0, 1.0))
        self.assertIn((None, None), by)


if __name__ == "__main__":
    unittest.main()
