"""Stated uncertainties against simulation: the 95 % interval covers the true value nearly that often.

A sample of what `benchmarks/coverage.py` does with 500 captures; with 60 the share itself is uncertain by 3 %.
"""

import unittest
from dataclasses import replace

import numpy as np

from tests.support.courses import captured
from tests.support.coverage import CASES, K_95, covered, misses
from tests.support.recorders import RECORDERS
from tests.support.variations import EVENTS
from tracebench.core.answer import Limit
from tracebench.core.capture import Lane, capture_from_stamps
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

FEW = 24
"""Captures of events: long ones, each with several of them."""


def plain_ramps(rng, rate):
    """Resistance and inductance by their exponential, cut off within a sample; one at 20,000 a second has sixty."""
    times = np.arange(rate) / rate
    dwell_s, peak, tau = rng.uniform(2.5e-3, 4e-3), rng.uniform(6, 9), rng.uniform(4e-3, 8e-3)
    full = peak / (1 - np.exp(-dwell_s / tau))
    since = (times - rng.uniform(0.004, 0.01)) % rng.uniform(0.02, 0.03)
    lane = np.where((since < dwell_s) & (times < 0.99), full * (1 - np.exp(-since / tau)), 0.0)
    lane = np.round((lane + rng.normal(0, 0.02, rate)) / 0.01) * 0.01
    return captured("coil-primary-current", rate, current=lane), {"dwell_ms": 1000 * dwell_s, "peak_a": peak}


