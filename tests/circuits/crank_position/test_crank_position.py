"""Crank and cam on wheels drawn by hand: cosine-flanked teeth, not the trainer's formula."""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tracebench.core.answer import Limit
from tracebench.core.circuits import measure

CODE = "crank-position"


def wheel(rpm=900.0, teeth=60, missing=2, rate=100_000, turns=8.3, amplitude=4.0, noise=0.02, drop=None, lost=(), **kw):
    """Peak-to-peak `amplitude`; each tooth one period, none in the gap. `drop` is a tooth that is small each turn."""
    count = round(turns * 60 / rpm * rate)
    angle = np.arange(count) / rate * rpm / 60
    place = angle * teeth % teeth
    tooth = np.floor(place).astype(int)
    within = place - tooth
    wave = np.where(within < 0.5, 1 - np.cos(4 * np.pi * within), -(1 - np.cos(4 * np.pi * (within - 0.5)))) / 2
    wave = np.where(tooth < teeth - missing, wave, 0.0)
    if drop is not None:
        wave = np.where(tooth == drop, 0.2 * wave, wave)
    for number in lost:
        wave = np.where(np.floor(angle * teeth) == number, 0.0, wave)
    if kw.get("runout"):
        wave = wave * (1 + kw["runout"] * np.sin(2 * np.pi * angle))
    signal = amplitude / 2 * wave + np.random.default_rng(8).normal(0, noise, count)
    cam = np.where((angle / 2 - kw.get("cam_deg", 150) / 720) % 1.0 < 0.5, 5.0, 0.1)
    return {"signal": signal, "cam": cam}


def answer(rate=100_000, limits=(), cam=True, **kw):
    lanes = wheel(rate=rate, **kw)
    if not cam:
        lanes.pop("cam")
    return measure(captured(CODE, rate, **lanes), CODE, limits=limits)


class Sound(unittest.TestCase):
    def test_wheel_speed_and_amplitude(self):
        for teeth, missing in ((60, 2), (36, 1), (36, 2)):
            found = answer(teeth=teeth, missing=missing)
            self.assertEqual((found.call, codes(found)), ("sound", []), (teeth, missing))
            self.assertEqual(found.reading("teeth_per_rev").value, teeth)
            self.assertEqual(found.reading("gap_teeth").value, missing)
            self.assertAlmostEqual(found.reading("rpm").value, 900, delta=1)
            self.assertAlmostEqual(found.reading("amplitude_v").value, 4.0, delta=0.1)

    def test_from_cranking_to_4000(self):
        for rpm, rate in ((200, 20_000), (4000, 500_000), (4000, 5_000_000)):
            found = answer(rpm=rpm, rate=rate, turns=4.3)
            self.assertAlmostEqual(found.reading("rpm").value, rpm, delta=0.003 * rpm)
            self.assertEqual(codes(found, "fault"), [], rpm)

    def test_cam_edge_in_crank_degrees_after_the_gap(self):
        # The first tooth's crossing lies half a tooth, 3 degrees, behind the wheel's zero.
        for degrees in (60.0, 150.0, 300.0):
            found = answer(cam_deg=degrees)
            self.assertAlmostEqual(found.reading("cam_phase_deg").value, degrees - 3.0, delta=0.5)

    def test_an_inductive_sensor_gives_half_a_volt_at_a_thousand(self):  # from memory
        for volts, weak in ((0.44, True), (0.58, False)):
            self.assertEqual("weak_amplitude" in codes(answer(rpm=1000, amplitude=volts, noise=0.002)), weak, volts)

    def test_hall_levels(self):
        lanes = wheel(noise=0.0)
        lanes["signal"] = np.where(lanes["signal"] > 0.1, 0.2, 4.9)
        found = measure(captured(CODE, 100_000, **lanes), CODE)
        self.assertEqual(found.call, "sound")
        self.assertAlmostEqual(found.reading("level_low_v").value, 0.2, delta=0.01)
        self.assertAlmostEqual(found.reading("level_high_v").value, 4.9, delta=0.01)
        self.assertEqual(found.reading("teeth_per_rev").value, 60)


