"""Injector circuits on pulses from closed forms. Figures marked CP: common practice, no published source."""

import unittest
from itertools import pairwise

import numpy as np

from tests.support.courses import captured, codes, states
from tests.support.pulses import Coil, axis, control_wire, noisy, piezo
from tracebench.core.answer import Limit
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

RATE = 200_000
STARTS = np.arange(0.02, 0.48, 0.075)
TIMES = axis(0.5, RATE)


def wire(noise=0.05, step=120 / 4096, starts=STARTS, **more):
    return noisy(control_wire(TIMES, starts, **more), noise, 1, step)


def of_wire(control, options=None):
    return measure(captured("injector-voltage", RATE, control=control), "injector-voltage", options=options)


def of_current(coil, rate=RATE, noise=0.004, options=None, limits=(), step=0.0):
    times = axis(0.5, rate)
    samples = noisy(coil.amperes(times, STARTS), noise, 2, step)
    return measure(captured("injector-current", rate, current=samples), "injector-current", (), options, limits)


class Voltage(unittest.TestCase):
    def test_readings_as_drawn(self):
        found = of_wire(wire())
        self.assertEqual((found.call, codes(found)), ("sound", []))
        for reading, value, delta in (
            ("supply_v", 14.0, 0.02),
            ("on_v", 0.25, 0.02),
            ("on_ms", 3.0, 0.01),
            ("kick_v", 68.0, 0.4),
            ("bump_ms", 1.1, 0.02),
            ("tail_rings_count", 0, 0),
            ("rate_hz", 1 / 0.075, 0.01),
            ("pulses_count", 7, 0),
        ):
            self.assertAlmostEqual(found.reading(reading).value, value, delta=delta, msg=reading)

    def test_phases_follow_each_other_in_every_pulse(self):
        found = of_wire(wire())
        first = [p for p in found.phases if p.cycle == 1]
        self.assertEqual([p.name for p in first], ["supply", "on", "kick", "decay", "rest"])
        for before, after in pairwise(first):
            self.assertAlmostEqual(before.to_s, after.from_s, delta=1e-4)

    def test_faults(self):
        self.assertIn("low_kick", of_wire(wire(kick=38)).because)
        self.assertIn("weak_ground", of_wire(wire(on=1.1)).because)
        self.assertEqual(of_wire(wire(bump_ms=None)).because, ("no_bump",))
        self.assertEqual(of_wire(wire(rings=5)).because, ("tail_ringing",))
        self.assertEqual(of_wire(wire(rings=1)).call, "sound")  # CP: 0 to 1 rings are usual

    def test_a_needle_that_seats_once_the_decay_is_over_still_shows_its_bump(self):
        found = of_wire(wire(tau_ms=0.25, bump_ms=1.7))
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("bump_ms").value, 1.7, delta=0.02)
        self.assertEqual(found.reading("tail_rings_count").value, 0)
        # A lone ring long after it is no needle.
        self.assertEqual(of_wire(wire(tau_ms=0.25, bump_ms=None, rings=1)).because, ("no_bump",))

    def test_a_second_injector_is_compared(self):
        for mine, words in (
            (wire(rings=5), "rings 5 against 0"),
            (wire(kick=38), "kick 38 against 68"),
            (wire(), "like the second injector"),
        ):
            capture = captured("injector-voltage", RATE, control=mine, control2=wire(starts=STARTS + 0.03))
            found = measure(capture, "injector-voltage")
            self.assertIn(words, next(f.text for f in found.findings if f.code == "sibling"))
        quiet = captured("injector-voltage", RATE, control=wire(), control2=noisy(np.full(TIMES.size, 14.0), 0.03))
        self.assertIn("sibling_quiet", codes(measure(quiet, "injector-voltage")))

    def test_missing_pulses_are_where_they_are_missing(self):
        found = of_wire(wire(starts=np.delete(STARTS, 3)))
        at = next(f for f in found.findings if f.code == "missing_pulses")
        self.assertEqual(found.reading("missing_count").value, 1)
        self.assertLess(at.from_s, STARTS[3])
        self.assertGreater(at.to_s, STARTS[3])

    def test_a_wire_that_is_supplied_and_never_switched(self):
        alive = noisy(np.full(TIMES.size, 14.1), 0.03)
        self.assertEqual(of_wire(alive).because, ("no_pulse",))
        self.assertEqual(codes(of_wire(noisy(np.full(TIMES.size, 0.05), 0.01))), ["flat_line"])

    def test_set_up(self):
        self.assertIn("scale_suspect", codes(of_wire(wire() / 10)))
        self.assertAlmostEqual(of_wire(wire() / 10).reading("kick_v").value, 68, delta=0.5)
        self.assertIn("reversed_polarity", codes(of_wire(-wire())))
        self.assertEqual(of_wire(-wire()).call, "sound")
        self.assertIn("clipped", codes(of_wire(np.minimum(wire(step=0.0), 50.0))))
        self.assertNotIn("clipped", codes(of_wire(wire(step=0.0))))
        slow = measure(captured("injector-voltage", 20_000, control=wire()[::10]), "injector-voltage")
        self.assertIn("undersampled", codes(slow))

    def test_noise_that_hides_the_bump_of_single_pulses_is_averaged_away(self):
        found = of_wire(wire(noise=0.6, step=0.0, bump_v=3.0))
        self.assertNotIn("no_bump", codes(found))
        self.assertAlmostEqual(found.reading("bump_ms").value, 1.1, delta=0.06)


