"""Mains hum through a record of pulses: found, taken off, and the readings are those of the record without it."""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tests.support.pulses import Coil, axis, coil_ramp, noisy
from tracebench.core.circuits import measure
from tracebench.core.measure.hum import hum_of


class Line(unittest.TestCase):
    def test_frequency_and_amplitude_beside_a_zero_that_wanders(self):
        t = axis(1.0, 20_000)
        for hertz, amplitude in ((50.0, 0.3), (60.0, 0.05), (49.3, 1.0)):
            lane = noisy(amplitude * np.sin(2 * np.pi * hertz * t + 0.7) + 0.4 * t - 0.1, 0.004)
            resting = (t % 0.08) > 0.01
            lane = np.where(resting, lane, lane + 5)
            found = hum_of(lane, 1 / 20_000, resting)
            self.assertAlmostEqual(found.hertz, hertz, delta=0.03)
            self.assertAlmostEqual(found.amplitude, amplitude, delta=0.005 * amplitude + 3e-4)
            left = (lane - found.wave - 0.4 * t + 0.1)[resting]
            self.assertLess(float(np.std(left)), 0.006 + 0.02 * amplitude)

    def test_no_line_no_hum(self):
        t = axis(1.0, 20_000)
        resting = np.ones(t.size, dtype=bool)
        for lane in (noisy(np.zeros(t.size), 0.01), noisy(0.5 * t**2, 0.01), noisy(np.sin(2 * np.pi * 8 * t), 0.01)):
            self.assertIsNone(hum_of(lane, 1 / 20_000, resting))
        self.assertIsNone(hum_of(np.zeros(100), 1 / 20_000, np.ones(100, dtype=bool)))

    def test_a_long_record_is_taken_in_parts(self):
        t = axis(30.0, 2_000)
        # A generator that speeds up by a hertz in half a minute.
        lane = 0.2 * np.sin(2 * np.pi * (49.5 + t / 60) * t)
        found = hum_of(noisy(lane, 0.002), 1 / 2_000, np.ones(t.size, dtype=bool))
        self.assertLess(float(np.std(lane - found.wave)), 0.05)


class Pulses(unittest.TestCase):
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
