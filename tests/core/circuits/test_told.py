"""What is told of a capture: its complaint and conditions, its trigger, the design of its reference; and places."""

import unittest

import numpy as np

from tests.circuits.crank_position import test_crank_position as cranks
from tests.circuits.manifold_pressure import test_manifold_pressure as pressures
from tests.marked import drawings as drawn
from tests.support.courses import captured, codes
from tests.support.pulses import axis, noisy, spark
from tests.support.waves import Sweep
from tracebench.core.answer import Finding, Limit, Reading
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.circuits.circuit import Measured
from tracebench.core.circuits.conditions import CONDITIONS
from tracebench.core.circuits.verdict import undecided
from tracebench.core.errors import BadOption
from tracebench.core.limits import judge

CODE = "throttle-position"


def throttle(sweep=None, **options):
    return measure((sweep or Sweep(rate_hz=2000, noise_v=0.004)).capture(), CODE, options=options)


class LimitsForConditions(unittest.TestCase):
    def test_hold_only_where_the_capture_showed_them(self):
        limits = [Limit("closed_v", 0.1, 0.2, "maker", when="hot")]
        capture = Sweep(rate_hz=2000, noise_v=0.004).capture()
        for shown, calls in (("", "sound"), ("cold", "sound"), ("hot", "faulty"), ("altitude,hot", "faulty")):
            found = measure(capture, CODE, options={"shown": shown}, limits=limits)
            with self.subTest(shown=shown):
                self.assertEqual(found.call, calls)
                self.assertEqual("hot" in [j.limit.when for j in found.limits], calls == "faulty")


class Conditions(unittest.TestCase):
    def test_found_by_phases(self):
        found = measure(drawn.manifold(), "manifold-pressure")
        self.assertEqual(set(found.shown), {"key_on", "cranking", "idle", "snap", "load", "overrun"})

    def test_found_by_speed(self):
        # 148 ms a cycle is 811 turns a minute; a wheel at 200 is cranked.
        self.assertIn("idle", measure(drawn.secondary(), "secondary-voltage", options=drawn.FOUR).shown)
        self.assertIn("cranking", cranks.answer(rpm=200, rate=20_000, turns=4.3).shown)
        self.assertNotIn("idle", cranks.answer(rpm=4000, rate=500_000, turns=4.3).shown)

    def test_found_by_the_states_of_firings(self):
        # A snap: the firings come closer for a second and go back (drawn in test_ignition as well).
        times = axis(3.0, 200_000)
        at = np.concatenate([np.arange(0.02, 1.2, 0.037), np.arange(1.2, 1.8, 0.012), np.arange(1.81, 2.95, 0.037)])
        lane = sum(spark(times, [s], seed=k) for k, s in enumerate(at))
        found = measure(captured("secondary-voltage", 200_000, secondary=noisy(lane, 0.02)), "secondary-voltage")
        self.assertLessEqual({"snap", "load", "idle"}, set(found.shown))

    def test_found_by_temperature_and_length(self):
        # About 2 V at 20 degrees (common practice).
        found = measure(drawn.temperature(2.0), "temperature")
        self.assertIn("cold", found.shown)
        self.assertNotIn("minutes", found.shown)
        long = captured("temperature", 10, signal=np.full(700, 2.0))
        self.assertIn("minutes", measure(long, "temperature").shown)

    def test_told(self):
        self.assertEqual(throttle(shown="moved, hot").shown, ("hot", "moved"))
        with self.assertRaisesRegex(BadOption, "'sunny' is no condition"):
            throttle(shown="sunny")

    def test_a_clean_capture_without_the_condition_cannot_tell(self):
        for condition in (c.key for c in CONDITIONS):
            without = throttle(complaint=condition)
            self.assertEqual((without.call, without.because), ("inconclusive", ("condition_not_shown",)), condition)
            self.assertEqual(throttle(complaint=condition, shown=condition).call, "sound", condition)
        self.assertEqual(throttle(complaint="always").call, "sound")

    def test_a_snap_is_a_load(self):
        capture = drawn.manifold()
        self.assertEqual(measure(capture, "manifold-pressure", options={"complaint": "load"}).call, "sound")
        self.assertEqual(measure(capture, "manifold-pressure", options={"complaint": "hot"}).call, "inconclusive")

    def test_a_fault_that_shows_all_the_same_is_a_fault(self):
        found = measure(drawn.worn(), CODE, options={"complaint": "hot"})
        self.assertEqual(found.call, "faulty")
        self.assertNotIn("condition_not_shown", codes(found))

    def test_every_circuit_knows_them(self):
        for code in CIRCUITS:
            with self.assertRaisesRegex(BadOption, "complaint must be one of"):
                kind = CIRCUITS[code]
                needed = [x.name for x in kind.lanes if x.required] or [kind.lanes[0].name]
                lanes = {name: np.zeros(100) for name in needed}
                measure(captured(code, 1000, **lanes), code, options={"complaint": "often"})


