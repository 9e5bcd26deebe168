"""A movement that the record begins or ends in is no rest and no top: courses of straight lines, cut anywhere."""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tracebench.core.circuits import measure

SWEEP = (
    (0, 0.6),
    (1.5, 0.6),
    (5.7, 4.4),
    (6.7, 4.4),
    (11, 0.6),
    (12.2, 0.6),
    (16.5, 4.4),
    (17.5, 4.4),
    (22, 0.6),
    (24, 0.6),
)
RAIL = ((0, 1.3), (4, 1.3), (4.4, 3.4), (5, 3.4), (6, 1.3), (10, 1.3))
MANIFOLD = ((0, 1.2), (3, 1.2), (3.15, 4.5), (3.9, 4.5), (4.5, 0.8), (5.2, 1.2), (8, 1.2))
AIR = ((0, 2000), (4, 2000), (4.5, 6500), (5, 6500), (6, 2000), (10, 2000))


def line(points, rate: float, begin: float, end: float, noise: float, seed: int = 1) -> np.ndarray:
    t = np.arange(begin, end, 1 / rate)
    course = np.interp(t, *np.array(points).T)
    return course + noise * np.random.default_rng(seed).standard_normal(t.size)


def names(answer) -> list[str]:
    return [p.name for p in answer.phases]


class CutOff(unittest.TestCase):
    def throttle(self, begin: float, end: float):
        lane = np.round(line(SWEEP, 1000, begin, end, 0.004) / 0.005) * 0.005
        return measure(captured("throttle-position", 1000, signal=lane), "throttle-position")

    def test_a_sweep_that_ends_on_its_way_up_has_no_open_phase(self):
        for end in (2.6, 3.5, 4.4, 5.3):
            with self.subTest(end=end):
                answer = self.throttle(0, end)
                self.assertEqual(names(answer), ["closed"])
                self.assertEqual((answer.call, codes(answer, "fault")), ("inconclusive", []))
                self.assertIsNone(answer.reading("open_v"))
                self.assertAlmostEqual(answer.reading("closed_v").value, 0.6, delta=0.003)

    def test_nor_one_of_several_its_last_or_first(self):
        # One sweep stands, the other is cut: the level is that of the one.
        for begin, end in ((0, 15.4), (0, 15.9), (8.0, 24), (7.3, 24)):
            with self.subTest(begin=begin, end=end):
                answer = self.throttle(begin, end)
                self.assertEqual(codes(answer, "fault"), [])
                self.assertAlmostEqual(answer.reading("open_v").value, 4.4, delta=0.003)
                self.assertIsNone(answer.reading("open_spread_v"))

    def test_a_rest_however_short_at_the_end_stands(self):
        for end in (17.0, 16.8, 24.0, 22.3):
            with self.subTest(end=end):
                answer = self.throttle(0, end)
                last = "open" if end < 18 else "closed"
                self.assertEqual(names(answer)[-1], last)
                self.assertEqual(codes(answer, "fault"), [])
        self.assertEqual(self.throttle(0, 24).call, "sound")

    def test_half_a_pedal_is_not_its_full_level(self):
        for end, full in ((2.5, None), (4.5, None), (6.6, 4.4)):
            one = line(SWEEP, 1000, 0, end, 0.003)
            two = 0.5 * line(SWEEP, 1000, 0, end, 0.003, 2)
            answer = measure(captured("pedal-position", 1000, track1=one, track2=two), "pedal-position")
            with self.subTest(end=end):
                self.assertEqual(answer.call, "sound" if full else "inconclusive")
                self.assertEqual(answer.reading("track1_full_v") is not None, full is not None)

    def rail(self, end: float):
        ripple = 0.02 * np.sin(2 * np.pi * 26 * np.arange(0, end, 1e-3))
        lane = line(RAIL, 1000, 0, end, 0.008)
        return measure(captured("rail-pressure", 1000, signal=lane + ripple[: lane.size]), "rail-pressure")

    def manifold(self, end: float):
        lane = line(MANIFOLD, 1000, 0, end, 0.01)
        return measure(captured("manifold-pressure", 1000, signal=lane), "manifold-pressure")

    def air(self, end: float):
        phase = np.cumsum(line(AIR, 100_000, 0, end, 0)) / 100_000
        lane = 5 * (phase % 1 < 0.5) + 0.02 * np.random.default_rng(3).standard_normal(phase.size)
        return measure(captured("airflow-frequency", 100_000, signal=lane), "airflow-frequency")

    def test_a_climb_that_the_record_ends_in_has_no_top(self):
        for measured, top, cut, whole in (
            (self.rail, "peak_v", (4.2, 4.3, 4.38), (5.0, 9.0)),
            (self.manifold, "snap_peak_v", (3.08, 3.12), (3.6, 8.0)),
            (self.air, "peak_hz", (4.2, 4.3, 4.45), (5.0, 9.0)),
        ):
            for end in (*cut, *whole):
                with self.subTest(top=top, end=end):
                    answer = measured(end)
                    self.assertEqual(answer.reading(top) is None, end in cut)
                    self.assertEqual(codes(answer, "fault"), [])
                    self.assertEqual(answer.call, "inconclusive" if end in cut else "sound")
                    if end in cut:
                        self.assertIn("missing_phase", answer.because)
