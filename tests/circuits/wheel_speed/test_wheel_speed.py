"""A wheel without a gap, spun by hand: courses of its speed and teeth drawn here, not by the trainer's formula."""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tracebench.core.circuits import measure

CODE = "wheel-speed"
RATE = 20_000


def spun(teeth=48, volts=0.5, top=1.6, seconds=8.0, noise=0.004, small=(), gone=(), lost=(), runout=0.0, hall=False):
    """Volts of a wheel pulled up to `top` turns a second in a second, slowing evenly to a third of it at the end.

    `volts` peak to peak at a turn a second. `small` teeth are a fifth as high, `gone` ones missing, in each turn;
    `lost` ones, counted from the first of all, are missing once.
    """
    t = np.arange(round(seconds * RATE)) / RATE
    speed = np.interp(t, (0.0, 0.5, 1.5, seconds - 0.8, seconds - 0.3, seconds), (0, 0, top, top / 3, 0, 0))
    turns = np.cumsum(speed) / RATE
    number = np.floor(turns * teeth).astype(int)
    within = turns * teeth - number
    # A rounded triangle: up, down through zero in the middle of the tooth, and up again.
    wave = np.interp(within, (0, 0.2, 0.3, 0.7, 0.8, 1), (0, 0.9, 0.9, -0.9, -0.9, 0)) / 0.9
    place = number % teeth
    height = np.where(np.isin(place, small), 0.2, 1.0) * ~np.isin(place, gone) * ~np.isin(number, lost)
    height = height * (1 + runout * np.cos(2 * np.pi * turns))
    signal = 0.5 * volts * speed * wave * height
    if hall:
        signal = np.where((within < 0.5) & (height > 0.5), 0.4, 4.6)
    return signal + np.random.default_rng(5).normal(0, noise, t.size)


def answer(options=None, **kw):
    return measure(captured(CODE, RATE, signal=spun(**kw)), CODE, options=options)


def even(period_s, teeth=120, rate=2000):
    """So many teeth at one pace, as sines, with a second of rest before and two after."""
    t = np.arange(round((teeth * period_s + 3) * rate)) / rate
    turns = (t > 1.0) & (t < 1.0 + teeth * period_s)
    wave = np.where(turns, np.sin(2 * np.pi * (t - 1.0) / period_s), 0.0)
    return captured(CODE, rate, signal=0.5 * wave + np.random.default_rng(5).normal(0, 0.004, t.size))


class WheelSpeed(unittest.TestCase):
    def test_a_wheel_turns_from_ten_teeth_a_second(self):  # from memory
        for period, turns in ((0.09, True), (0.11, False)):
            names = [p.name for p in measure(even(period), CODE).phases]
            self.assertEqual("turning" in names, turns, period)

    def test_a_sound_wheel_with_its_teeth_told_and_untold(self):
        # From 1.6 turns a second evenly down to 0.533 over 5.7 s after a second of pulling: 6.9 turns of 48 teeth.
        turning = 1.6 * 1.0 / 2 + (1.6 + 1.6 / 3) / 2 * 5.7 + 1.6 / 3 * 0.5 / 2
        for options in ({"teeth": "48"}, {}):
            found = answer(options)
            self.assertEqual((found.call, codes(found, "fault")), ("sound", []), found.because)
            self.assertAlmostEqual(found.reading("teeth_count").value, 48 * turning, delta=4)
            phase = next(p for p in found.phases if p.name == "turning")
            self.assertLess(phase.from_s, 0.75)
            self.assertGreater(phase.to_s, 7.3)
            self.assertAlmostEqual(found.reading("tooth_hz").value, 48 * turning / (phase.to_s - phase.from_s), delta=1)
            self.assertEqual(found.reading("rpm") is None, not options)
            # 0.5 V at a turn a second, over the middle speeds of the record.
            self.assertAlmostEqual(found.reading("amplitude_v").value, 0.5 * 1.05, delta=0.1)
        self.assertIn("teeth", next(m.why for m in answer().missing if m.reading == "rpm"))

    def test_two_levels(self):
        found = answer({"teeth": "48"}, hall=True)
        self.assertEqual(found.call, "sound", found.because)
        self.assertAlmostEqual(found.reading("level_low_v").value, 0.4, delta=0.01)
        self.assertAlmostEqual(found.reading("level_high_v").value, 4.6, delta=0.01)

    def test_a_damaged_tooth_shows_in_every_turn_and_is_one(self):
        for damage in ({"small": (17,)}, {"gone": (17,)}):
            found = answer({"teeth": "48"}, **damage)
            faults = [f for f in found.findings if f.kind == "fault"]
            self.assertEqual([f.code for f in faults], ["tooth_damaged"], (damage, [f.text for f in found.findings]))
            self.assertIn(len(faults[0].shows_in), (6, 7))

    def test_a_tooth_that_is_gone_tells_how_many_there_are(self):
        found = answer({}, gone=(17,))
        self.assertEqual(codes(found, "fault"), ["tooth_damaged"])
        self.assertAlmostEqual(found.reading("rpm").value, 60 * found.reading("tooth_hz").value / 48, delta=0.01)

    def test_teeth_lost_once_are_a_connection(self):
        found = answer({"teeth": "48"}, lost=(100, 101))
        self.assertEqual(codes(found, "fault"), ["dropout"])
        self.assertEqual(found.findings[0].value, 2)

    def test_weak_and_running_out(self):
        self.assertEqual(codes(answer({"teeth": "48"}, volts=0.06, noise=0.0005), "fault"), ["weak_amplitude"])
        self.assertEqual(codes(answer({"teeth": "48"}, runout=0.35), "fault"), ["runout"])

    def test_what_does_not_turn_tells_nothing(self):
        still = measure(captured(CODE, RATE, signal=np.random.default_rng(1).normal(0, 0.004, 40_000)), CODE)
        self.assertEqual((still.call, codes(still, "fault")), ("inconclusive", []))
        # A single tooth in the clear: nothing is noisy, the wheel was not turned.
        one = spun(top=0.03, seconds=3.0, volts=30.0)
        hardly = measure(captured(CODE, RATE, signal=one), CODE)
        self.assertEqual(codes(hardly, "set-up"), ["missing_phase"])
        quick = answer({"teeth": "48"}, seconds=2.0)
        self.assertEqual(codes(quick, "fault"), [])
