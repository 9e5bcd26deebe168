"""Mains hum through a record of any kind of lane: a sound part stays sound or is not judged, a bad one is found.

Lanes are drawn here by other formulas than the trainer's. The hum of a sound record is a part of the lane's swing; that
of a bad one is told in the lane's unit.
"""

import unittest

import numpy as np

from tests.circuits.wheel_speed.test_wheel_speed import spun
from tests.core.circuits import test_ignition
from tests.core.circuits.test_standing import rail
from tests.support.courses import captured, codes, course
from tests.support.pulses import axis, control_wire, noisy, piezo, spark
from tracebench.core.circuits import measure

PARTS = (0.0, 0.03, 0.06, 0.10, 0.15)
TWO = ({"hertz": 50.0, "phase": 1.0}, {"hertz": 60.1, "phase": 2.6})
FAST = 200_000


def line(size, rate, amplitude, hertz, phase):
    return amplitude * np.sin(2 * np.pi * hertz * np.arange(size) / rate + phase)


class Hummed(unittest.TestCase):
    def assert_never_faulty(self, code, rate, lane, clean, options=None, beside=None, parts=PARTS):
        for part in parts:
            for how in TWO:
                wave = clean + line(clean.size, rate, part * float(np.ptp(clean)), **how)
                found = measure(captured(code, rate, **{lane: wave}, **(beside or {})), code, options=options)
                with self.subTest(part=part, **how):
                    self.assertEqual(codes(found, "fault"), [])
                    if part == 0:
                        self.assertFalse([f.text for f in found.findings if "hum" in f.text])

    def found(self, code, rate, lane, clean, amplitude, options=None, **beside):
        wave = clean + line(clean.size, rate, amplitude, 50.0, 0.4)
        return measure(captured(code, rate, **{lane: wave}, **beside), code, options=options)


class Pulsed(Hummed):
    T = axis(0.6, FAST)
    CYCLES = 0.02 + 0.1 * np.arange(6)

    def piezo(self, **more):
        return noisy(piezo(self.T, self.CYCLES, **more), 0.04)

    def test_piezo_injector(self):
        self.assert_never_faulty("injector-piezo", FAST, "current", self.piezo())
        bad = self.piezo()
        once = (self.CYCLES[2] + 0.0027 < self.T) & (self.CYCLES[2] + 0.0035 > self.T)
        bad[once] = noisy(np.zeros(int(once.sum())), 0.04, 7)
        for hum in (0.0, 0.4):
            found = self.found("injector-piezo", FAST, "current", bad, hum)
            self.assertEqual(codes(found, "fault"), ["charge_without_discharge"], hum)
            self.assertAlmostEqual(found.reading("charge_a").value, 8.0, delta=0.1)

    def secondary(self, odd=None):
        at = 0.02 + 0.035 * np.arange(16)
        lane = spark(self.T, at)
        if odd is not None:
            lane = spark(self.T, np.delete(at, np.arange(odd, 16, 4)))
            lane = np.maximum(lane, spark(self.T, at[odd::4], peak=19.0, burn_ms=0.7))
        sync = np.zeros(self.T.size)
        for s in at[::4]:
            sync[(s - 0.002 <= self.T) & (s + 0.002 > self.T)] = 5.0
        return noisy(lane, 0.02), noisy(sync, 0.02, 4)

    def test_secondary(self):
        told = {"firing_order": "1-3-4-2"}
        lane, sync = self.secondary()
        self.assert_never_faulty("secondary-voltage", FAST, "secondary", lane, told, {"sync": sync})
        lane, sync = self.secondary(odd=1)
        for hum in (0.0, 0.3):
            found = self.found("secondary-voltage", FAST, "secondary", lane, hum, told, sync=sync)
            with self.subTest(hum=hum):
                self.assertIn("high_firing", codes(found, "fault"))
                self.assertEqual({f.cylinder for f in found.findings if f.kind == "fault"}, {3})

    def primary(self, burn_ms=1.4):
        at = np.arange(0.02, 0.56, 0.075)
        lane = 14.0 + spark(self.T, at + 0.003, peak=306.0, burn=30.0, burn_ms=burn_ms)
        for s in at:
            lane[(s <= self.T) & (s + 0.003 > self.T)] = 0.6
        return noisy(lane, 0.2)

    def test_coils_primary_voltage(self):
        self.assert_never_faulty("coil-primary-voltage", FAST, "control", self.primary())
        for hum in (0.0, 1.0):
            found = self.found("coil-primary-voltage", FAST, "control", self.primary(burn_ms=0.0), hum)
            self.assertIn("no_burn", codes(found, "fault"), hum)

    def test_control_wire(self):
        clean = noisy(control_wire(self.T, 0.02 + 0.06 * np.arange(9)), 0.06, 5)
        self.assert_never_faulty("injector-voltage", FAST, "control", clean)

    def test_a_probe_that_is_off_picks_hum_up_and_is_off_all_the_same(self):
        for code, lane in (
            ("injector-voltage", "control"),
            ("coil-primary-voltage", "control"),
            ("igniter-bench", "output"),
        ):
            for volts in (0.02, 0.3):
                found = self.found(code, FAST, lane, noisy(np.zeros(self.T.size), 0.004), volts)
                with self.subTest(code=code, volts=volts):
                    self.assertEqual((codes(found, "fault"), found.call), ([], "inconclusive"))
                    self.assertIn("flat_line", codes(found))

    def test_module_on_the_bench(self):
        lanes = test_ignition.Bench().lanes()
        beside = {"trigger": lanes["trigger"]}
        self.assert_never_faulty("igniter-bench", test_ignition.Bench.SLOW, "output", lanes["output"], beside=beside)
        lanes = test_ignition.Bench().lanes(silent=(3, 7))
        for hum in (0.0, 0.7):
            found = self.found(
                "igniter-bench", test_ignition.Bench.SLOW, "output", lanes["output"], hum, trigger=lanes["trigger"]
            )
            self.assertEqual(codes(found, "fault"), ["misses", "misses"], hum)
            self.assertEqual(found.reading("misses_count").value, 2)


