"""Steps on a capture, against sums by hand and sines whose answer is known."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.outside import workshop
from tests.support.courses import captured
from tests.support.waves import Sweep
from tracebench.core import preparing
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

RATE = 1000.0


def ramp():
    """Volts that are the seconds, over ten seconds, beside a level of 5 V."""
    t = np.arange(10_000) / RATE
    return captured("throttle-position", RATE, signal=t.copy(), reference=np.full(t.size, 5.0))


def made(*steps, raw=None):
    return preparing.prepared(raw or ramp(), preparing.checked(steps))


class Steps(unittest.TestCase):
    def test_each_kind_by_hand(self):
        cropped = made({"kind": "crop", "from": 2.0, "to": 4.0})
        self.assertEqual((cropped.samples, cropped.start_s), (2001, 2.0))
        np.testing.assert_allclose(cropped.lanes["signal"].samples[[0, -1]], [2.0, 4.0])
        np.testing.assert_allclose(made({"kind": "invert", "lane": "signal"}).lanes["signal"].samples[5000], -5.0)
        scaled = made({"kind": "rescale", "lane": "signal", "factor": 10.0}).lanes["signal"]
        self.assertEqual((scaled.samples[5000], scaled.factor), (50.0, 10.0))
        zeroed = made({"kind": "zero", "lane": "signal", "from": 1.0, "to": 3.0})
        self.assertAlmostEqual(zeroed.lanes["signal"].samples[5000], 3.0)
        self.assertEqual(zeroed.lanes["reference"].samples[0], 5.0)
        shifted = made({"kind": "shift", "by": -1.5})
        self.assertEqual(shifted.start_s, -1.5)

    def test_they_are_made_in_their_order_and_said(self):
        after = made(
            {"kind": "shift", "by": 100.0},
            {"kind": "crop", "from": 101.0, "to": 102.0},
            {"kind": "rescale", "lane": "signal", "factor": 2.0},
        )
        self.assertAlmostEqual(after.lanes["signal"].samples[0], 2.0)
        self.assertEqual(after.notes[-3:], ("shifted by 100 s", "cropped to 101 to 102 s", "signal times 2"))

    def test_a_low_pass_leaves_what_it_states_and_moves_nothing_in_time(self):
        t = np.arange(20_000) / RATE
        for hz, left in ((2.0, 1.0), (20.0, np.sqrt(0.5)), (200.0, 0.0)):
            raw = captured("throttle-position", RATE, signal=2.0 + np.sin(2 * np.pi * hz * t))
            out = made({"kind": "low_pass", "lane": "signal", "hz": 20.0}, raw=raw).lanes["signal"].samples[5000:15_000]
            wave = np.sin(2 * np.pi * hz * t[5000:15_000])
            share = float((out - out.mean()) @ wave / (wave @ wave))
            with self.subTest(hz):
                self.assertAlmostEqual(share, left, delta=0.012)
                self.assertAlmostEqual(float(out.mean()), 2.0, delta=0.001)
                # No part of it stands a quarter of a turn off: nothing came late.
                late = np.cos(2 * np.pi * hz * t[5000:15_000])
                self.assertAlmostEqual(float((out - out.mean()) @ late / (late @ late)), 0.0, delta=0.005)

    def test_what_cannot_be_made_names_its_step(self):
        for step, words in (
            ({"kind": "blur"}, "no step 'blur'"),
            ({"kind": "crop", "from": 1.0}, "'to' as a number"),
            ({"kind": "crop", "from": 1.0, "to": float("nan")}, "'to' as a number"),
            ({"kind": "crop", "from": 50.0, "to": 60.0}, "outside the record"),
            ({"kind": "crop", "from": 1.0, "to": 1.005}, "16 are the fewest"),
            ({"kind": "invert", "lane": "pump"}, "no lane 'pump'"),
            ({"kind": "rescale", "lane": "signal", "factor": 0}, "other than 0"),
            ({"kind": "low_pass", "lane": "signal", "hz": 499.0}, "between 0.01 and 450 Hz"),
        ):
            with self.subTest(step), self.assertRaisesRegex(BadOption, words) as refused:
                made({"kind": "shift", "by": 0.0}, step)
            self.assertIn("step 2", str(refused.exception))

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.one_of(
                st.fixed_dictionaries({"kind": st.just("invert"), "lane": st.just("signal")}),
                st.fixed_dictionaries({"kind": st.just("shift"), "by": st.floats(-1e3, 1e3)}),
                st.fixed_dictionaries(
                    {"kind": st.just("rescale"), "lane": st.just("signal"), "factor": st.sampled_from((0.1, 2.0, -4.0))}
                ),
                st.fixed_dictionaries(
                    {"kind": st.just("low_pass"), "lane": st.just("signal"), "hz": st.floats(1.0, 400.0)}
                ),
            ),
            max_size=6,
        )
    )
    def test_any_row_of_steps_leaves_whole_numbers_and_the_raw_samples_alone(self, steps):
        raw = ramp()
        before = raw.lanes["signal"].samples.copy()
        after = made(*steps, raw=raw)
        self.assertTrue(np.all(np.isfinite(after.lanes["signal"].samples)))
        self.assertEqual(after.samples, raw.samples)
        np.testing.assert_array_equal(raw.lanes["signal"].samples, before)


class Filtered(unittest.TestCase):
    def test_a_filter_is_always_a_finding_and_hides_what_it_reaches(self):
        plain = Sweep(rate_hz=1000, noise_v=0.003).capture()
        filtered = made({"kind": "low_pass", "lane": "signal", "hz": 50.0}, raw=plain)
        answer = measure(filtered, "throttle-position")
        (finding,) = [f for f in answer.findings if f.code == "over_filtered"]
        self.assertIn("50 Hz", finding.text)
        self.assertFalse([f for f in measure(plain, "throttle-position").findings if f.code == "over_filtered"])

    def test_under_five_times_the_bandwidth_the_answer_is_hidden(self):
        raw = next(o for o in workshop.WORKSHOP if o.circuit == "injector-voltage").capture()
        answer = measure(made({"kind": "low_pass", "lane": "control", "hz": 2000.0}, raw=raw), "injector-voltage")
        (finding,) = [f for f in answer.findings if f.code == "over_filtered" and "low-pass" in f.text]
        self.assertTrue(finding.hides)
        self.assertNotEqual(answer.call, "sound")


if __name__ == "__main__":
    unittest.main()