class Current(unittest.TestCase):
    def test_readings_of_an_r_l_step(self):
        # i(t) = U/R (1 - exp(-t R/L)): peak, ramp and edge by hand.
        coil = Coil()
        found = of_current(coil)
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("on_ms").value, 3.0, delta=0.015)
        self.assertAlmostEqual(found.reading("peak_a").value, coil.peak_a, delta=0.005 * coil.peak_a)
        self.assertAlmostEqual(found.reading("pintle_ms").value, 1.4, delta=0.03)
        self.assertAlmostEqual(found.reading("pintle_dip_a").value, 0.05, delta=0.006)
        # 90 to 10 % of an exponential fall is 2.197 tau.
        self.assertAlmostEqual(found.reading("decay_ms").value, 2.197 * 0.15, delta=0.01)
        edge = (1 - np.exp(-0.15 / coil.tau_ms)) * coil.full_a / coil.peak_a
        self.assertAlmostEqual(found.reading("leading_edge_fraction").value, edge, delta=0.01)

    def test_ramp_of_a_straight_rise(self):
        # Without resistance to speak of the ramp is U/L: 14 V over 16 mH is 0.875 A/ms.
        coil = Coil(ohm=0.5, henry=0.016, on_ms=2.0, dip_a=0.0)
        found = of_current(coil, noise=0.002)
        self.assertAlmostEqual(found.reading("ramp").value, 0.875, delta=0.01)

    def test_full_current_is_supply_over_resistance(self):
        # CP: 14 V / 16 ohm = 0.88 A.
        found = of_current(Coil(), options={"supply_v": "14", "resistance_ohm": "16"})
        self.assertAlmostEqual(found.reading("expected_a").value, 0.875, places=3)
        self.assertIn("shorted_winding", of_current(Coil(), options={"resistance_ohm": "30"}).because)

    def test_faults(self):
        self.assertEqual(of_current(Coil(dip_a=0.0)).because, ("no_pintle_dip",))
        self.assertIn("high_resistance", of_current(Coil(ohm=26.0)).because)
        self.assertIn("shorted_winding", of_current(Coil(ohm=5.0, henry=2e-4, dip_a=0.0)).because)
        late = [Limit("pintle_ms", None, 1.6, "maker")]
        self.assertEqual(of_current(Coil(pintle_ms=2.0), limits=late).because, ("late_pintle",))
        self.assertEqual(of_current(Coil(pintle_ms=1.4), limits=late).call, "sound")

    def test_a_slope_without_a_needle_is_not_taken_for_one_whatever_the_rate(self):
        for rate in (50_000, 100_000, 500_000):
            self.assertNotIn("pintle_ms", {r.id for r in of_current(Coil(dip_a=0.0), rate).readings if r.cycle is None})

    def test_set_up(self):
        times = axis(0.5, RATE)
        good = noisy(Coil().amperes(times, STARTS), 0.004)

        def code_of(samples):
            return measure(captured("injector-current", RATE, current=samples), "injector-current")

        self.assertIn("reversed_polarity", codes(code_of(-good)))
        self.assertIn("scale_suspect", codes(code_of(10 * good)))
        self.assertAlmostEqual(code_of(10 * good).reading("peak_a").value, Coil().peak_a, delta=0.01)
        self.assertIn("flat_line", codes(code_of(noisy(np.zeros(times.size), 0.004))))
        self.assertIn("clipped", codes(code_of(np.minimum(good, 0.7))))
        self.assertNotIn("clipped", codes(code_of(good)))
        # A coarse recorder puts a level top into one code: that is no end of a range.
        flat = Coil(ohm=16.0, henry=0.002, dip_a=0.0).amperes(times, STARTS)
        self.assertNotIn("clipped", codes(code_of(np.round(noisy(flat, 0.003) / 0.04) * 0.04)))
        drifting = code_of(good + 0.15 * times)
        self.assertIn("clamp_drift", codes(drifting))
        self.assertAlmostEqual(drifting.reading("peak_a").value, Coil().peak_a, delta=0.02)

    def test_options_that_make_no_sense(self):
        with self.assertRaisesRegex(BadOption, "resistance_ohm"):
            of_current(Coil(), options={"resistance_ohm": "much"})


