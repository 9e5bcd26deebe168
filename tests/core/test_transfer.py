"""Volts to pressure and temperature: against published tables and worked examples, and back again."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tracebench.core.transfer import (
    INTAKE,
    INTAKE_DIVIDER,
    PRESSURE,
    Divider,
    SteinhartHart,
    beta_thermistor,
    standard_pressure_kpa,
    through,
)

ISO_2533_KPA = {0: 101.325, 500: 95.4613, 1000: 89.8746, 2000: 79.4952, 3000: 70.1085, 5000: 54.0199, 11_000: 22.6321}
"""Pressure of the standard atmosphere by geopotential altitude in m. Source: ISO 2533:1975, troposphere."""


class Pressure(unittest.TestCase):
    def test_table_of_the_standard_atmosphere(self):
        for altitude_m, kpa in ISO_2533_KPA.items():
            self.assertAlmostEqual(standard_pressure_kpa(altitude_m), kpa, delta=2e-4 * kpa)

    def test_the_line_goes_through_both_points(self):
        self.assertAlmostEqual(PRESSURE.of(0.5), 20.0)
        self.assertAlmostEqual(PRESSURE.of(4.7), 105.0)

    @given(st.floats(0.1, 2), st.floats(0, 50), st.floats(2.1, 5), st.floats(60, 400), st.floats(0, 5))
    def test_there_and_back(self, low_v, low, high_v, high, volts):
        line = through("kPa", low_v, low, high_v, high)
        self.assertAlmostEqual(line.volts(line.of(volts)), volts, places=6)


class Temperature(unittest.TestCase):
    def test_two_volts_at_20_degrees(self):
        # Common practice, no published source.
        volts = INTAKE_DIVIDER.volts(INTAKE.ohm(20.0))
        self.assertAlmostEqual(volts, 2.0, delta=0.02)

    def test_beta_equation_by_hand(self):
        # R = 10 kohm exp(3950 K (1/273.15 K - 1/298.15 K)) = 33.62 kohm
        part = beta_thermistor(10_000.0, 3950.0)
        self.assertAlmostEqual(part.ohm(0.0), 10_000 * math.exp(3950 * (1 / 273.15 - 1 / 298.15)), places=3)
        self.assertAlmostEqual(part.ohm(25.0), 10_000.0, places=6)

    def test_three_points_give_the_coefficients_back(self):
        # The usual three-point solution for a, b and c, worked here for 25 kohm, 10 kohm and 4 kohm at 5, 25 and 45 C.
        points = ((25_000.0, 5.0), (10_000.0, 25.0), (4000.0, 45.0))
        logs = [math.log(ohm) for ohm, _ in points]
        inverse = [1 / (celsius + 273.15) for _, celsius in points]
        slope_2 = (inverse[1] - inverse[0]) / (logs[1] - logs[0])
        slope_3 = (inverse[2] - inverse[0]) / (logs[2] - logs[0])
        c = (slope_3 - slope_2) / (logs[2] - logs[1]) / sum(logs)
        b = slope_2 - c * (logs[0] ** 2 + logs[0] * logs[1] + logs[1] ** 2)
        a = inverse[0] - (b + c * logs[0] ** 2) * logs[0]
        part = SteinhartHart(a, b, c)
        for ohm, celsius in points:
            self.assertAlmostEqual(part.celsius(ohm), celsius, places=6)
            self.assertAlmostEqual(part.ohm(celsius), ohm, delta=1e-4 * ohm)

    @given(st.floats(-40, 150), st.floats(500, 100_000), st.floats(2500, 4500))
    def test_there_and_back(self, celsius, ohm_25, beta):
        part = beta_thermistor(ohm_25, beta)
        self.assertAlmostEqual(part.celsius(part.ohm(celsius)), celsius, places=6)

    @given(st.floats(1, 1e6), st.floats(100, 1e5), st.floats(3, 12))
    def test_divider_there_and_back(self, ohm, pull_up, supply):
        divider = Divider(supply, pull_up)
        self.assertAlmostEqual(divider.ohm(divider.volts(ohm)), ohm, delta=1e-6 * ohm + 1e-6)
        self.assertTrue(0 < divider.volts(ohm) < supply)

    def test_hotter_is_fewer_volts(self):
        volts = [INTAKE_DIVIDER.volts(INTAKE.ohm(t)) for t in range(-30, 120, 10)]
        self.assertEqual(volts, sorted(volts, reverse=True))
