"""Disturbance of a sound part's record condemns nothing: noise from a hundredth of the swing to all of it, needles of
sparks and relays, mains hum. What the trainer records is sound; the disturbance is drawn here."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from tests.support.setup_changes import sound
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS, circuit, measure

SLOW = ("airflow-voltage", "manifold-pressure", "pedal-position", "rail-pressure", "temperature", "throttle-position")


def disturbed(code, draw, part, seed):
    """The sound record with `draw(rng, seconds, size)` times a part of its main lane's swing added to that lane."""
    capture = sound(code)
    name = circuit(code).main_lane(capture.lanes)
    lane = capture.lanes[name]
    size = part * float(np.percentile(lane.samples, 99.5) - np.percentile(lane.samples, 0.5))
    seconds = np.arange(lane.samples.size) * capture.interval_s
    samples = lane.samples + size * draw(np.random.default_rng(seed), seconds)
    return measure(
        Capture({**capture.lanes, name: replace(lane, samples=samples)}, capture.interval_s, capture.start_s), code
    )


def noise(rng, seconds):
    return rng.normal(0, 1, seconds.size)


def needles(rng, seconds):
    """Three a second, one sample each, up and down; of a slow recording one sample in two hundred."""
    out = np.zeros(seconds.size)
    at = rng.integers(0, seconds.size, max(24, min(int(3 * seconds[-1]), seconds.size // 200)))
    out[at] = rng.choice([-1.0, 1.0], at.size)
    return out


def hum(rng, seconds):
    return np.sin(2 * np.pi * 50 * seconds + rng.uniform(0, 2 * np.pi))


class Disturbed(unittest.TestCase):
    def assert_none(self, code, draw, parts):
        for seed, part in enumerate(parts):
            answer = disturbed(code, draw, part, seed)
            with self.subTest(circuit=code, part=part):
                self.assertNotEqual(answer.call, "faulty", [f.text for f in answer.findings if f.kind == "fault"])

    def test_noise(self):
        for code in CIRCUITS:
            self.assert_none(code, noise, (0.01, 0.04, 0.09, 0.15, 0.3, 0.7))

    def test_needles_up_and_down_are_no_dropouts_and_are_named(self):
        for code in SLOW:
            self.assert_none(code, needles, (0.1, 0.4))
        answer = disturbed("manifold-pressure", needles, 0.3, 1)
        self.assertIn("noisy", [f.code for f in answer.findings if f.kind == "set-up"])
        self.assertEqual(answer.call, "sound")
        self.assertEqual(answer.reading("dropouts_count").value, 0)

    def test_needles_that_all_go_down_are_falls(self):
        answer = disturbed("manifold-pressure", lambda rng, s: -np.abs(needles(rng, s)), 0.3, 1)
        self.assertEqual(answer.call, "faulty")

    def test_mains_hum_on_an_airflow_sensor(self):
        self.assert_none("airflow-voltage", hum, (0.01, 0.03, 0.1))

    def test_noise_that_drowns_a_lane_says_so_and_makes_notes_of_its_faults(self):
        answer = disturbed("temperature", noise, 0.3, 1)
        self.assertEqual(answer.call, "inconclusive")
        told = [f.text for f in answer.findings if f.code == "noisy"]
        self.assertTrue(any("could make what is seen here" in text for text in told), told)


if __name__ == "__main__":
    unittest.main()