class Group(unittest.TestCase):
    OPTIONS = {"injectors": "6", "each_a": "0.7"}

    def found(self, coil, options=OPTIONS, factor=1.0):
        samples = noisy(coil.amperes(TIMES, STARTS), 0.02) * factor
        return measure(captured("injector-current-group", RATE, current=samples), "injector-current-group", (), options)

    def test_the_arithmetic_of_common_practice(self):
        # CP: six at 0.7 A should total 4.2 A; 1.28 V on a clamp of 100 mV/A is 12.8 A.
        sound = self.found(Coil(ohm=14 / 4.4, henry=0.0033))
        self.assertEqual(sound.call, "sound")
        self.assertAlmostEqual(sound.reading("expected_a").value, 4.2, places=9)
        self.assertEqual(states(sound)["excess_ratio"], "inside")
        shorted = self.found(Coil(ohm=14 / 12.8, henry=1e-4, dip_a=0.0))
        self.assertIn("shorted_winding", shorted.because)
        self.assertAlmostEqual(shorted.reading("peak_a").value, 12.8, delta=0.06)
        self.assertAlmostEqual(shorted.reading("excess_ratio").value, 12.8 / 4.2, delta=0.02)

    def test_without_the_number_of_injectors_there_is_no_ratio_and_the_edge_still_tells(self):
        found = self.found(Coil(ohm=14 / 12.8, henry=1e-4, dip_a=0.0), {})
        self.assertIsNone(found.reading("excess_ratio"))
        self.assertTrue(any("option injectors" in m.why for m in found.missing))
        self.assertIn("shorted_winding", found.because)

    def test_an_excess_without_an_upright_edge_is_found_by_its_ratio(self):
        found = self.found(Coil(ohm=14 / 8.0, henry=0.002))
        self.assertIn("shorted_winding", found.because)


class PeakAndHold(unittest.TestCase):
    def pulses(self, boost=10.0, hold=2.5, on=3.0, ripple=0.25, short=()):
        out = np.zeros(TIMES.size)
        for k, s in enumerate(STARTS):
            end = 1.0 if k in short else on
            u = 1000 * (TIMES - s)
            out += np.where((u >= 0) & (u < 0.3), boost * u / 0.3, 0)
            held = hold + (boost - hold) * np.exp(-(u - 0.3) / 0.12) + ripple * np.sin(2 * np.pi * 12 * u) * (u > 0.9)
            out += np.where((u >= 0.3) & (u < end), held, 0)
            out += np.where(u >= end, (hold or 0.2) * np.exp(-np.maximum(u - end, 0) / 0.05), 0)
        return noisy(out, 0.03)

    def found(self, samples, **lanes):
        return measure(captured("injector-peak-hold", RATE, current=samples, **lanes), "injector-peak-hold")

    def test_readings(self):
        found = self.found(self.pulses())
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("boost_a").value, 10.0, delta=0.35)
        self.assertAlmostEqual(found.reading("boost_ms").value, 0.3, delta=0.01)
        self.assertAlmostEqual(found.reading("hold_a").value, 2.5, delta=0.03)
        self.assertAlmostEqual(found.reading("on_ms").value, 3.0, delta=0.02)
        self.assertAlmostEqual(found.reading("ripple_hz").value, 12_000, delta=60)

    def test_faults(self):
        self.assertEqual(self.found(self.pulses(boost=2.6)).because, ("no_boost",))
        self.assertEqual(self.found(self.pulses(hold=0.0, ripple=0.0, on=0.31)).because, ("no_hold",))
        short = self.found(self.pulses(short=(2,)))
        self.assertEqual(short.because, ("short_on_time",))
        self.assertAlmostEqual(short.findings[0].from_s, STARTS[2], delta=1e-3)


