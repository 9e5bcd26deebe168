"""Injectors, coils and sparks of the trainer against closed forms and published constants."""

import unittest

import numpy as np

from tracebench.bench.parts.ignition import PASCHEN_A, PASCHEN_B, SECOND_EMISSION, Coil, breakdown_v, spark_of
from tracebench.bench.parts.injectors import (
    CHARGE_V,
    HALF_S,
    STACK_F,
    STEP_S,
    Winding,
    half_wave,
    laid,
    pulse_of,
)
from tracebench.bench.source import Order
from tracebench.bench.sources import SOURCES
from tracebench.bench.vehicle.firing import ORDERS, firings


class Windings(unittest.TestCase):
    def test_r_l_step_response(self):
        # i(t) = U/R (1 - exp(-t R/L)); a needle that never lifts leaves it alone.
        w = Winding(lift_a=99.0)
        made = pulse_of(w, 14.0, 4e-3)
        loop = w.ohm + w.driver_ohm
        t = np.arange(round(4e-3 / STEP_S)) * STEP_S
        expected = 14.0 / loop * (1 - np.exp(-t * loop / w.henry))
        np.testing.assert_allclose(made.amperes[: t.size], expected, atol=0.004)
        # 63.2 % after one time constant, L/R.
        at = round(w.henry / loop / STEP_S)
        self.assertAlmostEqual(made.amperes[at] / (14.0 / loop), 1 - np.exp(-1), delta=0.003)

    def test_volts_over_ohms(self):
        self.assertAlmostEqual(pulse_of(Winding(ohm=15.75, lift_a=99), 14.0, 8e-3).amperes.max(), 14 / 16, delta=0.002)

    def test_the_needle_takes_from_the_current_while_it_moves_and_not_after(self):
        free, stuck = pulse_of(Winding(), 14.0, 5e-3), pulse_of(Winding(lift_a=99), 14.0, 5e-3)
        lost = stuck.amperes - free.amperes
        self.assertGreater(lost.max(), 0.03)
        self.assertLess(lost[: round(0.5e-3 / STEP_S)].max(), 1e-9)
        self.assertLess(lost[round(4.9e-3 / STEP_S)], 0.1 * lost.max())

    def test_on_release_the_wire_is_clamped_until_the_current_is_gone(self):
        w = Winding()
        made = pulse_of(w, 14.0, 3e-3)
        on = round(3e-3 / STEP_S)
        gone = on + int(np.argmax(made.amperes[on:] <= 0))
        self.assertTrue(np.all(made.volts[on:gone] == w.clamp_v))
        # L di/dt = -(clamp - supply): linear, so that t = L i / U within a few hundredths for so small an R i.
        took = (gone - on) * STEP_S
        mean_i = made.amperes[on - 1] / 2
        self.assertAlmostEqual(
            took, w.henry * made.amperes[on - 1] / (w.clamp_v - 14.0 + w.ohm * mean_i), delta=0.04 * took
        )
        self.assertAlmostEqual(made.volts[-1], 14.0, delta=0.05)

    def test_courses_add_up_on_the_lane(self):
        times = np.arange(50_000) / 100_000
        course = np.concatenate([np.ones(1000), [0.0]])
        lane = laid(times, [0.1, 0.1], [course, course], 0.0)
        self.assertEqual(lane.max(), 2.0)
        self.assertAlmostEqual(lane.sum() / 100_000, 2 * 1000 * STEP_S, delta=1e-4)


class Piezo(unittest.TestCase):
    def test_half_wave_of_a_series_r_l_c(self):
        # Closed form: frequency 1/(2 pi) sqrt(1/LC - (R/2L)^2), amplitude U / (w L), charge U C moved in half a period.
        wave = half_wave(STACK_F, CHARGE_V)
        self.assertAlmostEqual(wave.size * STEP_S, HALF_S, delta=0.03 * HALF_S)
        henry = (HALF_S / np.pi) ** 2 / STACK_F
        self.assertAlmostEqual(wave.max(), CHARGE_V / (np.sqrt(1 / (henry * STACK_F)) * henry), delta=0.12 * wave.max())
        charge = wave.sum() * STEP_S
        decrement = np.exp(-2.0 / (2 * henry) * HALF_S)
        self.assertAlmostEqual(charge, CHARGE_V * STACK_F * (1 + decrement), delta=0.03 * charge)

    def test_half_the_stack_takes_less_current(self):
        self.assertLess(half_wave(STACK_F / 2, CHARGE_V).max(), 0.75 * half_wave(STACK_F, CHARGE_V).max())


