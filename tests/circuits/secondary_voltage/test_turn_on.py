"""Secondary voltage whose coil rings as it is turned on: what is no firing is none, and every firing is one.

Cosines that die out, of 0.5 to 3 kV and 4 to 14 kHz, before sparks of `tests.support.pulses`.
"""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tests.support.pulses import noisy, spark
from tracebench.core.circuits import measure

GOOD, FOULED, OPEN = (9.5, 1.4, 1.3), (2.6, 0.8, 1.9), (24.0, 1.4, 0.0)
ORDER = (1, 3, 4, 2)


def record(firings, ring=0.0, dwell=3.2, tau=0.25, period=0.11, pitch=0.03, rate=500_000, length=0.5):
    """Four cylinders in turn, each its peak and burn in kV and its burn's length in ms; how many there are."""
    t = np.arange(round(rate * length)) / rate
    at = np.arange(0.02, length - 0.015, pitch)
    lane, sync = np.zeros(t.size), np.zeros(t.size)
    for k, s in enumerate(at):
        peak, burn, burn_ms = firings[k % 4]
        near = (t > s - 0.012) & (t < s + 0.012)
        lane[near] += spark(t[near], [s], peak=peak, burn=burn, burn_ms=burn_ms)
        u = 1000 * (t - s) + dwell
        lane += np.where(
            (u >= 0) & (u < dwell), ring * np.exp(-np.maximum(u, 0) / tau) * np.cos(2 * np.pi * u / period), 0
        )
        if k % 4 == 0:
            sync[(t >= s - 0.0005) & (t < s + 0.001)] = 5.0
    return captured("secondary-voltage", rate, secondary=noisy(lane, 0.03), sync=noisy(sync, 0.02)), at.size


def answered(*args, **kwargs):
    capture, count = record(*args, **kwargs)
    return measure(capture, "secondary-voltage", (), {"firing_order": "1-3-4-2"}), count


class TurnOn(unittest.TestCase):
    def test_a_sound_engine_stays_sound_whatever_its_coils_ring(self):
        for kind in (
            {"ring": 1.2},
            {"ring": -1.8},
            {"ring": 2.6, "tau": 0.5, "period": 0.22},
            {"ring": -2.4, "dwell": 1.9},
            {"ring": 1.5, "dwell": 3.0, "pitch": 0.012},
            {"ring": 2.0, "dwell": 5.5},
        ):
            with self.subTest(**kind):
                answer, count = answered((GOOD,) * 4, **kind)
                self.assertEqual((answer.call, codes(answer, "fault")), ("sound", []))
                self.assertEqual(len(answer.events), count)
                self.assertAlmostEqual(answer.reading("firing_kv").value, 9.5, delta=0.8)

    def test_a_fouled_plugs_low_line_is_a_firing_and_the_ripple_as_high_is_not(self):
        for kind in ({"ring": 0.5}, {"ring": 2.4}, {"ring": -2.4}, {"ring": 1.8, "dwell": 4.5}):
            with self.subTest(**kind):
                answer, count = answered((GOOD, FOULED, GOOD, GOOD), **kind)
                self.assertEqual(codes(answer, "fault"), ["low_firing"])
                self.assertEqual({f.cylinder for f in answer.findings if f.kind == "fault"}, {3})
                self.assertEqual(len(answer.events), count)

    def test_four_fouled_plugs_are_as_many_firings(self):
        answer, count = answered(((1.9, 0.6, 1.9),) * 4, ring=1.5)
        self.assertEqual(len(answer.events), count)
        self.assertAlmostEqual(answer.reading("firing_kv").value, 1.8, delta=0.2)

    def test_a_line_without_a_burn_is_no_turn_on_however_soon_the_next_fires(self):
        for kind in ({"pitch": 0.0065}, {"pitch": 0.0065, "ring": 1.6, "dwell": 2.2}, {"ring": 1.6}):
            with self.subTest(**kind):
                answer, count = answered((GOOD, GOOD, OPEN, GOOD), **kind)
                self.assertIn("no_burn", codes(answer, "fault"))
                self.assertIn(4, {f.cylinder for f in answer.findings if f.code == "no_burn"})
                self.assertGreaterEqual(len(answer.events), count - 1)
