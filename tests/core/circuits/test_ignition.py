"""Ignition circuits on ramps and sparks from closed forms. Figures marked CP: common practice, no published source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes
from tests.support.pulses import axis, coil_ramp, noisy, spark
from tracebench.core.answer import Phase
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption

RATE = 200_000
FAST = 500_000
ORDER = (1, 3, 4, 2)
TOLD = {"firing_order": "1-3-4-2"}


def instants(seconds, pitch=0.037, first=0.02):
    return np.arange(first, seconds - 0.03, pitch)


def sync_of(times, at, every=4):
    out = np.zeros(times.size)
    for s in at[::every]:
        out[(times >= s - 0.0004) & (times < s + 0.001)] = 5.0
    return noisy(out, 0.02)


class PrimaryCurrent(unittest.TestCase):
    def setUp(self):
        self.times = axis(0.8, RATE)
        self.at = instants(0.8)

    def lane(self, noise=0.02, without=(), **bad):
        out = np.zeros(self.times.size)
        for k, s in enumerate(self.at):
            if k in without:
                continue
            out += coil_ramp(self.times, [s], **(bad if ORDER[k % 4] == 3 else {}))
        return noisy(out, noise)

    def found(self, lane, options=TOLD, sync=True):
        lanes = {"sync": sync_of(self.times, self.at + 0.003)} if sync else {}
        return measure(
            captured("coil-primary-current", RATE, current=lane, **lanes), "coil-primary-current", (), options
        )

    def test_readings_by_cylinder(self):
        found = self.found(self.lane())
        self.assertEqual((found.call, codes(found)), ("sound", []))
        for cylinder in (1, 2, 3, 4):
            self.assertAlmostEqual(found.reading("dwell_ms", cylinder=cylinder).value, 3.0, delta=0.015)
            self.assertAlmostEqual(found.reading("peak_a", cylinder=cylinder).value, 7.5, delta=0.04)
        self.assertAlmostEqual(found.reading("ramp").value, 2.5, delta=0.02)
        self.assertAlmostEqual(found.reading("cycle_ms").value, 148.0, delta=0.05)
        # Four strokes: a cycle of 148 ms is 120 / 0.148 = 811 turns a minute, four firings a cycle.
        self.assertAlmostEqual(found.reading("rate_hz").value, 4 / 0.148, delta=0.01)

    def test_turn_on_ripple_is_counted_and_measured(self):
        found = self.found(self.lane(noise=0.005))
        # sin with a period of 60 us that dies by exp(-t / 150 us): crests of 0.32, 0.21, 0.14 A and so on.
        self.assertGreaterEqual(found.reading("turn_on_ring_count").value, 3)
        self.assertAlmostEqual(found.reading("turn_on_ring_a").value, 0.35 * np.exp(-0.1), delta=0.04)

    def test_the_odd_cylinder_is_named(self):
        for bad, code in (
            ({"ring_a": 0.0}, "turn_on_abnormal"),
            ({"dwell_ms": 1.8, "peak": 4.5}, "short_dwell"),
            ({"peak": 5.0}, "low_peak"),
        ):
            with self.subTest(code):
                found = self.found(self.lane(**bad))
                self.assertEqual(found.because, (code,))
                self.assertEqual({f.cylinder for f in found.findings}, {3})

    def test_a_current_limit_makes_a_plateau(self):
        found = self.found(self.lane(limit=6.0))
        # 6 A are reached after 2.4 ms of a ramp of 2.5 A/ms; 0.6 ms remain.
        self.assertAlmostEqual(found.reading("limit_flat_ms", cylinder=3).value, 0.6, delta=0.06)
        self.assertEqual(found.reading("limit_flat_ms", cylinder=1).value, 0.0)

    def test_a_dead_driver_and_a_single_missing_ramp(self):
        dead = self.found(self.lane(without=[k for k in range(40) if ORDER[k % 4] == 3]))
        self.assertEqual([(f.code, f.cylinder) for f in dead.findings], [("missing_ramp", 3)])
        once = self.found(self.lane(without=[9]))
        at = next(f for f in once.findings if f.code == "missing_ramp")
        self.assertEqual(at.cylinder, ORDER[9 % 4])
        self.assertTrue(at.from_s < self.at[9] + 0.003 < at.to_s)

    def test_without_sync_they_are_positions(self):
        found = self.found(self.lane(peak=5.0), {"cylinders": "4"}, sync=False)
        self.assertIn("position", next(f.text for f in found.findings if f.code == "low_peak"))

    def test_options_are_checked(self):
        for options, words in (
            ({"firing_order": "1-3-5"}, "each cylinder"),
            ({"firing_order": "front"}, "such as 1-3-4-2"),
            ({"firing_order": "1-2-3", "cylinders": "4"}, "option cylinders says 4"),
        ):
            with self.assertRaisesRegex(BadOption, words):
                self.found(self.lane(), options)


class PrimaryVoltage(unittest.TestCase):
    def setUp(self):
        self.times = axis(0.5, FAST)
        self.at = np.arange(0.02, 0.46, 0.075)

    def found(self, kick=320.0, burn=30.0, burn_ms=1.4, dwell_v=0.6, noise=0.2, **more):
        lane = 14.0 + spark(self.times, self.at + 0.003, peak=kick - 14, burn=burn, burn_ms=burn_ms, **more)
        for s in self.at:
            lane[(self.times >= s) & (self.times < s + 0.003)] = dwell_v
        return measure(captured("coil-primary-voltage", FAST, control=noisy(lane, noise)), "coil-primary-voltage")

    def test_readings_as_drawn(self):
        found = self.found()
        self.assertEqual((found.call, codes(found)), ("sound", []))
        for reading, value, delta in (
            ("supply_v", 14.0, 0.1),
            ("dwell_v", 0.6, 0.05),
            ("dwell_ms", 3.0, 0.005),
            ("kick_v", 320.0, 3.0),
            ("burn_v", 44.0, 0.4),
            ("burn_ms", 1.4, 0.01),
        ):
            self.assertAlmostEqual(found.reading(reading).value, value, delta=delta, msg=reading)
        self.assertGreaterEqual(found.reading("rings_count").value, 4)

    def test_faults(self):
        self.assertIn("short_burn", self.found(burn_ms=0.5).because)
        self.assertIn("long_burn", self.found(burn_ms=2.6).because)
        self.assertEqual(self.found(rings=0).because, ("no_rings",))
        self.assertEqual(self.found(dwell_v=2.2).because, ("weak_driver",))
        self.assertEqual(self.found(kick=150).because, ("low_kick",))
        self.assertIn("no_burn", self.found(burn_ms=0.0).because)

    def test_dwell_ends_with_the_release_and_not_with_the_burn(self):
        for burn_ms in (1.0, 1.8):
            self.assertAlmostEqual(self.found(burn_ms=burn_ms).reading("dwell_ms").value, 3.0, delta=0.005)

    def test_noise_on_a_range_for_the_kick_cannot_tell(self):
        found = self.found(noise=15.0)
        self.assertNotEqual(found.call, "sound")
        self.assertEqual(codes(found, "fault"), [])


class Secondary(unittest.TestCase):
    def setUp(self):
        self.times = axis(1.0, FAST)
        self.at = instants(1.0)

    def lane(self, sign=-1, noise=0.02, **bad):
        out = np.zeros(self.times.size)
        for k, s in enumerate(self.at):
            out += spark(self.times, [s], seed=k, **(bad if ORDER[k % 4] == 3 else {}))
        return sign * noisy(out, noise)

    def found(self, lane, options=TOLD, phases=(), times=None, at=None):
        times, at = self.times if times is None else times, self.at if at is None else at
        capture = captured("secondary-voltage", FAST, secondary=lane, sync=sync_of(times, at))
        return measure(capture, "secondary-voltage", phases, options)

    def test_readings_of_either_sign(self):
        for sign in (-1, 1):
            found = self.found(self.lane(sign))
            self.assertEqual((found.call, codes(found)), ("sound", []))
            self.assertEqual(found.reading("polarity").value, sign)
            self.assertAlmostEqual(found.reading("firing_kv").value, 10.0, delta=0.15)
            self.assertAlmostEqual(found.reading("burn_kv").value, 1.5, delta=0.015)
            self.assertAlmostEqual(found.reading("burn_ms").value, 1.4, delta=0.01)
            self.assertLess(found.reading("burn_hash").value, 0.03)

    def test_the_odd_cylinder_is_named(self):
        for bad, code in (
            ({"burn_ms": 0.0, "peak": 18}, "no_burn"),
            ({"roughness": 0.2}, "burn_hash"),
            ({"burn_ms": 0.4}, "short_burn"),
            ({"peak": 18}, "high_firing"),
            ({"peak": 3.5}, "low_firing"),
            ({"rings": 0}, "no_rings"),
        ):
            with self.subTest(code):
                found = self.found(self.lane(**bad))
                self.assertIn(code, found.because)
                self.assertEqual({f.cylinder for f in found.findings if f.kind == "fault"}, {3})

    def test_hash_is_the_roughness_as_drawn(self):
        found = self.found(self.lane(roughness=0.2))
        self.assertAlmostEqual(found.reading("burn_hash", cylinder=3).value, 0.2, delta=0.02)

    def test_cylinders_that_differ_by_3_kv_are_alike(self):
        # CP: within 3 to 4 kV of each other.
        self.assertEqual(self.found(self.lane(peak=13.0)).call, "sound")

    def test_a_burn_that_collapses_in_a_snap_only(self):
        times = axis(1.6, FAST)
        pitch = np.concatenate([np.full(20, 0.037), np.linspace(0.034, 0.012, 24), np.linspace(0.013, 0.036, 8)])
        at = 0.02 + np.concatenate([[0], np.cumsum(pitch)])
        at = at[at < 1.55]
        for third_ms, because in ((0.2, ("burn_collapses_on_snap",)), (0.8, ())):
            lane = np.zeros(times.size)
            for k, s in enumerate(at):
                loaded = 20 <= k < 45
                burn_ms = (third_ms if ORDER[k % 4] == 3 else 0.9) if loaded else 1.4
                lane += spark(times, [s], peak=16.0 if loaded else 9.0, burn_ms=burn_ms, seed=k)
            found = self.found(noisy(lane, 0.02), times=times, at=at)
            self.assertEqual(found.because, because)
            self.assertAlmostEqual(found.reading("burn_ms").value, 1.4, delta=0.02)
            self.assertAlmostEqual(found.reading("firing_kv").value, 9.0, delta=0.2)
            # The drawn line falls by 15 % within a sample, so that its top is met in between as a rule.
            self.assertTrue(16 * np.exp(-2e-3 / 0.012) < found.reading("snap_firing_kv").value < 16.1)
            told = self.found(noisy(lane, 0.02), phases=[Phase("snap", at[20], at[45])], times=times, at=at)
            self.assertEqual(told.because, because)
            # A snap is no stranger for being one.
            self.assertLess(max(e.unusual for e in told.events), 30)
            self.assertFalse([e for e in told.events if e.by == "burn_ms" and e.unusual >= 12 and third_ms > 0.5])

    def test_one_bad_firing_is_on_top_of_the_unusual_ones(self):
        lane = np.zeros(self.times.size)
        for k, s in enumerate(self.at):
            lane += spark(self.times, [s], seed=k, **({"burn_ms": 0.0, "peak": 20.0} if k == 13 else {}))
        found = self.found(noisy(lane, 0.02))
        self.assertEqual(found.because, ("misfire_intermittent",))
        strangest = max(found.events, key=lambda e: e.unusual)
        self.assertEqual((strangest.number, strangest.cylinder), (14, ORDER[13 % 4]))

    def test_a_pickup_told_in_volts_gives_kilovolts_by_its_factor(self):
        found = self.found(self.lane() / 10, {**TOLD, "kv_per_unit": "10"})
        self.assertAlmostEqual(found.reading("firing_kv").value, 10.0, delta=0.15)
        suspect = self.found(self.lane() * 100)
        self.assertIn("scale_suspect", codes(suspect))
        self.assertAlmostEqual(suspect.reading("firing_kv").value, 10.0, delta=0.15)

    def test_nothing_and_too_much_noise(self):
        self.assertEqual(codes(self.found(noisy(np.zeros(self.times.size), 0.02))), ["flat_line"])
        drowned = self.found(self.lane(noise=0.9))
        self.assertEqual(codes(drowned, "fault"), [])
        self.assertNotEqual(drowned.call, "sound")


class Bench(unittest.TestCase):
    SLOW = 20_000

    def lanes(self, low_ms=3.4, scatter=0.0, follow=False, silent=()):
        times = axis(6.0, self.SLOW)
        rng = np.random.default_rng(4)
        starts = np.arange(0.3, 5.6, 0.5) + rng.uniform(0, 0.1, 11)
        held = rng.uniform(0.02, 0.2, 11)
        trigger, output = np.zeros(times.size), np.full(times.size, 12.6)
        for k, (s, h) in enumerate(zip(starts, held, strict=True)):
            trigger[(times >= s) & (times < s + h)] = 5.0
            width = h if follow else low_ms / 1000 * (1 + scatter * rng.normal())
            if k not in silent:
                output[(times >= s) & (times < s + width)] = 0.3
        return {"trigger": noisy(trigger, 0.02, 1), "output": noisy(output, 0.03, 2)}

    def found(self, **more):
        return measure(captured("igniter-bench", self.SLOW, **self.lanes(**more)), "igniter-bench")

    def test_a_pass_on_the_bench_is_never_sound(self):
        found = self.found()
        self.assertEqual((found.call, found.because), ("inconclusive", ("cold_only",)))
        self.assertIn("hot", found.findings[0].text)
        self.assertEqual(found.reading("pulses_count").value, 11)
        self.assertAlmostEqual(found.reading("output_low_ms").value, 3.4, delta=0.03)
        self.assertLess(found.reading("spread_pct").value, 1.0)
        self.assertLess(abs(found.reading("independent_of_trigger").value), 0.6)

    def test_failing_is_conclusive(self):
        self.assertEqual(self.found(silent=(3, 7)).because, ("misses",))
        self.assertEqual(self.found(silent=(3, 7)).reading("misses_count").value, 2)
        self.assertIn("no_switching", self.found(silent=range(11)).because)
        self.assertEqual(self.found(scatter=0.3).because, ("unstable_width",))

    def test_one_that_never_switches_is_seen_in_noise_that_would_not_hide_switching(self):
        lanes = self.lanes(silent=range(11))
        for noise, because in ((0.15, "no_switching"), (1.5, "noisy")):
            rough = {**lanes, "output": noisy(lanes["output"], noise, 5)}
            self.assertIn(because, measure(captured("igniter-bench", self.SLOW, **rough), "igniter-bench").because)

    def test_an_output_that_follows_its_trigger_says_so(self):
        self.assertGreater(self.found(follow=True).reading("independent_of_trigger").value, 0.95)

    def test_too_few_triggers_and_nothing(self):
        lanes = {n: v[: int(1.4 * self.SLOW)] for n, v in self.lanes().items()}
        self.assertIn("too_short", codes(measure(captured("igniter-bench", self.SLOW, **lanes), "igniter-bench")))
        dead = {"output": noisy(np.full(40_000, 12.6), 0.03)}
        self.assertEqual(codes(measure(captured("igniter-bench", self.SLOW, **dead), "igniter-bench")), ["flat_line"])


if __name__ == "__main__":
    unittest.main()