class Paschen(unittest.TestCase):
    def test_minimum_of_air(self):
        # Minimum at pd = e / A ln(1 + 1/gamma), V = e B / A ln(1 + 1/gamma); for air near 0.75 Pa m and 300 to 350 V
        # (constants of air: A = 15 /(cm Torr), B = 365 V/(cm Torr), as tabled by von Engel).
        grid = np.geomspace(0.5, 10, 4000)
        curve = np.array([breakdown_v(1.0, p) for p in grid])
        closed = np.e / PASCHEN_A * np.log(1 + 1 / SECOND_EMISSION)
        self.assertAlmostEqual(grid[int(np.argmin(curve))], closed, delta=0.01)
        self.assertAlmostEqual(curve.min(), np.e * PASCHEN_B / PASCHEN_A * np.log(1 + 1 / SECOND_EMISSION), delta=0.1)
        self.assertTrue(270 < curve.min() < 360)

    def test_a_millimetre_at_one_atmosphere_is_some_4_kv(self):
        # Tabled breakdown of 1 mm of air at 101.3 kPa: 4.4 to 4.6 kV; these constants overshoot there by a tenth.
        self.assertAlmostEqual(breakdown_v(101_325, 1e-3) / 1000, 4.5, delta=0.9)

    def test_left_of_the_pole_there_is_none(self):
        with self.assertRaises(ValueError):
            breakdown_v(1.0, 0.1)

    def test_it_grows_with_gap_and_pressure(self):
        rng = np.random.default_rng(1)
        tops = [
            spark_of(Coil(gap_m=gap), 14.0, kpa, rng).secondary_kv.max()
            for gap, kpa in ((0.8e-3, 35), (1.2e-3, 35), (1.2e-3, 60))
        ]
        self.assertEqual(tops, sorted(tops))


class Sparks(unittest.TestCase):
    def test_the_arc_burns_what_the_coil_holds(self):
        # 1/2 L i^2 times the part that reaches the secondary is what the arc (1/2 I V t) and the gap's charge take.
        coil = Coil(hash=0.0)
        made = spark_of(coil, 14.0, 35.0, np.random.default_rng(1))
        peak = made.ramp_a[-1]
        held = coil.held * 0.5 * coil.henry * peak**2
        lit = made.secondary_kv[round(60e-6 / STEP_S) :]
        burning = int(np.argmax(lit < 0.8 * lit[0])) * STEP_S + 60e-6
        level = float(np.median(lit[: int(burning / STEP_S * 0.8)])) * 1000
        spent = 0.5 * peak / coil.ratio * level * burning + 0.5 * 70e-12 * (made.secondary_kv.max() * 1000) ** 2
        self.assertAlmostEqual(spent, held, delta=0.06 * held)

    def test_less_energy_burns_shorter_and_none_does_not_burn(self):
        rng = np.random.default_rng(1)
        lasts = []
        for held in (0.62, 0.31):
            lane = spark_of(Coil(held=held, hash=0.0), 14.0, 35.0, rng).secondary_kv
            lasts.append(int(np.argmax(lane[40:] < 0.5)))
        self.assertAlmostEqual(lasts[1] / lasts[0], 0.5, delta=0.06)
        open_kv = spark_of(Coil(open_secondary=True), 14.0, 35.0, rng).secondary_kv
        self.assertLess(open_kv[round(0.3e-3 / STEP_S) :].min(), -1.0)

    def test_primary_ramp_is_an_r_l_step(self):
        coil = Coil(ripple_a=0.0)
        ramp = spark_of(coil, 14.0, 35.0, np.random.default_rng(1)).ramp_a
        t = coil.dwell_s - STEP_S
        expected = (14.0 - coil.driver_v) / coil.ohm * (1 - np.exp(-t * coil.ohm / coil.henry))
        self.assertAlmostEqual(ramp[-1], expected, places=6)


class Firings(unittest.TestCase):
    def test_four_stroke_event_rate(self):
        # 3,000 turns a minute, four cylinders: two firings a turn, 100 a second.
        turns = 50 * np.arange(0, 3000) * 0.001
        for count, order in ORDERS.items():
            found = firings(turns, order, 0.5, 2.5, 0.1)
            self.assertAlmostEqual(len(found), 2.0 * 25 * count, delta=1)
            steps = np.diff([f.at_s for f in found])
            np.testing.assert_allclose(steps, 1 / (25 * count), rtol=1e-6)
            names = [f.cylinder for f in found]
            start = names.index(1)
            self.assertEqual(tuple(names[start : start + count]), order)

    def test_a_crank_that_stands_still_fires_nothing(self):
        self.assertEqual(firings(np.zeros(1000), (1, 3, 4, 2), 0.0, 0.9, 0.1), [])

    def test_more_load_needs_more_voltage_in_one_run(self):
        rng = np.random.default_rng(9)
        order = Order(np.arange(2 * 200_000) / 200_000, manoeuvre="burst", rng=rng)
        lanes = SOURCES["secondary-voltage"].lanes(order)
        tops = -lanes["secondary"].reshape(-1, 20_000).min(axis=1)
        self.assertGreater(tops.max(), 1.8 * np.median(tops[:6]))


if __name__ == "__main__":
    unittest.main()
