"""Readings in degrees, g/s, bar and lambda through a transfer function told, and limits in either unit."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.support.courses import captured, course
from tracebench.core.answer import Limit
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.circuits.conversions import CONVERSIONS, points
from tracebench.core.errors import BadOption

SWEEP = [
    (0, 0.7),
    (1.2, 0.7),
    (6.7, 4.3),
    (7.8, 4.3),
    (13.3, 0.7),
    (14.4, 0.7),
    (20, 4.3),
    (21, 4.3),
    (26.5, 0.7),
    (28, 0.7),
]


def throttle(limits=(), **options):
    rng = np.random.default_rng(2)
    signal = course(SWEEP, 500)
    lane = np.round((signal + rng.normal(0, 0.004, signal.size)) / 0.0025) * 0.0025
    return measure(captured("throttle-position", 500, signal=lane), "throttle-position", (), options, limits)


class Throttle(unittest.TestCase):
    def test_degrees_by_hand(self):
        # 0.5 V is 0 and 4.5 V is 90 degrees: 22.5 degrees a volt, so 0.7 V is 4.5 and 4.3 V is 85.5 degrees.
        found = throttle(transfer="0.5:0, 4.5:90")
        self.assertAlmostEqual(found.reading("closed_deg").value, 4.5, delta=0.05)
        self.assertAlmostEqual(found.reading("open_deg").value, 85.5, delta=0.05)
        self.assertEqual(found.reading("open_deg").unit, "°")
        self.assertAlmostEqual(
            found.reading("open_deg").uncertainty, 22.5 * found.reading("open_v").uncertainty, places=9
        )

    def test_without_one_nothing_is_added(self):
        self.assertIsNone(throttle().reading("closed_deg"))
        self.assertNotIn("closed_deg", [m.reading for m in throttle().missing])

    def test_a_limit_in_the_sensed_unit_decides(self):
        wanted = Limit("open_deg", 80.0, None, "maker")
        self.assertEqual(throttle((wanted,), transfer="0.5:0,4.5:90").call, "sound")
        short = throttle((Limit("open_deg", 100.0, None, "maker"),), transfer="0.5:0,4.5:90")
        self.assertEqual((short.call, short.because), ("faulty", ("open_deg",)))

    def test_outside_the_points_it_says_so(self):
        found = throttle(transfer="1:10, 4.5:90")
        self.assertIsNone(found.reading("closed_deg"))
        self.assertIn("outside the points", next(m.why for m in found.missing if m.reading == "closed_deg"))


class Others(unittest.TestCase):
    def test_airflow_through_a_bent_characteristic(self):
        level = [(0, 0.4), (2, 0.4), (2.2, 1.4), (2.8, 1.4), (3, 1.0), (7, 1.0), (7.6, 1.75), (10, 1.75)]
        noise = np.random.default_rng(1).normal(0, 0.005, course(level, 1000).size)
        capture = captured("airflow-voltage", 1000, signal=course(level, 1000) + noise)
        found = measure(capture, "airflow-voltage", (), {"transfer": "0.4:0, 1:3, 1.5:9, 2:20"})
        # 1.0 V is a point, 3 g/s; 1.75 V lies half way from 9 to 20 g/s.
        self.assertAlmostEqual(found.reading("idle_gs").value, 3.0, delta=0.05)
        self.assertAlmostEqual(found.reading("at_2500_gs").value, 14.5, delta=0.1)

    def test_every_conversion_is_declared_with_its_option(self):
        for code, made in CONVERSIONS.items():
            kind = CIRCUITS[code]
            self.assertLessEqual({*made.ids, *made.ids.values()}, set(kind.reading_ids), code)
            self.assertIn("transfer", [o.key for o in kind.options], code)
            self.assertTrue(set(made.ids.values()).isdisjoint(kind.asked), code)


class Points(unittest.TestCase):
    def test_nonsense_is_refused_with_an_example(self):
        for told in ("0.5", "a:b", "0.5:0", "1:2, 1:3", "1:2,2:nan", "1:2;3:4", ","):
            with self.assertRaisesRegex(BadOption, "transfer"):
                points(told)

    @given(st.dictionaries(st.floats(-100, 100), st.floats(-1e4, 1e4), min_size=2, max_size=40))
    def test_any_points_come_back_in_order(self, pairs):
        told = points(", ".join(f"{a!r}:{b!r}" for a, b in pairs.items()))
        self.assertEqual(dict(zip(told.lane, told.quantity, strict=True)), pairs)
        self.assertEqual(list(told.lane), sorted(pairs))

    def test_between_them_it_is_numpys_interpolation(self):
        # Reference library: numpy.interp.
        told = points("0.4:0, 1:3, 1.5:9, 2:20")
        for value in np.linspace(0.4, 2.0, 33):
            wanted = np.interp(value, told.lane, told.quantity)
            self.assertAlmostEqual(told.at(float(value)).of(float(value)), float(wanted), places=9)


if __name__ == "__main__":
    unittest.main()
