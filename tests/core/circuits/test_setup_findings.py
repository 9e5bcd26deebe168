"""Set-up findings over all circuits: provoked on a sound recording, and a near miss that must not provoke them."""

import unittest
from dataclasses import replace

import numpy as np

from tests.support.courses import codes
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.errors import BadCapture

MAIN = {
    "throttle-position": "signal",
    "pedal-position": "track1",
    "manifold-pressure": "signal",
    "airflow-voltage": "signal",
    "airflow-frequency": "signal",
    "oxygen-switching": "signal",
    "rail-pressure": "signal",
    "charging": "sense",
}
"""The lane that carries each circuit's signal, for circuits whose levels say how large it must be."""

SHORT = {"airflow-frequency": {"part": {"hz_per_gs": 20.0}}}


def recording(code: str, **more) -> Capture:
    source = SOURCES[code]
    rate = min(source.rate_hz, 50_000)
    settings = ScopeSettings(source.range_v, source.manoeuvres[0].duration_s, rate)
    return record(code, settings, 21, **{**SHORT.get(code, {}), **more})


def changed(capture: Capture, lane: str, samples: np.ndarray) -> Capture:
    return capture.with_lane(replace(capture.lanes[lane], samples=samples))


class OverAllCircuits(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.sound = {code: recording(code) for code in (*MAIN, "crank-position", "temperature", "supply-ground")}

    def found(self, code: str, capture: Capture) -> list[str]:
        return codes(measure(capture, code), "set-up")

    def test_sound_recordings_have_none(self):
        for code, capture in self.sound.items():
            with self.subTest(circuit=code):
                self.assertEqual(self.found(code, capture), [])

    def test_thousandfold_and_tenfold_factors_are_named_and_put_right(self):
        for code, lane in MAIN.items():
            capture = self.sound[code]
            before = measure(capture, code)
            for factor in (1000.0, 0.1):
                scaled = changed(capture, lane, capture.lanes[lane].samples * factor)
                with self.subTest(circuit=code, factor=factor):
                    after = measure(scaled, code)
                    finding = next(f for f in after.findings if f.code == "scale_suspect")
                    self.assertIn(f"{factor:g} times", finding.text)
                    self.assertEqual(after.call, before.call)
                    for reading in before.readings:
                        if reading.lane == lane and reading.unit == "V" and reading.cycle is None:
                            same = after.reading(reading.id)
                            self.assertAlmostEqual(same.value, reading.value, delta=0.01 + 0.01 * abs(reading.value))

    def test_a_little_off_is_no_factor(self):
        for code, lane in MAIN.items():
            capture = self.sound[code]
            with self.subTest(circuit=code):
                near = changed(capture, lane, capture.lanes[lane].samples * 1.08)
                self.assertNotIn("scale_suspect", self.found(code, near))

    def test_reversed_leads_are_named_and_read_inverted(self):
        told = {"crank-position": {"sense": "falling"}}  # Either sense is read; which is wrong must be told.
        for code in ("throttle-position", "manifold-pressure", "airflow-voltage", "rail-pressure", "crank-position"):
            capture = self.sound[code]
            turned = changed(capture, "signal", -capture.lanes["signal"].samples)
            with self.subTest(circuit=code):
                answer = measure(turned, code, options=told.get(code, {}))
                self.assertIn("reversed_polarity", codes(answer))
                right = measure(capture, code, options=told.get(code, {}))
                self.assertNotIn("reversed_polarity", codes(right))
                self.assertNotEqual(answer.call, "faulty")

    def test_nothing_on_the_lane_is_a_flat_line_never_a_part(self):
        for code in ("throttle-position", "airflow-voltage", "rail-pressure", "temperature", "crank-position"):
            capture = self.sound[code]
            size = capture.samples
            dead = np.random.default_rng(1).normal(0.004, 0.002, size)
            alone = Capture({"signal": replace(capture.lanes["signal"], samples=dead)}, capture.interval_s)
            with self.subTest(circuit=code):
                answer = measure(alone, code)
                self.assertEqual(answer.call, "inconclusive", answer.because)
                self.assertIn("flat_line", codes(answer))

    def test_a_probe_that_slips_never_condemns(self):
        for code in ("throttle-position", "manifold-pressure", "airflow-voltage", "rail-pressure"):
            capture = self.sound[code]
            samples = capture.lanes["signal"].samples.copy()
            start = int(0.27 * samples.size)
            samples[start : start + round(0.4 / capture.interval_s)] = 0.002
            with self.subTest(circuit=code):
                answer = measure(changed(capture, "signal", samples), code)
                self.assertIn("probe_slip", codes(answer))
                self.assertEqual([f.text for f in answer.findings if f.kind == "fault"], [])

    def test_a_range_that_ends_below_the_signal_is_clipped(self):
        for code, top in (("throttle-position", 3.5), ("manifold-pressure", 4.0), ("airflow-voltage", 2.0)):
            capture = self.sound[code]
            low = changed(capture, "signal", np.minimum(capture.lanes["signal"].samples, top))
            with self.subTest(circuit=code):
                self.assertIn("clipped", self.found(code, low))

    def test_a_range_far_too_large_uses_too_few_codes(self):
        for code in ("throttle-position", "manifold-pressure", "oxygen-switching", "rail-pressure"):
            capture = self.sound[code]
            samples = capture.lanes["signal"].samples
            for levels, expected in ((12, True), (60, False)):
                step = float(np.ptp(samples)) / levels
                coarse = changed(capture, "signal", np.round(samples / step) * step)
                with self.subTest(circuit=code, levels=levels):
                    self.assertEqual("low_range_use" in self.found(code, coarse), expected)

    def test_thinned_to_too_few_samples(self):
        for code, by, expected in (
            ("throttle-position", 20, True),  # 50 a second: 7.5 across a 150 ms dropout
            ("throttle-position", 10, False),
            ("manifold-pressure", 40, True),  # 50 a second: 5 across a 100 ms rise
            ("manifold-pressure", 10, False),
            ("crank-position", 10, True),
            ("crank-position", 2, False),
        ):
            capture = self.sound[code]
            lanes = {n: replace(x, samples=np.ascontiguousarray(x.samples[::by])) for n, x in capture.lanes.items()}
            thinned = Capture(lanes, capture.interval_s * by, capture.start_s)
            with self.subTest(circuit=code, by=by):
                self.assertEqual("undersampled" in self.found(code, thinned), expected)

    def test_a_record_cut_before_its_load_cannot_tell(self):
        for code, seconds in (("manifold-pressure", 6.0), ("airflow-voltage", 6.5), ("rail-pressure", 7.0)):
            capture = self.sound[code]
            stop = round(seconds / capture.interval_s)
            lanes = {n: replace(x, samples=x.samples[:stop]) for n, x in capture.lanes.items()}
            answer = measure(Capture(lanes, capture.interval_s), code)
            with self.subTest(circuit=code):
                self.assertEqual((answer.call, answer.because), ("inconclusive", ("missing_phase",)))

    def test_lanes_of_other_kinds_exchanged(self):
        for code, one, other in (
            ("supply-ground", "supply", "ground"),
            ("supply-ground", "reference", "ground"),
            ("airflow-voltage", "supply", "ground"),
            ("charging", "sense", "case_ground"),
            ("pedal-position", "track1", "track2"),
            ("crank-position", "signal", "cam"),
        ):
            capture = self.sound[code]
            a, b = capture.lanes[one], capture.lanes[other]
            lanes = {**capture.lanes, one: replace(b, name=one), other: replace(a, name=other)}
            with self.subTest(circuit=code, lanes=(one, other)):
                answer = measure(replace(capture, lanes=lanes), code)
                self.assertIn("lanes_swapped", codes(answer))
                self.assertNotEqual(answer.call, "faulty", answer.because)


class Refusals(unittest.TestCase):
    def test_every_circuit_refuses_a_record_that_is_too_small_with_one_sentence(self):
        for kind in CIRCUITS.values():
            lane = next((x for x in kind.lanes if x.required), kind.lanes[0])
            with self.subTest(circuit=kind.code), self.assertRaisesRegex(BadCapture, "at least 16"):
                Capture({lane.name: Lane(lane.name, np.zeros(4), lane.unit)}, 0.1)
