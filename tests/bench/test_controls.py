"""The trainer under hands: what is done with it is what the record shows, against physics and plain arithmetic."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.bench.scope import ScopeSettings, Trigger
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import Stretch, record_by_hand
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

CODE_V = 0.006
"""A code of twelve bits on the widest range here."""

STARTED = [(0.5, "key", 1.0), (2.0, "key", 2.0), (3.0, "key", 1.0)]


def taken(code, moves, begin_s, seconds, wires=None, seed=3, **what):
    made_by = SOURCES[code]
    rate = what.pop("rate_hz", made_by.rate_hz)
    scope = ScopeSettings(made_by.range_v, seconds, rate, noise_v=0.001, hum_v=0.0, trigger=what.pop("trigger", None))
    return record_by_hand(code, scope, seed, moves, Stretch(begin_s, seconds), wires=wires, **what)


def signal(code, moves, begin_s, seconds, lane="signal", **what):
    return taken(code, moves, begin_s, seconds, **what).capture.lanes[lane].samples


def readings(code, moves, begin_s, seconds, **what):
    return {r.id: r.value for r in measure(taken(code, moves, begin_s, seconds, **what).capture, code).readings}


class Hands(unittest.TestCase):
    def test_nothing_has_volts_before_the_key_is_on(self):
        for code, lane in (
            ("throttle-position", "signal"),
            ("manifold-pressure", "signal"),
            ("supply-ground", "supply"),
        ):
            with self.subTest(code=code):
                samples = signal(code, [(1.0, "key", 1.0)], 0.0, 2.0, lane=lane)
                half = samples.size // 2
                self.assertLess(np.median(np.abs(samples[: half - 60])), 0.1)
                self.assertGreater(np.median(samples[half + 60 :]), 0.5)

    def test_a_throttle_stands_where_the_hand_puts_it(self):
        moves = [(0.0, "key", 1.0), (1.0, "travel", 0.25), (2.0, "travel", 0.75)]
        samples = signal("throttle-position", moves, 1.5, 1.2)
        # A divider: a quarter and three quarters of the way from its closed stop at 0.62 V to its open one at 4.25 V.
        self.assertAlmostEqual(float(np.median(samples[:400])), 0.62 + 0.25 * 3.63, delta=0.02)
        self.assertAlmostEqual(float(np.median(samples[-400:])), 0.62 + 0.75 * 3.63, delta=0.02)

    def test_the_engine_turns_at_the_speed_that_is_held(self):
        moves = [*STARTED, (6.0, "speed", 2500.0)]
        found = readings("crank-position", moves, 16.0, 1.0)
        self.assertAlmostEqual(found["rpm"], 2500, delta=60)

    def test_an_engine_does_not_run_on_with_the_key_off(self):
        moves = [*STARTED, (6.0, "key", 0.0)]
        running, off = (np.std(signal("crank-position", m, 12.0, 0.5)) for m in (STARTED, moves))
        self.assertLess(off, 0.03)
        self.assertGreater(running, 0.5)

    def test_loads_pull_the_battery_down_and_the_idle_with_it(self):
        loaded = [*STARTED, (8.0, "load", 1.0)]
        before = np.median(signal("supply-ground", STARTED, 11.0, 1.0, lane="battery"))
        after = np.median(signal("supply-ground", loaded, 11.0, 1.0, lane="battery"))
        self.assertLess(after, before - 0.5)
        slow, usual = (readings("crank-position", m, 8.3, 0.5)["rpm"] for m in (loaded, STARTED))
        self.assertLess(slow, usual - 10)

    def test_a_loose_contact_opens_while_it_is_shaken(self):
        moves = [(0.0, "key", 1.0), (3.0, "wiggle", 1.0), (6.0, "wiggle", 0.0)]
        samples = signal("temperature", moves, 0.0, 9.0, fault="dropout")
        open_at = np.flatnonzero(samples > 4.8) * 9.0 / samples.size
        self.assertGreater(open_at.size, 4)
        self.assertGreaterEqual(open_at.min(), 3.0)
        self.assertLess(open_at.max(), 6.1)

    def test_what_fails_hot_fails_warm_and_not_before(self):
        moves = [(0.0, "key", 1.0), (2.0, "heat", 1.0)]
        for code, lane, fault in (
            ("temperature", "signal", "short"),
            ("pedal-position", "reference1", "reference-lost"),
        ):
            with self.subTest(code=code):
                samples = signal(code, moves, 0.5, 24.0, lane=lane, fault=fault)
                per_s = samples.size / 24
                self.assertGreater(samples[: round(2 * per_s)].min(), 1.0)
                self.assertLess(samples[round(12 * per_s) :].min(), 0.4)

    def test_a_wheel_runs_down_by_itself(self):
        moves = [(0.2, "pull", 1.0), (1.2, "pull", 0.0)]
        samples = signal("wheel-speed", moves, 0.0, 6.0)
        thirds = [np.ptp(x) for x in np.array_split(samples, 6)]
        self.assertEqual(int(np.argmax(thirds)), 1)
        self.assertGreater(thirds[2], 1.2 * thirds[5])

    def test_a_module_answers_each_press_once(self):
        moves = [(0.3 + 0.5 * k + d, "press", v) for k in range(6) for d, v in ((0.0, 1.0), (0.1, 0.0))]
        output = signal("igniter-bench", moves, 0.0, 4.0, lane="output")
        low = output < 2.0
        self.assertEqual(int((low[1:] & ~low[:-1]).sum()), 6)

    def test_an_injector_stays_shut_in_the_overrun_and_opens_longer_in_a_snap(self):
        moves = [*STARTED, (8.0, "travel", 1.0), (8.8, "travel", 0.0)]
        low = signal("injector-voltage", moves, 7.0, 4.0, lane="control") < 5.0
        rate = low.size / 4.0
        idle, snap, overrun = (
            float(low[round(a * rate) : round(b * rate)].mean()) for a, b in ((0, 1), (1.2, 1.8), (2.2, 2.8))
        )
        self.assertGreater(snap, 2 * idle)
        self.assertEqual(overrun, 0.0)

    def test_a_longer_look_begins_with_the_samples_of_the_shorter_one(self):
        moves = [*STARTED, (6.0, "travel", 0.4), (6.6, "travel", 0.0), (7.0, "wiggle", 1.0)]
        for code in ("manifold-pressure", "airflow-voltage", "throttle-position", "temperature", "charging"):
            with self.subTest(code=code):
                short, long = (taken(code, moves, 5.0, s, rate_hz=1000, fault="none").capture for s in (2.0, 4.0))
                for name, lane in short.lanes.items():
                    np.testing.assert_allclose(lane.samples, long.lanes[name].samples[: lane.samples.size], atol=CODE_V)


class Wires(unittest.TestCase):
    MOVES = [(0.0, "key", 1.0)]

    def test_a_probe_shows_the_wire_that_it_is_on(self):
        lanes = taken(
            "throttle-position", self.MOVES, 1.0, 1.0, wires={"signal": "reference", "ground": "ground"}
        ).capture.lanes
        self.assertEqual(set(lanes), {"signal", "ground"})
        self.assertAlmostEqual(float(np.median(lanes["signal"].samples)), 5.01, delta=0.05)

    def test_exchanged_probes_are_found_by_measuring(self):
        moves = [*self.MOVES, (2.0, "travel", 0.5), (4.0, "travel", 1.0), (6.0, "travel", 0.0)]
        wires = {"signal": "reference", "reference": "signal", "ground": "ground"}
        found = measure(taken("throttle-position", moves, 1.0, 8.0, wires=wires).capture, "throttle-position")
        self.assertIn("lanes_swapped", [f.code for f in found.findings])

    def test_what_cannot_be_connected_is_refused(self):
        for code, wires in (
            ("throttle-position", {}),
            ("injector-current-parade", {"current": "sync"}),
        ):
            with self.subTest(code=code), self.assertRaises(BadOption):
                taken(code, self.MOVES, 1.0, 1.0, wires=wires)

    def test_a_trigger_cuts_its_record_out_of_the_run(self):
        moves = [(0.0, "key", 1.0), (2.0, "travel", 1.0)]
        scope = Trigger("signal", 2.0, "rising", 0.5)
        made_by = SOURCES["throttle-position"]
        settings_ = ScopeSettings(made_by.range_v, 0.5, 1000, trigger=scope)
        record = record_by_hand("throttle-position", settings_, 3, moves, Stretch(0.5, 3.0)).capture
        samples = record.lanes["signal"].samples
        self.assertEqual(samples.size, 500)
        self.assertLess(samples[200], 2.0)
        self.assertGreater(samples[300], 2.0)
        with self.assertRaises(BadOption):
            record_by_hand("throttle-position", settings_, 3, moves[:1], Stretch(0.5, 3.0))


class OddMoves(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.tuples(
                st.floats(allow_nan=True, allow_infinity=True) | st.floats(0, 5),
                st.sampled_from(["key", "travel", "speed", "load", "heat", "wiggle", "pull", "press", "", "x" * 50]),
                st.floats(allow_nan=True, allow_infinity=True) | st.floats(0, 1),
            ),
            max_size=8,
        )
    )
    def test_moves_are_taken_or_refused_with_a_reason(self, moves):
        try:
            capture = taken("throttle-position", moves, 0.0, 1.0).capture
        except BadOption as why:
            self.assertTrue(str(why))
        else:
            self.assertTrue(np.all(np.isfinite(capture.lanes["signal"].samples)))


if __name__ == "__main__":
    unittest.main()
