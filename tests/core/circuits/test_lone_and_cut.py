"""What one event, one lane or one rate away from the usual must not hide, nor condemn: captures from closed forms.

Each kind stands beside a sound part that must stay sound. Figures marked CP: common practice, no published source.
"""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from tests.outside.workshop import scope
from tests.support.courses import captured, codes, course
from tests.support.pulses import coil_ramp, noisy, spark
from tracebench.core.answer import Phase
from tracebench.core.circuits import circuit, measure

ORDER = (1, 3, 4, 2)
TOLD = {"firing_order": "1-3-4-2"}


def seconds(length: float, rate: float) -> np.ndarray:
    return np.arange(round(length * rate)) / rate


def sync_of(t: np.ndarray, at: np.ndarray) -> np.ndarray:
    out = np.zeros(t.size)
    for s in at[::4]:
        out[(t >= s - 0.0004) & (t < s + 0.001)] = 5.0
    return noisy(out, 0.02)


def coils(rate: float, length: float = 0.8, lane=None, **bad):
    """A row of ramps at idle; those of cylinder 3 are `bad`."""
    t = seconds(length, rate)
    at = np.arange(0.02, length - 0.03, 0.037)
    current = sum(coil_ramp(t, [s], **(bad if ORDER[k % 4] == 3 else {})) for k, s in enumerate(at))
    return captured("coil-primary-current", rate, current=noisy(current, 0.02), sync=sync_of(t, at + 0.003))


class ClampFactors(unittest.TestCase):
    """12 A read as 1.2, 3 A read as 30: both peaks that a coil may have, and ramps that none has (from memory)."""

    def test_ten_times_too_small_or_too_large_is_put_right(self):
        for peak, dwell, factor in ((12.0, 3.0, 0.1), (7.0, 2.5, 0.1), (3.2, 2.2, 10.0), (4.0, 2.8, 10.0)):
            t = seconds(0.8, 200_000)
            at = np.arange(0.02, 0.77, 0.037)
            ring = 0.05 * peak
            lane = factor * noisy(coil_ramp(t, at, dwell_ms=dwell, peak=peak, ring_a=ring), 0.003 * peak)
            answer = measure(captured("coil-primary-current", 200_000, current=lane), "coil-primary-current")
            with self.subTest(peak=peak, factor=factor):
                self.assertIn("scale_suspect", codes(answer))
                self.assertAlmostEqual(answer.reading("peak_a").value, peak, delta=0.03 * peak)
                self.assertEqual(answer.call, "sound")

    def test_a_small_coil_a_large_one_and_a_weak_supply_stand(self):
        for peak, dwell in ((2.5, 2.5), (24.0, 3.5), (3.6, 4.0)):
            t = seconds(0.8, 200_000)
            at = np.arange(0.02, 0.77, 0.037)
            lane = noisy(coil_ramp(t, at, dwell_ms=dwell, peak=peak, ring_a=0.05 * peak), 0.003 * peak)
            answer = measure(captured("coil-primary-current", 200_000, current=lane), "coil-primary-current")
            with self.subTest(peak=peak):
                self.assertNotIn("scale_suspect", codes(answer))
                self.assertAlmostEqual(answer.reading("peak_a").value, peak, delta=0.03 * peak)

    def test_a_shorted_winding_is_no_factor(self):
        # Upright at its beginning: the inductance is gone.
        t = seconds(0.8, 200_000)
        lane = np.zeros(t.size)
        for s in np.arange(0.02, 0.77, 0.037):
            u = 1000 * (t - s)
            lane += np.where((u >= 0) & (u < 1.2), 21 * (1 - np.exp(-np.maximum(u, 0) / 0.15)) + 2 * u, 0)
        answer = measure(captured("coil-primary-current", 200_000, current=noisy(lane, 0.05)), "coil-primary-current")
        self.assertNotIn("scale_suspect", codes(answer))
        self.assertEqual(answer.call, "faulty")


class RatesWithSlack(unittest.TestCase):
    """100,000 a second show the ripple at turn-on (CP); stamps that were rounded give a hair less."""

    def test_a_hair_under_is_fast_enough_and_a_hundredth_is_not(self):
        for rate, call in ((99_999.99, "sound"), (99_950.0, "sound"), (99_000.0, "inconclusive")):
            self.assertEqual(measure(coils(rate), "coil-primary-current", (), TOLD).call, call, rate)

    def test_charging_ripple_at_a_hair_under_500(self):
        for rate, there in ((499.9999, True), (480.0, False)):
            t = seconds(20, rate)
            lane = scope(14.1 + 0.06 * np.cos(2 * np.pi * 61.3 * t), 20, 12, 0.008)
            found = measure(captured("charging", rate, sense=lane), "charging")
            self.assertEqual(found.reading("ripple_v") is not None, there, rate)