class Faults(unittest.TestCase):
    def test_a_damaged_tooth_is_at_one_place_each_turn(self):
        found = answer(drop=21)
        self.assertIn("tooth_damaged", found.because)
        self.assertNotIn("dropout", found.because)
        self.assertEqual(found.reading("teeth_per_rev").value, 60)

    def test_a_tooth_lost_once_is_a_dropout(self):
        found = answer(lost=(140, 141, 142))
        self.assertEqual(found.because, ("dropout",))
        at = next(f for f in found.findings if f.code == "dropout")
        self.assertAlmostEqual(at.from_s, 140 / 900, delta=0.005)

    def test_runout_and_weak_amplitude(self):
        self.assertIn("runout", answer(runout=0.4).because)
        self.assertNotIn("runout", answer(runout=0.08).because)
        self.assertIn("weak_amplitude", answer(amplitude=0.3, noise=0.004).because)

    def test_a_weak_one_is_weak_in_noise_nearly_as_large(self):
        for teeth, missing in ((60, 2), (36, 1)):
            found = answer(50_000, teeth=teeth, missing=missing, amplitude=0.30, noise=0.11, turns=15.3)
            self.assertIn("weak_amplitude", found.because, teeth)
            self.assertAlmostEqual(found.reading("rpm").value, 900, delta=10)
            self.assertEqual(found.reading("teeth_per_rev").value, teeth)

    def test_a_sound_one_is_not_weak_however_it_is_drowned(self):
        for rate in (20_000, 50_000):
            for noise in (0.2, 0.3, 0.4, 0.5, 0.8):
                found = answer(rate, amplitude=1.0, noise=noise, turns=15.3)
                self.assertEqual((found.call, "noisy" in found.because), ("inconclusive", True), (rate, noise))

    def test_cam_phase_against_the_engines_own_figure(self):
        limits = [Limit("cam_phase_deg", 143.0, 151.0, "maker")]
        self.assertEqual(answer(limits=limits).call, "sound")
        self.assertIn("cam_phase_shift", answer(limits=limits, cam_deg=168).because)


class SetUp(unittest.TestCase):
    def test_either_sense_is_read_and_only_a_told_one_can_be_reversed(self):
        lanes = wheel()
        lanes["signal"] = -lanes["signal"]
        for sense, said in (("either", []), ("rising", []), ("falling", ["reversed_polarity"])):
            found = measure(captured(CODE, 100_000, **lanes), CODE, options={"sense": sense})
            self.assertEqual(codes(found), said, sense)
        self.assertEqual(codes(measure(captured(CODE, 100_000, **wheel()), CODE, options={"sense": "falling"})), [])
        self.assertEqual(found.reading("teeth_per_rev").value, 60)
        self.assertAlmostEqual(found.reading("cam_phase_deg").value, 147.0, delta=0.5)

    def test_too_short_undersampled_and_flat(self):
        self.assertIn("too_short", codes(answer(turns=0.5)))
        self.assertIn("undersampled", codes(answer(rate=5000)))
        self.assertNotIn("undersampled", codes(answer(rate=10_000)))
        flat = {"signal": np.random.default_rng(1).normal(0, 0.004, 50_000)}
        self.assertIn("flat_line", measure(captured(CODE, 100_000, **flat), CODE).because)

    def test_exchanged_lanes(self):
        lanes = wheel()
        lanes["signal"], lanes["cam"] = lanes["cam"], lanes["signal"]
        found = measure(captured(CODE, 100_000, **lanes), CODE)
        self.assertIn("lanes_swapped", codes(found))
        self.assertEqual(found.reading("teeth_per_rev").value, 60)

    def test_clipped_crests(self):
        lanes = wheel(noise=0.05)
        step = 10 / 4096
        lanes["signal"] = np.round(np.clip(lanes["signal"], -1.0, 1.0) / step) * step
        self.assertIn("clipped", codes(measure(captured(CODE, 100_000, **lanes), CODE)))
