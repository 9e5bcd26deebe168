"""Rows of events at any rate: a sound part is never condemned, and what cannot be seen is said to be unseen."""

import unittest

import numpy as np

from tests.support.variations import EVENTS
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.source import Order
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Lane, capture_from_stamps
from tracebench.core.circuits import circuit, measure

ORDER = {"firing_order": "1-3-4-2"}
OPTIONS = {
    "injector-current-group": {"injectors": "6", "each_a": "0.7"},
    **dict.fromkeys(("injector-current-parade", "coil-primary-current", "secondary-voltage"), ORDER),
}
TEN = [code for code in SOURCES if code.startswith(EVENTS)]


def sampled(code, rate, seconds):
    """The trainer's pins at a rate that its scope does not have, in codes of 12 bits and noise of a third of one."""
    source, rng = SOURCES[code], np.random.default_rng(3)
    times = np.arange(round(rate * seconds)) / rate
    lanes = {}
    for name, pin in source.lanes(Order(times, manoeuvre="idle", rng=rng)).items():
        spec = circuit(code).lane(name)
        step = (2 * source.range_v if name != "sync" else 10.0) / 4096
        noise = rng.normal(0, max(source.noise.get(name, 0.02), step / 3), pin.size)
        lanes[name] = Lane(name, np.round((pin + noise) / step) * step, spec.unit, name)
    return capture_from_stamps(times, lanes)


class AnyRate(unittest.TestCase):
    def test_a_sound_part_is_not_condemned_from_20_khz_on(self):
        for code in TEN:
            for rate in (20_000, 50_000, 100_000, 1_000_000):
                with self.subTest(circuit=code, rate=rate):
                    scope = ScopeSettings(SOURCES[code].range_v, 0.5 if code != "igniter-bench" else 2.0, rate)
                    answer = measure(record(code, scope, 4), code, (), OPTIONS.get(code, {}))
                    self.assertNotEqual(answer.call, "faulty", answer.because)
                    self.assertTrue(answer.readings)

    def test_what_lies_between_the_samples_is_not_judged(self):
        for code, unseen in (("coil-primary-voltage", "kick"), ("secondary-voltage", "firing line")):
            answer = measure(sampled(code, 20_000, 0.5), code, (), OPTIONS.get(code, {}))
            said = [f.text for f in answer.findings if f.code == "undersampled"]
            self.assertEqual((answer.call, len(said)), ("inconclusive", 1))
            self.assertIn(unseen, said[0])
            self.assertNotIn("scale_suspect", [f.code for f in answer.findings])

    def test_10_mhz_reads_what_1_mhz_reads(self):
        for code, reading_id in (("injector-current", "peak_a"), ("secondary-voltage", "burn_ms")):
            fine, coarse = (
                measure(sampled(code, rate, 0.2), code, (), OPTIONS.get(code, {})) for rate in (10_000_000, 1_000_000)
            )
            self.assertEqual((fine.call, coarse.call), ("sound", "sound"))
            apart = abs(fine.reading(reading_id).value - coarse.reading(reading_id).value)
            doubts = (fine.reading(reading_id).uncertainty, coarse.reading(reading_id).uncertainty)
            self.assertLess(apart, 4 * float(np.hypot(*doubts)) + 1e-3)


if __name__ == "__main__":
    unittest.main()
