"""Airflow sensors on signals drawn by hand. Figures marked CP: common practice, no published source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course, states
from tracebench.core.circuits import measure

RATE = 1000


def volts(key_on=0.40, idle=1.05, v_2500=1.7, v_4000=2.4, surge=2.9, dip=2.0, top=2.7, noise=0.006):
    points = [
        (0, key_on),
        (2, key_on),
        (2.1, 1.4),
        (2.9, 1.45),
        (3.1, idle),
        (7, idle),
        (7.6, v_2500),
        (10, v_2500),
        (10.6, v_4000),
        (13, v_4000),
        (13.5, idle),
        (16, idle),
        (16.06, surge),
        (16.14, dip),
        (16.7, top),
        (16.9, idle + 0.4),
        (18.2, idle),
        (21, idle),
    ]
    return course(points, RATE, noise)


def throttle():
    return course([(0, 0.6), (15.98, 0.6), (16.05, 4.2), (16.7, 4.2), (16.8, 0.6), (21, 0.6)], RATE, 0.004)


def answer(signal=None, options=None, **lanes):
    signal = volts() if signal is None else signal
    return measure(captured("airflow-voltage", RATE, signal=signal, **lanes), "airflow-voltage", options=options)


class Voltage(unittest.TestCase):
    def test_levels_in_their_phases(self):
        found = answer(throttle=throttle())
        self.assertEqual((found.call, codes(found, "fault")), ("sound", []))
        for reading, value in (("key_on_v", 0.40), ("idle_v", 1.05), ("v_2500", 1.7), ("v_4000", 2.4)):
            self.assertAlmostEqual(found.reading(reading).value, value, delta=0.01, msg=reading)
        self.assertAlmostEqual(found.reading("snap_dip_v").value, 2.0, delta=0.1)
        self.assertAlmostEqual(found.reading("surge_ms").value, 45, delta=15)

    def test_type_limits_of_common_practice(self):
        found = answer(options={"type": "A"})
        self.assertEqual({states(found)[r] for r in ("key_on_v", "idle_v", "v_2500", "v_4000")}, {"inside"})
        self.assertEqual(states(answer(volts(key_on=0.6), {"type": "B"}))["key_on_v"], "inside")
        self.assertEqual(states(answer(volts(key_on=0.6), {"type": "A"}))["key_on_v"], "outside")

    def test_contaminated_is_low_under_load_with_a_good_idle(self):
        found = answer(volts(v_2500=1.3, v_4000=1.6, surge=1.9, dip=1.5, top=1.8))
        self.assertIn("low_under_load", found.because)
        self.assertEqual(states(found)["idle_v"], "inside")

    def test_key_on_high_missing_surge_and_dropout(self):
        self.assertIn("key_on_high", answer(volts(key_on=0.85)).because)
        self.assertIn("missing_surge", answer(volts(surge=1.6, dip=1.9, top=2.7)).because)
        signal = volts()
        signal[5000:5030] = 0.05
        self.assertIn("dropout", answer(signal).because)

    def test_no_signal_where_the_supply_proves_it(self):
        dead = course([(0, 0.01), (21, 0.01)], RATE, 0.002)
        feed = course([(0, 13.9), (21, 13.9)], RATE, 0.02)
        self.assertEqual(answer(dead, supply=feed).because, ("no_signal",))
        self.assertIn("flat_line", answer(dead).because)

    def test_supply_and_ground_come_before_the_sensor(self):
        low = course([(0, 9.8), (21, 9.8)], RATE, 0.02)
        high = course([(0, 0.35), (21, 0.35)], RATE, 0.002)
        self.assertLessEqual({"supply_low", "ground_high"}, set(answer(supply=low, ground=high).because))
        exchanged = answer(supply=high, ground=low + 3)
        self.assertIn("lanes_swapped", codes(exchanged))

    def test_idle_without_load_cannot_tell(self):
        self.assertEqual(answer(volts()[3200:6900]).call, "inconclusive")
        self.assertEqual(answer(volts()[3200:9800]).call, "sound")


def pulses(rate=200_000, idle=2000.0, peak=5000.0, high=5.0, low=0.1, lost=(), noise=0.02):
    """Idle, a snap at 4 s, idle; `lost` pulses by number."""
    hertz = course(
        [(0, idle), (4, idle), (4.1, peak), (4.6, 0.8 * peak), (5.2, 1.2 * idle), (6, idle), (8, idle)], rate
    )
    cycles = np.cumsum(hertz) / rate
    signal = np.where(cycles % 1.0 < 0.5, high, low)
    for n in lost:
        signal = np.where(np.floor(cycles) == n, low, signal)
    return signal + np.random.default_rng(3).normal(0, noise, signal.size)


def by_frequency(signal, rate=200_000):
    return measure(captured("airflow-frequency", rate, signal=signal), "airflow-frequency")


class Frequency(unittest.TestCase):
    def test_levels_frequency_and_duty(self):
        found = by_frequency(pulses())
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("idle_hz").value, 2000, delta=4)
        self.assertAlmostEqual(found.reading("peak_hz").value, 5000, delta=100)
        self.assertAlmostEqual(found.reading("duty_pct").value, 50, delta=1)
        self.assertAlmostEqual(found.reading("high_v").value, 5.0, delta=0.01)

    def test_missing_pulses_are_counted_where_they_are(self):
        found = by_frequency(pulses(lost=(3000, 3001, 7000)))
        self.assertEqual(found.reading("missing_pulses_count").value, 3)
        first = next(f for f in found.findings if f.code == "missing_pulses")
        self.assertAlmostEqual(first.from_s, 1.5, delta=0.002)

    def test_low_swing_and_low_under_load(self):
        self.assertIn("low_swing", by_frequency(pulses(high=3.8)).because)
        self.assertIn("low_under_load", by_frequency(pulses(peak=2700)).because)

    def test_too_few_samples_a_pulse(self):
        self.assertIn("undersampled", codes(by_frequency(pulses(rate=30_000), 30_000)))
        self.assertNotIn("undersampled", codes(by_frequency(pulses(rate=60_000), 60_000)))

    def test_filtered_edges_without_noise(self):
        smooth = np.convolve(pulses(noise=0.0), np.ones(90) / 90, mode="same")
        self.assertIn("over_filtered", codes(by_frequency(smooth)))
        self.assertNotIn("over_filtered", codes(by_frequency(pulses(noise=0.0))))

    def test_a_level_without_pulses(self):
        self.assertEqual(by_frequency(np.full(200_000, 5.0)).because, ("no_signal",))
        self.assertIn("flat_line", by_frequency(np.full(200_000, 0.02)).because)
