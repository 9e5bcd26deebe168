"""Each threshold held from both sides, by signals whose size is known by arithmetic. CP: common practice, no source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course
from tracebench.core.answer import Phase
from tracebench.core.circuits import measure
from tracebench.core.measure.levels import rest_of

RATE = 1000


def rail(swing_v):
    """A rail whose idle swings by `swing_v` from its 5th to its 95th percentile."""
    points = [(0, 0.5), (2, 0.5), (2.6, 1.2), (9, 1.2), (9.3, 3.0), (11, 3.0), (11.4, 1.2), (15, 1.2), (17.5, 0.5)]
    signal = course([*points, (20, 0.5)], RATE, 0.002)
    t = np.arange(signal.size) / RATE
    # A sine lies within sin(0.45 pi) of its amplitude for nine tenths of the time.
    swing = swing_v / (2 * np.sin(0.45 * np.pi)) * np.sin(2 * np.pi * 0.8 * t)
    return signal + swing * ((t > 3.5) & (t < 15))


def overcharge(duty_rise):
    rate = 5000
    t = np.arange(10 * rate) / rate
    rng = np.random.default_rng(3)
    on = (t > 5) & (t < 8)
    return captured(
        "charging",
        rate,
        sense=14.1 + 1.8 * on + rng.normal(0, 0.02, t.size),
        case_ground=0.02 + rng.normal(0, 0.002, t.size),
        command=40.0 + duty_rise * on + rng.normal(0, 0.2, t.size),
    )


def toothed(size=1.0, late=0.0):
    """36 teeth less one at 900 a minute; tooth 12 is `size` as high and comes `late` of a tooth too late."""
    rate, teeth = 50_000, 36
    count = round(6.4 * rate / 15)
    angle = np.arange(count) / rate * 15 * teeth
    signal = np.zeros(count)
    for k in range(int(angle[-1]) + 1):
        number = k % teeth
        if number == teeth - 1:
            continue
        here = size if number == 12 else 1.0
        middle = k + (late if number == 12 else 0.0)
        u = angle - middle
        signal -= 4.0 * here * u / 0.2 * np.exp(0.5 - 0.5 * (u / 0.2) ** 2) * (np.abs(u) < 1.2)
    return captured("crank-position", rate, signal=signal + np.random.default_rng(4).normal(0, 0.01, count))


class Findings(unittest.TestCase):
    def test_a_rail_hunts_from_150_mv(self):  # CP
        for swing, said in ((0.135, False), (0.165, True)):
            found = measure(captured("rail-pressure", RATE, signal=rail(swing)), "rail-pressure")
            self.assertEqual("pressure_hunting" in codes(found), said, swing)

    def test_a_command_that_rises_by_10_points_drives(self):  # from memory
        for rise, said in ((8.0, False), (12.0, True)):
            self.assertEqual("command_driven" in codes(measure(overcharge(rise), "charging")), said, rise)

    def test_a_tooth_is_damaged_under_55_percent_of_its_height(self):  # from memory
        for size, said in ((0.65, False), (0.45, True)):
            self.assertEqual("tooth_damaged" in codes(measure(toothed(size), "crank-position")), said, size)

    def test_a_tooth_is_damaged_from_12_percent_off_the_even_period(self):  # from memory
        # Of 8 periods about the long one 1 is as much shorter: (1 + late) / (1 - late / 8) is 1.114 and 1.126.
        for late, said in ((0.10, False), (0.11, True)):
            self.assertEqual("tooth_damaged" in codes(measure(toothed(late=late), "crank-position")), said, late)

    def test_the_tooth_out_of_its_place_is_the_one_named(self):
        for how in ({"late": 0.2}, {"late": -0.2}, {"size": 0.3}):
            found = measure(toothed(**how), "crank-position")
            text = next(f.text for f in found.findings if f.code == "tooth_damaged")
            self.assertTrue(text.startswith("tooth 13 after the gap"), f"{how}: {text}")


class Levels(unittest.TestCase):
    def test_a_tenth_at_either_end_of_a_phase_is_not_its_level(self):
        # A slow swing |sin| of two humps: its middle half holds all angles from 0 to 90 degrees, its outer quarters,
        # less a tenth at either end, those from 36 on. Half of them lie under 54 degrees; with nothing off, under 45.
        rate, seconds = 1000, 20
        t = np.arange(30 * rate) / rate - 5
        swing = 1.2 + 0.2 * np.abs(np.sin(2 * np.pi * t / seconds))
        signal = swing + np.random.default_rng(5).normal(0, 0.001, t.size)
        told = [Phase("idle", 5.0, 25.0)]
        found = measure(captured("manifold-pressure", rate, signal=signal), "manifold-pressure", told)
        self.assertAlmostEqual(found.reading("idle_v").value, 1.2 + 0.2 * np.sin(np.radians(54)), delta=0.003)

    def test_an_end_on_which_a_rest_still_moves_is_not_its_level(self):
        """A rest of a second between movements that set off and stop as a fifth power of time does (from memory)."""
        rate = 2000
        s = np.clip((np.arange(7 * rate) / rate - 1.0) / 4.0, 0, 1)
        moved = s**3 * (10 - 15 * s + 6 * s * s)
        rest = rest_of((0.6 + 3.5 * moved)[: round(1.9 * rate)])
        # 0.9 s of the movement are in it, at whose end it is 0.33 V up.
        self.assertLess(float(np.ptp(rest)), 0.004)
        self.assertGreater(rest.size, 0.3 * rate)
        hum = np.sin(2 * np.pi * 3.3 * np.arange(2 * rate) / rate)
        self.assertEqual(rest_of(hum).size, hum.size)

    def test_drift_that_white_noise_does_not_explain_counts_as_doubt(self):
        # A hum of 0.1 V of which each stretch holds two periods and a quarter: its mean is off by up to 0.007 V.
        rng = np.random.default_rng(6)
        rate, doubts, inside = 1000, [], 0
        for _ in range(40):
            t = np.arange(20 * rate) / rate
            hum = 0.1 * np.sin(2 * np.pi * (2.25 / 16 * t + rng.random()))
            signal = 1.3 + hum + rng.normal(0, 0.005, t.size)
            told = [Phase("idle", 0.0, 20.0)]
            reading = measure(captured("manifold-pressure", rate, signal=signal), "manifold-pressure", told).reading(
                "idle_v"
            )
            doubts.append(reading.uncertainty)
            inside += abs(reading.value - 1.3) <= 2 * reading.uncertainty
        self.assertGreaterEqual(inside, 36)
        self.assertGreater(min(doubts), 0.01)

    def test_a_level_inside_one_code_is_known_no_better_than_the_code(self):
        # JCGM 100, 4.3.7: rectangular, step / sqrt(12).
        step = 10.0 / 256
        points = [(0, 3.99), (4, 3.99), (4.3, 1.31), (14, 1.31), (14.2, 3.6), (15, 3.6), (15.3, 1.31), (24, 1.31)]
        signal = np.round(course(points, RATE) / step) * step
        found = measure(captured("manifold-pressure", RATE, signal=signal), "manifold-pressure")
        for reading, truth in (("key_on_v", 3.99), ("idle_v", 1.31)):
            with self.subTest(reading=reading):
                self.assertGreaterEqual(found.reading(reading).uncertainty, 0.99 * step / np.sqrt(12))
                self.assertLess(abs(found.reading(reading).value - truth), 2 * found.reading(reading).uncertainty)