class LoneEvents(unittest.TestCase):
    def boosted(self, without=(), count=10, boost=10.0, hold=2.5):
        """A ramp to the boost in 0.4 ms, a relaxation to the hold with its chopping, and off."""
        t = seconds(0.06 * count + 0.06, 500_000)
        out = np.zeros(t.size)
        for k in range(count):
            u, top = 1000 * (t - 0.02 - 0.06 * k), 1.05 * hold if k in without else boost
            rise = top * np.sinh(np.clip(u, 0, 0.4)) / np.sinh(0.4)
            held = hold + (top - hold) / (1 + (np.clip(u - 0.4, 0, None) / 0.12) ** 2)
            held = held + 0.15 * (2 * np.abs((u / 0.09) % 1 - 0.5) - 0.5) * (u > 1.2)
            out += np.where((u >= 0) & (u < 0.4), rise, 0) + np.where((u >= 0.4) & (u < 2.4), held, 0)
            out += np.where(u >= 2.4, hold * np.exp(-np.clip(u - 2.4, 0, None) / 0.05), 0)
        return captured("injector-peak-hold", 500_000, current=scope(out, 20, 12, 0.02))

    def test_two_pulses_of_ten_without_boost_are_found_where_they_are(self):
        found = measure(self.boosted((3, 7)), "injector-peak-hold")
        self.assertEqual(found.call, "faulty")
        fault = next(f for f in found.findings if f.code == "no_boost")
        self.assertEqual(len(fault.shows_in), 2)
        for (begin, end), at in zip(fault.shows_in, (0.2, 0.44), strict=True):
            self.assertTrue(begin - 1e-3 <= at <= end, (begin, at))

    def test_one_of_them_too_and_ten_alike_are_sound(self):
        self.assertEqual(measure(self.boosted((4,)), "injector-peak-hold").call, "faulty")
        self.assertEqual(measure(self.boosted(), "injector-peak-hold").call, "sound")

    def test_pulses_that_boost_a_tenth_less_are_no_fault(self):
        self.assertEqual(measure(self.boosted(boost=9.0), "injector-peak-hold").call, "sound")

    def test_one_hump_as_large_as_the_others_ripple_is_no_ringing(self):
        own = coils(200_000, ring_a=0.0)
        t = seconds(0.8, 200_000)
        hump = np.zeros(t.size)
        for s in np.arange(0.02, 0.77, 0.037)[1::4]:
            u = 1000 * (t - s)
            hump += np.where((u > 0) & (u < 0.12), 0.33 * np.sin(np.pi * u / 0.12) ** 2, 0.0)
        lane = own.lanes["current"]
        capture = own.with_lane(replace(lane, samples=lane.samples + hump))
        found = measure(capture, "coil-primary-current", (), TOLD)
        self.assertEqual((found.call, codes(found, "fault")), ("faulty", ["turn_on_abnormal"]))
        self.assertEqual(next(f.cylinder for f in found.findings if f.kind == "fault"), 3)

    def test_a_ripple_that_dies_a_little_sooner_still_rings(self):
        found = measure(coils(200_000, ring_ms=0.055, ring_a=0.30), "coil-primary-current", (), TOLD)
        self.assertEqual(found.call, "sound")


class ToldAndNotSeen(unittest.TestCase):
    def row(self, count: int, **more):
        pitch = 0.037
        t = seconds(count * pitch, 500_000)
        at = 0.01 + pitch * np.arange(count)
        lane = -noisy(spark(t, at, **more), 0.02)
        return captured("secondary-voltage", 500_000, secondary=lane)

    def test_half_a_cycle_says_nothing_of_the_cylinders_that_are_not_in_it(self):
        for count in (2, 3):
            found = measure(self.row(count), "secondary-voltage", (), TOLD)
            self.assertEqual((found.call, codes(found, "set-up")), ("inconclusive", ["too_short"]), count)

    def test_a_whole_cycle_does_and_so_does_a_row_of_which_nobody_told_the_cylinders(self):
        self.assertEqual(measure(self.row(4), "secondary-voltage", (), TOLD).call, "sound")
        self.assertEqual(measure(self.row(2), "secondary-voltage").call, "sound")

    def test_what_is_wrong_with_those_that_are_there_is_a_fault_all_the_same(self):
        self.assertEqual(measure(self.row(3, burn_ms=0.45), "secondary-voltage", (), TOLD).call, "faulty")


