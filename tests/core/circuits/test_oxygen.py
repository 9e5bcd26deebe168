"""Oxygen sensors on signals drawn by hand. Figures marked CP: common practice, no published source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course, states
from tracebench.core.circuits import measure
from tracebench.core.errors import BadCapture

RATE = 1000


def first_order(target, tau_s, rate=RATE):
    out = np.empty(target.size)
    value = target[0]
    for k, goal in enumerate(target):
        value += (goal - value) / (tau_s * rate + 1)
        out[k] = value
    return out


def switching(hertz=1.5, low=0.08, high=0.86, tau_s=0.03, duty=0.5, overrun=0.03, noise=0.006):
    """10 s of switching, 2 s rich, 2 s of overrun, 4 s of switching."""
    t = np.arange(18 * RATE) / RATE
    target = np.where((t * hertz) % 1.0 < duty, high, low)
    target = np.where((t >= 10) & (t < 12), high, target)
    target = np.where((t >= 12) & (t < 14), overrun, target)
    return first_order(target, tau_s) + np.random.default_rng(5).normal(0, noise, t.size)


def narrow(signal=None, **lanes):
    signal = switching() if signal is None else signal
    return measure(captured("oxygen-switching", RATE, signal=signal, **lanes), "oxygen-switching")


class Switching(unittest.TestCase):
    def test_readings_of_a_sound_sensor(self):
        found = narrow()
        self.assertEqual((found.call, codes(found, "fault")), ("sound", []))
        self.assertAlmostEqual(found.reading("crossings_hz").value, 1.5, delta=0.02)
        self.assertAlmostEqual(found.reading("max_v").value, 0.86, delta=0.02)
        self.assertAlmostEqual(found.reading("min_v").value, 0.08, delta=0.02)
        self.assertAlmostEqual(found.reading("snap_rich_v").value, 0.86, delta=0.01)
        self.assertAlmostEqual(found.reading("overrun_v").value, 0.03, delta=0.01)

    def test_a_short_hold_is_a_snap_where_the_throttle_says_so(self):
        t = np.arange(18 * RATE) / RATE
        signal = switching()
        signal = np.where((t >= 10.9) & (t < 12), 0.10 * (t < 11.2) + 0.02, signal)
        throttle = np.where((t >= 9.95) & (t < 10.9), 4.0, 0.7)
        found = narrow(signal, throttle=throttle)
        self.assertIn("snap", [p.name for p in found.phases])
        self.assertAlmostEqual(found.reading("snap_rich_v").value, 0.86, delta=0.02)
        self.assertNotIn("snap", [p.name for p in narrow(signal).phases])

    def test_time_from_0_3_to_0_6_v_of_a_first_order_rise(self):
        # From 0.08 towards 0.86 with tau: tau ln((0.86 - 0.3) / (0.86 - 0.6)).
        for tau_s in (0.03, 0.06):
            expected = 1000 * tau_s * np.log(0.56 / 0.26)
            found = narrow(switching(tau_s=tau_s, hertz=0.8)).reading("rise_ms")
            self.assertAlmostEqual(found.value, expected, delta=0.12 * expected + 2)

    def test_lazy_biased_contaminated_and_stuck(self):
        self.assertIn("lazy", narrow(switching(tau_s=0.2, hertz=0.5)).because)
        self.assertIn("biased_rich", narrow(switching(duty=0.8)).because)
        self.assertIn("biased_lean", narrow(switching(duty=0.2)).because)
        self.assertIn("contaminated_low_swing", narrow(switching(low=0.3, high=0.66)).because)
        stuck = course([(0, 0.78), (18, 0.78)], RATE, 0.005)
        self.assertIn("stuck", narrow(stuck).because)

    def test_no_drop_in_the_overrun(self):
        throttle = course([(0, 0.6), (9.9, 0.6), (10, 4.2), (11.9, 4.2), (12, 0.6), (18, 0.6)], RATE)
        self.assertIn("no_overrun_drop", narrow(switching(overrun=0.35), throttle=throttle).because)
        self.assertEqual(narrow(throttle=throttle).call, "sound")

    def test_a_sensor_that_is_still_cold_cannot_tell(self):
        cold = course([(0, 0.45), (12, 0.45)], RATE, 0.004)
        found = narrow(cold)
        self.assertEqual((found.call, found.because), ("inconclusive", ("missing_phase",)))
        self.assertIn("warm_up", [p.name for p in found.phases])

    def test_millivolts(self):
        self.assertIn("scale_suspect", codes(narrow(switching() * 1000)))
        self.assertNotIn("scale_suspect", codes(narrow(switching() * 1.1)))


def wide(response_s=0.2, overrun=2.4, level=0.0, noise=0.01):
    """Airflow jumps at 5 s; the current goes negative `response_s` later, lean in the overrun from 6.5 s."""
    airflow = course([(0, 1.0), (5, 1.0), (5.05, 3.0), (6.3, 3.0), (6.4, 1.0), (14, 1.0)], RATE, 0.005)
    lean = 5 + 0.6 * response_s
    points = [
        (0, level),
        (lean, level),
        (5 + 0.8 * response_s, level + 0.3),
        (5 + response_s, level),
        (5.02 + response_s, level - 0.6),
        (6.4, level - 0.6),
        (6.5, overrun),
        (8.0, overrun),
        (8.4, level),
        (14, level),
    ]
    return {"pump_current": course(points, RATE, noise), "airflow": airflow}


def wideband(lanes):
    return measure(captured("oxygen-wideband", RATE, **lanes), "oxygen-wideband")


class Wideband(unittest.TestCase):
    def test_response_of_common_practice(self):
        # About 200 ms is wanted: inside up to 220, marginal to 300 (271 is marginal), outside above (CP).
        for response_s, state in ((0.19, "inside"), (0.271, "marginal"), (0.35, "outside")):
            found = wideband(wide(response_s))
            self.assertAlmostEqual(found.reading("response_ms").value, 1000 * response_s, delta=25)
            self.assertEqual(states(found)["response_ms"], state)
        self.assertIn("slow_fuel_response", found.because)
        self.assertEqual(wideband(wide(0.271)).call, "sound")

    def test_window_overrun_and_recovery(self):
        found = wideband(wide())
        self.assertEqual(found.call, "sound")
        self.assertGreater(found.reading("in_window_pct").value, 95)
        self.assertAlmostEqual(found.reading("overrun_peak").value, 2.4, delta=0.03)
        self.assertAlmostEqual(found.reading("recovery_ms").value, 340, delta=60)

    def test_voltage_against_the_two_references(self):
        lanes = wide()
        volts = {"pump_voltage": 2.5 + 0.8 * lanes["pump_current"], "airflow": lanes["airflow"]}
        found = wideband(volts)
        self.assertEqual(found.call, "sound")
        self.assertAlmostEqual(found.reading("overrun_peak").value, 4.42, delta=0.03)

    def test_current_decides_where_it_was_recorded(self):
        lanes = wide()
        lanes["pump_voltage"] = course([(0, 2.5), (14, 2.5)], RATE, 0.01)
        self.assertEqual(wideband(lanes).reading("overrun_peak").unit, "mA")

    def test_stuck_biased_and_dead(self):
        still = wide()
        still["pump_current"] = course([(0, 0.01), (14, 0.01)], RATE, 0.004)
        self.assertIn("stuck_in_window", wideband(still).because)
        self.assertIn("biased_lean", wideband(wide(level=0.6)).because)
        self.assertIn("biased_rich", wideband(wide(level=-0.7)).because)
        dead = {"pump_voltage": course([(0, 0.4), (14, 0.4)], RATE, 0.004), "airflow": wide()["airflow"]}
        self.assertIn("heater_fault", wideband(dead).because)

    def test_one_pump_lane_is_needed(self):
        with self.assertRaisesRegex(BadCapture, "pump_current"):
            wideband({"airflow": wide()["airflow"]})

    def test_exchanged_references(self):
        lanes = wide() | {
            "reference_low": course([(0, 2.8), (14, 2.8)], RATE, 0.004),
            "reference_high": course([(0, 2.2), (14, 2.2)], RATE, 0.004),
        }
        self.assertIn("lanes_swapped", codes(wideband(lanes)))