class Coverage(unittest.TestCase):
    def test_intervals_cover_the_truth(self):
        for name, case in CASES.items():
            for reading_id, share in covered(case, FEW if case.code.startswith(EVENTS) else 60).items():
                with self.subTest(case=name, reading=reading_id):
                    self.assertGreaterEqual(share, 0.86)

    def test_they_do_as_well_through_recorders_that_are_worse(self):
        for recorder in RECORDERS:
            off = np.concatenate([x for case in CASES.values() for x in misses(case, 3, recorder).values()])
            with self.subTest(recorder=recorder, readings=off.size):
                # Three captures of a case share what they were drawn by: the share itself is known to some 3 %.
                self.assertGreaterEqual(np.mean(off <= K_95), 0.85)
                self.assertLessEqual(np.mean(off > 4), 0.03)

    def test_what_hangs_on_one_code_of_eight_bits_is_known_no_better(self):
        """What every event of a record has alike, as a clamp's top and a tenth of a fall, more events do not better."""
        hanging = {
            "injector voltage": ("kick_v", "bump_ms"),
            "injector current": ("pintle_ms", "decay_ms", "on_ms"),
            "injectors, group": ("excess_ratio",),
            "coil, primary voltage": ("dwell_ms",),
            "charging, moving": ("ripple_v",),
            "rail, moving": ("idle_ripple_mv",),
            "temperature, rising": ("rate_c_per_min",),
            "supply and ground": ("supply_v", "reference_v"),
        }
        for name, readings in hanging.items():
            off = misses(CASES[name], FEW, "coarse codes")
            for reading_id in readings:
                with self.subTest(case=name, reading=reading_id):
                    self.assertGreaterEqual(np.mean(off[reading_id] <= K_95), 0.83)
                    self.assertLessEqual(np.max(off[reading_id]), 4.5)

    def test_a_lane_that_never_leaves_one_code_is_known_as_an_everyday_recorder_would(self):
        t = np.arange(5000) / 1000
        for truth in (4.97, 11.83):
            for top in (1.1, 1.7, 2.1):
                step = 2 * truth * top / 256
                still = np.full(t.size, np.round(truth / step) * step)
                moving = 2.5 + np.sin(t)
                lanes = {"supply": still, "ground": moving / 100}
                answer = measure(captured("supply-ground", 1000, **lanes), "supply-ground")
                reading = answer.reading("supply_v")
                self.assertLess(abs(reading.value - truth), 2 * reading.uncertainty)
                self.assertLess(reading.uncertainty, 0.005 * truth)

    def test_a_coils_ramp_on_few_samples_ends_between_two_of_them(self):
        for rate in (20_000, 50_000, 100_000):
            off = {"dwell_ms": [], "peak_a": []}
            for seed in range(16):
                capture, truth = plain_ramps(np.random.default_rng(seed), rate)
                answer = measure(capture, "coil-primary-current")
                for reading_id, value in truth.items():
                    reading = answer.reading(reading_id)
                    off[reading_id].append(abs(reading.value - value) / reading.uncertainty)
            for reading_id, each in off.items():
                with self.subTest(rate=rate, reading=reading_id):
                    self.assertLess(max(each), 4.0)
                    self.assertGreaterEqual(np.mean(np.array(each) <= K_95), 0.8)

    def test_what_is_told_of_a_scope_is_no_part_of_the_uncertainty(self):
        lanes = {"supply": 12.6 + 0.01 * np.random.default_rng(3).standard_normal(4000)}
        told = {"accuracy_pct": "2", "offset_pct": "3"}
        plain, with_scope = (
            measure(captured("supply-ground", 1000, **lanes), "supply-ground", (), o) for o in ({}, told)
        )
        self.assertEqual([r.uncertainty for r in plain.readings], [r.uncertainty for r in with_scope.readings])

    def test_a_limit_that_the_scope_may_have_missed_condemns_nothing_and_says_so(self):
        # 12.60 V against 12.35 at the most: off by 0.25. The scope may be off by 1 % of 12.60 and 1 % of a range of
        # 12.6: 0.252 V. With 0.9 % of each it is 0.227, and the reading outside as it stands.
        lanes = {"supply": 12.6 + 0.01 * np.random.default_rng(4).standard_normal(4000)}
        held = [Limit("supply_v", 11.0, 12.35, "maker")]

        def answer(percent: str):
            told = {"accuracy_pct": percent, "offset_pct": percent}
            return measure(captured("supply-ground", 1000, **lanes), "supply-ground", (), told, held)

        untold, near, far = answer("0"), answer("1"), answer("0.9")
        states = [a.deciding_limit("supply_v").state for a in (untold, near, far)]
        self.assertEqual(states, ["outside", "marginal", "outside"])
        self.assertEqual([a.call for a in (untold, near, far)], ["faulty", "sound", "faulty"])
        self.assertIn("supply_v", near.because)
        said = [next(x for x in a.as_json()["limits"] if x["decides"])["says"] for a in (untold, near, far)]
        self.assertEqual(said, ["", "marginal because the scope may be off by 0.252", ""])

    def test_as_near_on_the_inside_is_marginal_too_and_a_time_is_the_clocks(self):
        lanes = {"supply": 12.6 + 0.01 * np.random.default_rng(5).standard_normal(4000)}
        held = [Limit("supply_v", 11.0, 12.75, "maker")]
        for percent, state in (("1", "inside"), ("2", "marginal")):
            told = {"accuracy_pct": percent}
            inside = measure(captured("supply-ground", 1000, **lanes), "supply-ground", (), told, held)
            self.assertEqual((inside.deciding_limit("supply_v").state, inside.call), (state, "sound"))
        case = CASES["injector voltage"]
        capture, truth = case.make(np.random.default_rng(6))
        held = [Limit("on_ms", None, 0.99 * truth["on_ms"], "maker", marginal=0.0)]
        timed = measure(capture, case.code, (), {**case.options, "accuracy_pct": "5"}, held)
        self.assertEqual(timed.deciding_limit("on_ms").state, "outside")

    def test_an_accuracy_that_is_none_is_refused_in_words(self):
        lanes = {"supply": np.full(4000, 12.6)}
        for text in ("good", "-1", "90", "nan"):
            with self.subTest(text=text), self.assertRaisesRegex(BadOption, "accuracy_pct"):
                measure(captured("supply-ground", 1000, **lanes), "supply-ground", (), {"accuracy_pct": text})

    def test_codes_of_uneven_rows_are_those_of_the_file(self):
        # A tenth of a volt a code, and rows missing: what lies between two rows is no finer than they are.
        kept = np.random.default_rng(5).random(6000) > 0.1
        lane = Lane("supply", np.full(6000, 12.6)[kept], "V")
        steps = np.where(np.arange(6000) % 1000 < 40, 12.5, 12.6)[kept]
        uneven = capture_from_stamps(np.arange(6000)[kept] / 1000, {"supply": replace(lane, samples=steps)})
        self.assertGreaterEqual(measure(uneven, "supply-ground").reading("supply_v").uncertainty, 0.99 * 0.1 / 12**0.5)