class Piezo(unittest.TestCase):
    FAST = 1_000_000
    CYCLES = np.arange(0.02, 0.38, 0.06)

    def found(self, samples, options=None):
        return measure(
            captured("injector-piezo", self.FAST, current=noisy(samples, 0.08)), "injector-piezo", (), options
        )

    def setUp(self):
        self.times = axis(0.4, self.FAST)
        self.good = piezo(self.times, self.CYCLES)

    def test_readings_and_the_main_event_is_the_widest(self):
        found = self.found(self.good)
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertEqual(found.reading("events_count").value, 3)
        self.assertAlmostEqual(found.reading("charge_a").value, 8.0, delta=0.15)
        self.assertAlmostEqual(found.reading("discharge_a").value, -6.0, delta=0.15)
        self.assertAlmostEqual(found.reading("cycle_ms").value, 60.0, delta=0.01)
        # Summaries are the main event's.
        self.assertAlmostEqual(found.reading("width_ms").value, 0.7, delta=0.004)
        self.assertAlmostEqual(found.reading("start_ms").value, 2.2, delta=0.004)
        self.assertLess(max(e.unusual for e in found.events), 6)
        widths = [found.reading("width_ms", k).value for k in (1, 2, 3)]
        for value, drawn in zip(widths, (0.25, 0.25, 0.7), strict=True):
            self.assertAlmostEqual(value, drawn, delta=0.004)
        starts = [found.reading("start_ms", k).value for k in (1, 2, 3)]
        for value, drawn in zip(starts, (0.0, 1.0, 2.2), strict=True):
            self.assertAlmostEqual(value, drawn, delta=0.004)
        self.assertAlmostEqual(found.reading("gap_ms", 1).value, 0.75, delta=0.004)
        self.assertEqual([p.name for p in found.phases if p.cycle == 1], ["pilot", "intermediate", "main"])

    def test_the_first_pulse_must_be_positive(self):
        found = self.found(-self.good)
        self.assertEqual(codes(found), ["reversed_polarity"])
        self.assertAlmostEqual(found.reading("charge_a").value, 8.0, delta=0.15)

    def test_faults(self):
        part = piezo(self.times, self.CYCLES[2:3], (0.0, 1.0), (0.25, 0.25))
        short = piezo(self.times, np.delete(self.CYCLES, 2)) + part
        found = self.found(short)
        self.assertEqual(found.because, ("missing_event",))
        self.assertAlmostEqual(found.findings[0].from_s, self.CYCLES[2], delta=1e-3)
        self.assertEqual(self.found(piezo(self.times, self.CYCLES, charge=4.0)).because, ("low_charge",))
        self.assertEqual(self.found(piezo(self.times, self.CYCLES[:3])).because, ("power_stage_off",))
        lone = self.good.copy()
        t = 1000 * (self.times - self.CYCLES[1]) - 2.2 - 0.7
        lone[(t >= 0) & (t < 0.12)] = 0.0
        self.assertEqual(self.found(lone).because, ("charge_without_discharge",))

    def test_one_to_eight_events_a_cycle_by_design(self):
        for count in (1, 2, 5):
            offsets = tuple(0.9 * k for k in range(count))
            widths = (0.25,) * (count - 1) + (0.6,)
            found = self.found(piezo(self.times, self.CYCLES, offsets, widths))
            self.assertEqual((found.reading("events_count").value, found.call), (count, "sound"))
        self.assertIn("missing_event", self.found(self.good, {"events": "4"}).because)

    def test_nothing_at_all(self):
        silence = np.zeros(self.times.size)
        self.assertEqual(codes(self.found(silence)), ["flat_line"])
        self.assertEqual(self.found(silence, {"running": "yes"}).because, ("power_stage_off",))


if __name__ == "__main__":
    unittest.main()
