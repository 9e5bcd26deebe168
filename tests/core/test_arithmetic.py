"""Workshop sums against worked examples, and their working line by line. CP: common practice, no published source."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tracebench.core.arithmetic import CALCULATIONS, figure, worked
from tracebench.core.errors import BadOption


class Examples(unittest.TestCase):
    def test_worked_by_hand(self):
        for key, figures, value, unit in (
            ("clamp", {"volts": "1.28", "mv_per_a": "100"}, 12.8, "A"),  # CP
            ("group", {"injectors": "6", "each_a": "0.7"}, 4.2, "A"),  # CP
            ("current", {"volts": "14", "ohm": "16"}, 0.875, "A"),  # CP
            ("resistance", {"volts": "14", "amperes": "0.875"}, 16.0, "ohm"),
            ("energy", {"millihenry": "4", "amperes": "8"}, 128.0, "mJ"),  # 1/2 x 4 mH x 64 A2
            ("dwell", {"dwell_ms": "3", "rpm": "1000"}, 18.0, "°"),  # 6,000 degrees a second
            ("duty", {"on_ms": "2.5", "period_ms": "10"}, 25.0, "%"),
            ("speed", {"hertz": "100", "cylinders": "4", "turns": "2"}, 3000.0, "rpm"),  # two firings a turn at 50 Hz
            ("speed", {"hertz": "25", "cylinders": "1", "turns": "1"}, 1500.0, "rpm"),
        ):
            with self.subTest(key):
                made = worked(key, figures)
                self.assertAlmostEqual(made.value, value)
                self.assertEqual(made.unit, unit)
                self.assertIn(figure(value), made.lines[-1])

    def test_every_figure_that_goes_in_stands_in_the_working(self):
        made = worked("clamp", {"volts": "0,35", "mv_per_a": "100"})
        self.assertEqual(made.lines, ("0.35 V = 350 mV", "350 mV / 100 mV/A = 3.5 A"))

    def test_refusals_name_the_figure(self):
        for key, figures, words in (
            ("clamp", {"volts": "x", "mv_per_a": "1"}, "Voltage shown must be a number"),
            ("clamp", {"volts": "1"}, "Clamp factor is missing"),
            ("current", {"volts": "14", "ohm": "0"}, "Resistance must be over 0"),
            ("duty", {"on_ms": "5", "period_ms": "2"}, "longer than the period"),
            ("speed", {"hertz": "9", "cylinders": "4", "turns": "3"}, "at most 2"),
            ("magic", {}, "unknown calculation"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadOption, words):
                worked(key, figures)

    @given(st.floats(1e-4, 9e5))
    def test_figures_are_written_without_powers_of_ten_and_near_enough(self, value):
        text = figure(value)
        self.assertNotIn("e", text)
        self.assertTrue(math.isclose(float(text), value, rel_tol=6e-5, abs_tol=1e-9))

    def test_dwell_and_its_angle_belong_together_whatever_the_speed(self):
        for rpm in (600, 1500, 6000):
            angle = worked("dwell", {"dwell_ms": "2.4", "rpm": str(rpm)}).value
            self.assertAlmostEqual(angle / 360 * 60_000 / rpm, 2.4)

    def test_every_calculation_has_a_rule_and_figures(self):
        for c in CALCULATIONS.values():
            self.assertTrue(c.rule and c.inputs, c.key)


class Transfer(unittest.TestCase):
    def test_pressure_of_the_common_practice_example(self):
        # 20 kPa at 0.5 V and 105 kPa at 4.7 V: 101.3 kPa is 4.52 V.
        figures = {"volts": "4.517", "low_v": "0.5", "low": "20", "high_v": "4.7", "high": "105"}
        done = worked("transfer", figures)
        self.assertAlmostEqual(done.value, 101.3, delta=0.05)
        self.assertIn("= 20.238 a volt", done.lines[0])
        with self.assertRaisesRegex(BadOption, "different voltages"):
            worked("transfer", {**figures, "high_v": "0.5"})


if __name__ == "__main__":
    unittest.main()
