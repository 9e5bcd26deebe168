import unittest

import numpy as np

from tracebench.bench.hand import SweepPlan, followed, swept
from tracebench.bench.parts.potentiometer import FAULTS
from tracebench.bench.scope import ScopeSettings, digitised
from tracebench.bench.trainer import record
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

CODE = "throttle-position"


def answer(fault: str, seed: int = 5, scope: ScopeSettings | None = None, plan: SweepPlan | None = None):
    return measure(record(CODE, scope or ScopeSettings(), seed, fault, movement=plan or SweepPlan()), CODE)


class Faults(unittest.TestCase):
    """What each fault's physics must look like to somebody who measures it."""

    EXPECTED = {
        "none": ("sound", set()),
        "worn-idle": ("faulty", {"dropout"}),
        "worn-mid": ("faulty", {"dropout"}),
        "low-closed": ("faulty", {"low_closed"}),
        "high-closed": ("faulty", {"high_closed"}),
        "short-travel": ("faulty", {"low_open"}),
        "low-reference": ("faulty", {"reference_low"}),
        "open-ground": ("faulty", {"stuck_high"}),
        "open-signal": ("faulty", {"stuck_low"}),
        "probe-slip": ("inconclusive", {"probe_slip"}),
    }

    def test_every_fault_on_offer_is_expected_here(self):
        self.assertEqual({f.key for f in FAULTS}, set(self.EXPECTED))

    def test_each_fault_is_found_whatever_the_seed(self):
        for fault, (call, because) in self.EXPECTED.items():
            for seed in range(4):
                with self.subTest(fault=fault, seed=seed):
                    found = answer(fault, seed)
                    self.assertEqual(found.call, call, found.because)
                    self.assertLessEqual(because, set(found.because))

    def test_a_worn_spot_sits_where_it_was_put(self):
        self.assertAlmostEqual(answer("worn-mid").reading("dropout_travel_pct").value, 50, delta=5)


class Same(unittest.TestCase):
    def test_same_seed_same_samples(self):
        one, two = (record(CODE, ScopeSettings(), 7) for _ in range(2))
        np.testing.assert_array_equal(one.lanes["signal"].samples, two.lanes["signal"].samples)

    def test_another_seed_other_samples(self):
        one, two = (record(CODE, ScopeSettings(), s) for s in (7, 8))
        self.assertFalse(np.array_equal(one.lanes["signal"].samples, two.lanes["signal"].samples))


class Scope(unittest.TestCase):
    def test_too_small_a_range_clips_at_its_end(self):
        settings = ScopeSettings(range_v=2.0)
        seen = digitised(settings, np.full(1000, 4.0), np.random.default_rng(0))
        self.assertLess(seen.max(), 2.0)
        self.assertEqual(np.unique(seen).size, 1)

    def test_codes_are_as_wide_as_the_bits_say(self):
        seen = digitised(ScopeSettings(range_v=10, bits=8), np.linspace(0, 5, 5000), np.random.default_rng(0))
        self.assertAlmostEqual(float(np.diff(np.unique(seen)).min()), 11 / 256, places=4)

    def test_ground_point_shifts_all_levels(self):
        at_sensor = answer("none").reading("closed_v").value
        at_metal = answer("none", scope=ScopeSettings(ground="engine metal")).reading("closed_v").value
        self.assertAlmostEqual(at_metal - at_sensor, 0.031, delta=0.004)

    def test_refusals_name_what_is_possible(self):
        for settings, words in (
            (ScopeSettings(range_v=7), "choose one of"),
            (ScopeSettings(rate_hz=3), "choose one of"),
            (ScopeSettings(duration_s=5000), "0.02 to 600"),
            (ScopeSettings(rate_hz=50_000, duration_s=100), "memory"),
            (ScopeSettings(rate_hz=10, duration_s=2), "fewer than 50"),
            (ScopeSettings(ground="the moon"), "sensor ground"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(BadOption, words):
                settings.checked()


class Hand(unittest.TestCase):
    def test_planned_sweeps_go_all_the_way_and_never_turn_back(self):
        travel = swept(SweepPlan(sweeps=2, unsteady=1.0), 40.0, np.random.default_rng(3))
        self.assertEqual((travel.min(), travel.max()), (0.0, 1.0))
        turns = np.sign(np.diff(travel))
        self.assertEqual(int((np.diff(turns[turns != 0]) != 0).sum()), 3)

    def test_a_movement_made_by_hand_is_followed(self):
        travel = followed([(0, 0), (2, 0), (6, 1), (7, 1)], 8.0)
        self.assertAlmostEqual(travel[800], 0.5, delta=0.01)
        self.assertAlmostEqual(travel[-1], 1.0)

    def test_refusals(self):
        with self.assertRaisesRegex(BadOption, "fewer than two"):
            followed([(0, 0)], 5)
        with self.assertRaisesRegex(BadOption, "order of time"):
            followed([(1, 0), (0, 1)], 5)