class LanesThatCarryNothing(unittest.TestCase):
    def test_noise_on_a_wheel_sensors_wire_is_no_row_of_teeth(self):
        for sigma in (0.02, 0.1, 0.2):
            lane = noisy(np.full(50_000, 0.01), sigma)
            found = measure(captured("crank-position", 50_000, signal=lane), "crank-position")
            self.assertEqual((found.call, codes(found, "set-up")[0]), ("inconclusive", "flat_line"), sigma)
            self.assertNotIn("undersampled", codes(found))

    def test_teeth_at_three_samples_each_are_undersampled_and_not_flat(self):
        rate = 3 * 36 * 800 / 60
        t = seconds(4, rate)
        turned = (800 / 60 * t) % 1
        lane = np.where(turned * 36 < 35, 2 * np.sin(2 * np.pi * turned * 36), 0)
        found = measure(captured("crank-position", rate, signal=noisy(lane, 0.02)), "crank-position")
        self.assertIn("undersampled", codes(found))
        self.assertNotIn("flat_line", codes(found))

    def ripple(self):
        t = seconds(6, 10_000)
        angle = 2 * np.pi * 300 * t
        return (np.max([np.cos(angle - k * np.pi / 3) for k in range(6)], axis=0) - 0.955) * 1.3

    def test_ripple_that_was_coupled_by_ac_is_a_reading_and_its_level_is_missing(self):
        wave = self.ripple()
        found = measure(captured("charging", 10_000, sense=scope(wave - wave.mean(), 2, 12, 0.003)), "charging")
        self.assertNotIn("flat_line", codes(found))
        self.assertAlmostEqual(found.reading("ripple_v").value, np.ptp(np.percentile(wave, (1, 99))), delta=0.02)
        self.assertIsNone(found.reading("sense_v"))
        self.assertEqual(found.call, "inconclusive")

    def test_a_dead_sense_wire_is_flat_still(self):
        dead = measure(captured("charging", 10_000, sense=noisy(np.full(60_000, 0.02), 0.004)), "charging")
        self.assertEqual(codes(dead, "set-up"), ["flat_line"])


class FeedsThatFallAway(unittest.TestCase):
    """Supply, reference and ground for 4 s at 2,000 a second."""

    def lanes(self, **cut):
        size = 8000
        levels = {"supply": (13.9, 0.01), "reference": (5.0, 0.004), "ground": (0.02, 0.002)}
        out = {}
        for seed, (name, (level, sigma)) in enumerate(levels.items()):
            course = np.full(size, level)
            if name in cut:
                begin, end, to = cut[name]
                course[begin:end] = to
            out[name] = noisy(course, sigma, seed)
        return captured("supply-ground", 2000, **out)

    def test_all_lanes_at_once_are_the_ground_lead_of_the_scope(self):
        here = (3000, 3600, 0.0)
        found = measure(self.lanes(supply=here, reference=here, ground=here), "supply-ground")
        self.assertEqual(found.call, "inconclusive")
        slips = [f for f in found.findings if f.code == "probe_slip"]
        self.assertTrue(slips)
        self.assertAlmostEqual(slips[0].from_s, 1.5, delta=0.01)
        self.assertNotIn("noisy", codes(found))
        self.assertLess(found.reading("ripple_mv").value, 60)

    def test_a_ground_that_lifts_for_a_second_is_high_there(self):
        found = measure(self.lanes(ground=(3000, 5000, 0.4)), "supply-ground")
        self.assertEqual((found.call, codes(found, "fault")), ("faulty", ["ground_high"]))
        fault = next(f for f in found.findings if f.code == "ground_high")
        begin, end = fault.shows_in[0]
        self.assertAlmostEqual(begin, 1.5, delta=0.05)
        self.assertAlmostEqual(end, 2.5, delta=0.05)

    def test_a_ground_that_lifts_for_a_hundredth_of_a_second_is_no_fault(self):
        self.assertEqual(measure(self.lanes(ground=(3000, 3020, 0.4)), "supply-ground").call, "sound")
        self.assertEqual(measure(self.lanes(), "supply-ground").call, "sound")


