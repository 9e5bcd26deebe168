"""Mains hum through a record of pulses: found, taken off, and the readings are those of the record without it."""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tests.support.pulses import Coil, axis, coil_ramp, noisy
from tracebench.core.circuits import measure
from tracebench.core.measure.hum import hum_of, hum_of_moving, hum_through


class Line(unittest.TestCase):
    def test_frequency_and_amplitude_beside_a_zero_that_wanders(self):
        t = axis(1.0, 20_000)
        for hertz, amplitude in ((50.0, 0.3), (60.0, 0.05), (49.3, 1.0)):
            lane = noisy(amplitude * np.sin(2 * np.pi * hertz * t + 0.7) + 0.4 * t - 0.1, 0.004)
            resting = (t % 0.08) > 0.01
            lane = np.where(resting, lane, lane + 5)
            found = hum_of(lane, 1 / 20_000)
            self.assertAlmostEqual(found.hertz, hertz, delta=0.03)
            self.assertAlmostEqual(found.amplitude, amplitude, delta=0.005 * amplitude + 3e-4)
            left = (lane - found.wave - 0.4 * t + 0.1)[resting]
            self.assertLess(float(np.std(left)), 0.006 + 0.02 * amplitude)

    def test_no_line_no_hum(self):
        t = axis(1.0, 20_000)
        for lane in (noisy(np.zeros(t.size), 0.01), noisy(0.5 * t**2, 0.01), noisy(np.sin(2 * np.pi * 8 * t), 0.01)):
            self.assertIsNone(hum_of(lane, 1 / 20_000))
        self.assertIsNone(hum_of(np.zeros(100), 1 / 20_000))

    def test_a_long_record_is_taken_in_parts(self):
        t = axis(30.0, 2_000)
        # A generator that speeds up by a hertz in half a minute.
        lane = 0.2 * np.sin(2 * np.pi * (49.5 + t / 60) * t)
        found = hum_of(noisy(lane, 0.002), 1 / 2_000)
        self.assertLess(float(np.std(lane - found.wave)), 0.05)

    def test_where_a_lane_rests_is_found(self):
        # Pulses of either sign over a fifth of the time, far larger than the hum.
        t = axis(0.7, 20_000)
        for hertz in (49.7, 60.0):
            wave = 0.2 * np.sin(2 * np.pi * hertz * t + 2)
            lane = noisy(1.5 + 9 * ((t % 0.041) < 0.004) - 20 * ((t % 0.083) > 0.079) + wave, 0.01)
            found = hum_of(lane, 1 / 20_000)
            self.assertAlmostEqual(found.hertz, hertz, delta=0.05)
            self.assertLess(float(np.std(found.wave - wave)), 0.002)

    def test_pulses_at_the_mains_own_rate_are_no_hum(self):
        t = axis(1.0, 20_000)
        self.assertIsNone(hum_of(noisy(5.0 * ((t % 0.02) < 0.002), 0.01), 1 / 20_000))

    def test_a_lane_that_moves_slowly(self):
        # Ramps, a quick rise and a rest, none of which is the line's.
        t = axis(8.0, 2000)
        course = np.interp(t, (0, 2, 3, 3.05, 4, 6, 8), (0.5, 0.5, 1.2, 4.4, 4.4, 0.8, 0.5))
        for hertz in (50.0, 59.9, 63.0):
            wave = 0.15 * np.sin(2 * np.pi * hertz * t + 1)
            found = hum_of_moving(noisy(course + wave, 0.01), 1 / 2000)
            self.assertAlmostEqual(found.hertz, hertz, delta=0.02)
            self.assertLess(float(np.std(found.wave - wave)), 0.002)
        self.assertIsNone(hum_of_moving(noisy(course, 0.01), 1 / 2000))
        self.assertIsNone(hum_of_moving(noisy(course[::100], 0.01), 1 / 20))

    def test_a_line_beside_teeth_that_slow_down(self):
        t = axis(8.0, 5000)
        # Teeth from 90 to 20 a second, their height with their rate; half of the time near the mains' own.
        rate = np.interp(t, (0, 0.5, 2, 6, 8), (0, 90, 52, 48, 20))
        teeth = rate / 90 * np.sin(2 * np.pi * np.cumsum(rate) / 5000)
        self.assertLess(hum_through(noisy(teeth, 0.01), 1 / 5000), 0.02)
        for hertz in (50.0, 60.5):
            lane = noisy(teeth + 0.1 * np.sin(2 * np.pi * hertz * t), 0.01)
            self.assertAlmostEqual(hum_through(lane, 1 / 5000), 0.1, delta=0.012)
        self.assertEqual(hum_through(teeth[:5000], 1 / 5000), 0.0)


class Pulses(unittest.TestCase):
    def test_a_range_that_ends_under_the_peaks_is_still_told(self):
        t = axis(0.6, 100_000)
        clean = Coil().amperes(t, np.arange(0.03, 0.57, 0.08))
        lane = noisy(clean + 0.05 * clean.max() * np.sin(2 * np.pi * 50 * t + 1), 0.003, 1, 0.001)
        for top, told in ((5.0, False), (0.7 * clean.max(), True)):
            found = measure(captured("injector-current", 100_000, current=np.minimum(lane, top)), "injector-current")
            self.assertEqual(codes(found), ["noisy", *(["clipped"] if told else [])])

    HUM = (0.0, 0.03, 0.08, 0.10, 0.15)

    def test_an_injectors_on_time_and_peak(self):
        t = axis(0.6, 100_000)
        made = Coil()
        clean = made.amperes(t, np.arange(0.03, 0.57, 0.08))
        for part in self.HUM:
            lane = noisy(clean + part * clean.max() * np.sin(2 * np.pi * 50 * t + 1), 0.003)
            found = measure(captured("injector-current", 100_000, current=lane), "injector-current")
            self.assertEqual(found.call, "sound", part)
            self.assertAlmostEqual(found.reading("on_ms").value, 3.0, delta=0.02)
            self.assertAlmostEqual(found.reading("peak_a").value, made.peak_a, delta=0.01)
            self.assertEqual("noisy" in codes(found), part > 0.015, part)

    def coils(self, part, hertz=60, **bad):
        t = axis(0.8, 200_000)
        at = np.arange(0.02, 0.77, 0.037)
        lane = sum(coil_ramp(t, [s], **(bad if k % 4 == 1 else {})) for k, s in enumerate(at))
        sync = np.zeros(t.size)
        for s in at[::4]:
            sync[(t >= s + 0.0026) & (t < s + 0.004)] = 5.0
        lane = noisy(lane + part * 7.5 * np.sin(2 * np.pi * hertz * t), 0.02)
        capture = captured("coil-primary-current", 200_000, current=lane, sync=noisy(sync, 0.02, 4))
        return measure(capture, "coil-primary-current", (), {"firing_order": "1-3-4-2"})

    def test_sound_coils_stay_sound(self):
        for part in self.HUM:
            found = self.coils(part)
            self.assertEqual(found.call, "sound", part)
            self.assertAlmostEqual(found.reading("peak_a").value, 7.5, delta=0.05)
            self.assertAlmostEqual(found.reading("dwell_ms").value, 3.0, delta=0.02)

    def test_a_weak_one_is_found_through_it(self):
        for part in (0.0, 0.08):
            found = self.coils(part, dwell_ms=1.8, peak=4.5)
            self.assertEqual(found.call, "faulty", part)
            self.assertIn(3, {f.cylinder for f in found.findings if f.kind == "fault"})


if __name__ == "__main__":
    unittest.main()