class SetUp(unittest.TestCase):
    def test_a_trigger_outside_the_signal(self):
        self.assertIn("trigger_outside", codes(throttle(trigger="4.5")))
        self.assertNotIn("trigger_outside", codes(throttle(trigger="4.0")))
        self.assertEqual(throttle(trigger="4.5").call, "sound")
        with self.assertRaisesRegex(BadOption, "trigger must be a level"):
            throttle(trigger="half")

    def test_a_cold_capture_under_a_warm_limit(self):
        limits = [Limit("idle_v", 0.9, 1.2, "maker")]

        def found(**options):
            return measure(drawn.manifold(), pressures.CODE, options=options, limits=limits)

        cold, warm = found(shown="cold"), found(shown="cold,warm")
        self.assertIn("cold_capture", cold.because)
        self.assertEqual(cold.call, "inconclusive")
        self.assertNotIn("cold_capture", codes(warm))
        self.assertNotIn("cold_capture", codes(found()))

    def test_levels_of_another_design(self):
        limits = [Limit("open_v", 4.5, None, "own-fleet")]
        capture = drawn.throttle()
        same = measure(capture, CODE, limits=limits)
        other = measure(capture, CODE, options={"design": "other"}, limits=limits)
        self.assertEqual((same.call, other.call, other.because), ("faulty", "inconclusive", ("other_design",)))
        inside = measure(capture, CODE, options={"design": "other"}, limits=[Limit("open_v", 4.0, None, "own-fleet")])
        self.assertEqual((inside.call, inside.because), ("sound", ("other_design",)))
        # Rules of thumb are of no design.
        self.assertNotIn("other_design", codes(measure(capture, CODE, options={"design": "other"})))


class NeverCondemned(unittest.TestCase):
    KIND = CIRCUITS["supply-ground"]
    READING = Reading("supply_v", 11.0, "V", 0.01, 1.0, 2.0, "supply")
    LIMITS = (Limit("supply_v", 12.0, None),)

    def judged(self, *findings):
        measured = Measured(captured("supply-ground", 10, supply=np.full(50, 11.0)), (), (self.READING,), findings, ())
        none, _ = undecided(measured, judge(measured.readings, self.LIMITS), (), (), False)
        return none

    def test_a_reading_under_what_falsifies_it(self):
        for code, lane, span, hides, covered in (
            ("clipped", "supply", (0.0, 3.0), True, True),
            ("clipped", "supply", (1.0, 1.5), True, True),
            ("clipped", "supply", (1.0, 1.4), True, False),
            ("clipped", "ground", (0.0, 3.0), True, False),
            ("clipped", "supply", (0.0, 3.0), False, False),
            ("probe_slip", None, (0.0, 3.0), True, True),
            ("missing_phase", "supply", (0.0, 3.0), True, False),
        ):
            finding = Finding(code, "set-up", *span, "said", lane, hides=hides)
            self.assertEqual("supply_v" in self.judged(finding), covered, (code, lane, span, hides))


class Places(unittest.TestCase):
    def places(self, answer, code):
        return next(f for f in answer.findings if f.code == code).places

    def holds(self, places, instant):
        return any(a <= instant <= b for a, b in places)

    def test_every_turn_of_a_damaged_tooth(self):
        places = self.places(measure(drawn.crank(drop=21), "crank-position"), "tooth_damaged")
        # 900 turns a minute: tooth 21 of turn n is about (n + 21.5 / 60) x 66.7 ms.
        for turn in range(1, 8):
            self.assertTrue(self.holds([(a - 1e-3, b + 1e-3) for a, b in places], (turn + 21.5 / 60) / 15), turn)
        self.assertLessEqual(len(places), 9)

    def test_every_firing_of_the_cylinder_and_of_no_other(self):
        found = measure(drawn.secondary(peak=18.0), "secondary-voltage", options=drawn.FOUR)
        places = self.places(found, "high_firing")
        fired = 0.02 + 0.037 * np.arange(24)
        for k, at in enumerate(fired):
            self.assertEqual(self.holds(places, at + 1e-4), drawn.ORDER[k % 4] == 3, k)

    def test_every_pulse_where_all_have_it(self):
        places = self.places(measure(drawn.injector_wire(bump_ms=None), "injector-voltage"), "no_bump")
        self.assertEqual(sum(self.holds(places, s + 0.001) for s in drawn.STARTS), 7)

    def test_every_sweep_whose_own_level_is_outside(self):
        found = measure(drawn.throttle(open_v=3.2), CODE)
        places = self.places(found, "low_open")
        self.assertTrue(self.holds(places, 7.0) and self.holds(places, 20.0))
        self.assertFalse(self.holds(places, 3.0))

    def test_they_are_told_with_their_number(self):
        finding = next(f for f in measure(drawn.crank(drop=21), "crank-position").as_json()["findings"])
        self.assertEqual(finding["count"], len(finding["places"]))
        self.assertEqual(finding["places"][0], [finding["from"], finding["to"]])