class ToldPhases(unittest.TestCase):
    """Two sweeps of 5 s each way; the closed level rests at 0.60 V first and at 0.75 V after the sweeps."""

    def sweeps(self):
        points = [
            (0, 0.6),
            (2, 0.6),
            (7, 4.2),
            (8, 4.2),
            (13, 0.6),
            (14, 0.6),
            (19, 4.2),
            (20, 4.2),
            (25, 0.75),
            (28, 0.75),
        ]
        return captured("throttle-position", 1000, signal=course(points, 1000, 0.003))

    def test_a_told_phase_stands_for_all_of_its_name(self):
        told = measure(self.sweeps(), "throttle-position", (Phase("closed", 25.2, 27.8),))
        self.assertEqual([(p.from_s, p.to_s) for p in told.phases if p.name == "closed"], [(25.2, 27.8)])
        self.assertAlmostEqual(told.reading("closed_v").value, 0.75, delta=0.004)
        # What was found under other names stays.
        self.assertEqual(sum(p.name == "opening" for p in told.phases), 2)

    def test_lanes_exchanged_are_found_with_told_phases_too(self):
        # Key on: the weather near 4 V, a throttle at rest near 0.6 V; an idle near 1.3 V, and a snap.
        t = seconds(14, 1000)
        pressure = np.interp(
            t, [0, 2, 3, 8, 8.1, 8.8, 9.2, 10, 11, 14], [4.1, 4.1, 1.3, 1.3, 4.2, 4.2, 0.7, 0.7, 1.3, 1.3]
        )
        throttle = np.interp(t, [0, 7.95, 8.05, 8.75, 8.85, 14], [0.6, 0.6, 4.0, 4.0, 0.6, 0.6])
        lanes = {"signal": noisy(throttle, 0.004, 1), "throttle": noisy(pressure, 0.004, 2)}
        for phases in ((), (Phase("idle", 4.0, 7.5),)):
            found = measure(captured("manifold-pressure", 1000, **lanes), "manifold-pressure", phases)
            self.assertIn("lanes_swapped", codes(found), phases)
            self.assertAlmostEqual(found.reading("idle_v").value, 1.3, delta=0.02)

    def test_teeth_lost_once_do_not_speak_for_the_wheel(self):
        spec = next(f for f in circuit("crank-position").findings if f.code == "dropout")
        self.assertNotIn("wheel", (spec.cause, *spec.also))


class ActiveWheel(unittest.TestCase):
    """7 and 14 mA over 50, 100 and 120 ohm, and 14 and 28 over 60: 48 teeth at 1.2 turns a second (from memory)."""

    def wheel(self, low, high, lost=()):
        t = seconds(6, 20_000)
        turned = 1.2 * t * 48
        lane = np.where(turned % 1 < 0.5, high, low)
        for tooth in lost:
            lane = np.where(np.floor(turned) == tooth, low, lane)
        return measure(captured("wheel-speed", 20_000, signal=noisy(lane, 0.004)), "wheel-speed", (), {"teeth": "48"})

    def test_its_levels_are_read_and_it_is_sound(self):
        for low, high in ((0.35, 0.70), (0.70, 1.40), (0.84, 1.68)):
            found = self.wheel(low, high)
            self.assertEqual((found.call, codes(found)), ("sound", []), (low, high))
            self.assertAlmostEqual(found.reading("level_low_v").value, low, delta=0.01)
            self.assertAlmostEqual(found.reading("level_high_v").value, high, delta=0.01)
            self.assertAlmostEqual(found.reading("rpm").value, 72.0, delta=0.1)

    def test_a_tooth_lost_once_is_found_in_it(self):
        self.assertEqual(codes(self.wheel(0.7, 1.4, lost=(100,)), "fault"), ["dropout"])

    def test_a_coils_signal_has_no_levels_however_small(self):
        t = seconds(6, 20_000)
        lane = noisy(0.3 * np.sin(2 * np.pi * 1.2 * t * 48), 0.004)
        found = measure(captured("wheel-speed", 20_000, signal=lane), "wheel-speed", (), {"teeth": "48"})
        self.assertEqual(found.call, "sound")
        self.assertIsNone(found.reading("level_low_v"))


if __name__ == "__main__":
    unittest.main()