class Slow(Hummed):
    def pressure(self, rise_s):
        points = [(0, 1.3), (4, 1.3), (4 + rise_s, 4.4), (5, 4.4), (5.2, 0.6), (6.5, 0.6), (7, 1.3), (10, 1.3)]
        # The engine's own pulsation, four a turn and a wandering speed.
        t = np.arange(20_000) / 2000
        beats = 0.04 * np.sin(2 * np.pi * np.cumsum(27 + 0.8 * np.sin(2 * np.pi * 0.3 * t)) / 2000)
        return course(points, 2000, 0.008) + beats

    def test_manifold_pressure(self):
        self.assert_never_faulty("manifold-pressure", 2000, "signal", self.pressure(0.06))
        for hum in (0.0, 0.15, 0.3):
            found = self.found("manifold-pressure", 2000, "signal", self.pressure(0.4), hum)
            with self.subTest(hum=hum):
                self.assertEqual(codes(found, "fault"), ["slow_rise"])
                self.assertAlmostEqual(found.reading("rise_ms").value, 320.0, delta=25.0)

    def test_rail_pressure(self):
        self.assert_never_faulty("rail-pressure", 1000, "signal", rail())
        for hum in (0.0, 0.1, 0.2):
            found = self.found("rail-pressure", 1000, "signal", rail(hunting=0.2), hum)
            self.assertEqual(codes(found, "fault"), ["pressure_hunting"], hum)

    def test_a_wheel_by_hand(self):
        for volts in (0.5, 0.25):
            self.assert_never_faulty("wheel-speed", 20_000, "signal", spun(volts=volts), {"teeth": "48"})
        self.assert_never_faulty("wheel-speed", 20_000, "signal", spun(hall=True), {"teeth": "48"}, parts=PARTS[:4])
        for hum in (0.0, 0.02):
            found = self.found("wheel-speed", 20_000, "signal", spun(lost=(100, 101)), hum, {"teeth": "48"})
            self.assertEqual(codes(found, "fault"), ["dropout"], hum)


if __name__ == "__main__":
    unittest.main()
