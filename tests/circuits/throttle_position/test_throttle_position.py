"""Throttle position on sweeps from a formula of their own. Figures marked CP: common practice, no published source."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.waves import Sweep, steady
from tracebench.core.answer import Limit, Phase
from tracebench.core.capture import Lane, capture_from_stamps
from tracebench.core.circuits import measure
from tracebench.core.errors import BadCapture, BadOption, UnknownCircuit

CODE = "throttle-position"
SLOW = Sweep()


def codes(answer, kind=None):
    return [f.code for f in answer.findings if kind is None or f.kind == kind]


class SoundSweep(unittest.TestCase):
    def setUp(self):
        self.answer = measure(SLOW.capture(), CODE)

    def test_call_is_sound_without_findings(self):
        self.assertEqual((self.answer.call, self.answer.because, codes(self.answer)), ("sound", (), []))

    def test_levels_are_exact(self):
        self.assertAlmostEqual(self.answer.reading("closed_v").value, 0.7, delta=0.005 * 0.175)
        self.assertAlmostEqual(self.answer.reading("open_v").value, 4.2, delta=0.005 * 0.175)

    def test_each_sweep_keeps_its_own_open_level(self):
        self.assertAlmostEqual(self.answer.reading("open_v", 1).value, 4.2, places=3)
        self.assertAlmostEqual(self.answer.reading("open_v", 2).value, 4.2, places=3)

    def test_durations_follow_the_ten_to_ninety_rule(self):
        # A straight stroke of 5.5 s takes 0.8 x 5.5 s from 10 to 90 % (IEEE Std 181-2011).
        for reading_id in ("opening_s", "closing_s"):
            self.assertAlmostEqual(self.answer.reading(reading_id).value, 4.4, delta=0.022)

    def test_sweeps_are_counted_and_phases_in_turn(self):
        self.assertEqual(self.answer.reading("sweeps_count").value, 2)
        names = [p.name for p in self.answer.phases]
        self.assertEqual(names, ["closed", "opening", "open", "closing"] * 2 + ["closed"])
        self.assertEqual([p.cycle for p in self.answer.phases if p.name == "open"], [1, 2])

    def test_what_cannot_be_given_is_missing_with_its_reason(self):
        missing = {m.reading: m.why for m in self.answer.missing}
        self.assertIn("no dropout", missing["dropout_depth_v"])
        self.assertIsNone(self.answer.reading("dropout_depth_v"))

    def test_instants_are_on_the_files_own_axis(self):
        moved = measure(Sweep(start_s=-3.0).capture(), CODE)
        self.assertAlmostEqual(moved.phases[0].from_s, -3.0, places=3)
        self.assertAlmostEqual(moved.reading("closed_v").from_s, self.answer.reading("closed_v").from_s - 3, places=3)


class Recorders(unittest.TestCase):
    """Accuracy over rates from 100 Hz to 1 MHz and 8 to 16 bits, clean and with one percent of noise."""

    def check(self, sweep: Sweep, levels: float, times: float):
        answer = measure(sweep.capture(), CODE)
        swing = sweep.open_v - sweep.closed_v
        self.assertEqual([], codes(answer, "fault"), sweep)
        self.assertNotEqual(answer.call, "faulty")
        self.assertAlmostEqual(answer.reading("closed_v").value, sweep.closed_v, delta=levels * swing)
        self.assertAlmostEqual(answer.reading("open_v").value, sweep.open_v, delta=levels * swing)
        expected = 0.8 * sweep.way_s
        self.assertAlmostEqual(
            answer.reading("opening_s").value, expected, delta=max(times * expected, 3 / sweep.rate_hz)
        )

    def test_clean_at_every_rate(self):
        for rate in (100.0, 250.0, 1000.0, 20_000.0):
            self.check(Sweep(rate_hz=rate), 0.005, 0.005)

    def test_a_million_samples_a_second(self):
        self.check(Sweep(rate_hz=1e6, way_s=1.2, hold_s=0.5, noise_v=0.01, bits=12), 0.01, 0.02)

    def test_bits(self):
        for bits in (8, 10, 12, 16):
            self.check(Sweep(bits=bits, noise_v=0.02), 0.01, 0.02)

    def test_noise_of_one_percent(self):
        for seed in range(6):
            self.check(Sweep(noise_v=0.035, seed=seed), 0.01, 0.02)

    def test_hum_of_mains_and_alternator(self):
        for hum_hz in (50.0, 60.0, 400.0):
            self.check(Sweep(hum_v=0.03, hum_hz=hum_hz, noise_v=0.005), 0.01, 0.02)

    @settings(max_examples=60, deadline=None)
    @given(
        rate=st.sampled_from([120.0, 500.0, 2000.0, 10_000.0]),
        bits=st.sampled_from([10, 12, 16, None]),
        noise=st.sampled_from([0.0, 0.003, 0.01, 0.03]),
        closed=st.floats(min_value=0.52, max_value=0.95),
        opened=st.floats(min_value=3.9, max_value=4.5),
        way=st.floats(min_value=1.0, max_value=8.0),
        hold=st.floats(min_value=0.5, max_value=2.0),
        sweeps=st.integers(min_value=2, max_value=3),
        seed=st.integers(min_value=0, max_value=99),
    )
    def test_sound_variations_have_no_fault(self, rate, bits, noise, closed, opened, way, hold, sweeps, seed):
        sweep = Sweep(closed, opened, way, hold, sweeps, rate, noise, bits=bits, seed=seed)
        answer = measure(sweep.capture(), CODE)
        self.assertEqual([], codes(answer, "fault"))
        self.assertEqual(answer.reading("sweeps_count").value, sweeps)


class CommonPractice(unittest.TestCase):
    """CP figures, and the maker's figure outranking them."""

    def answer(self, closed=0.7, opened=4.2, limits=()):
        return measure(Sweep(closed_v=closed, open_v=opened).capture(), CODE, limits=limits)

    def test_0_38_v_closed_is_outside_a_makers_0_45_to_0_55(self):
        found = self.answer(closed=0.38, limits=[Limit("closed_v", 0.45, 0.55, "maker")])
        self.assertEqual(found.deciding_limit("closed_v").state, "outside")
        self.assertEqual(found.call, "faulty")
        self.assertIn("low_closed", found.because)

    def test_3_77_v_open_passes_a_makers_3_6_and_is_marginal_to_3_8(self):
        found = self.answer(opened=3.77, limits=[Limit("open_v", 3.6, None, "maker")])
        states = {j.limit.basis: j.state for j in found.limits if j.limit.reading == "open_v"}
        self.assertEqual(states, {"maker": "inside", "common-practice": "marginal"})
        self.assertEqual((found.call, found.because), ("sound", ()))

    def test_3_77_v_alone_is_sound_with_the_limit_named(self):
        found = self.answer(opened=3.77)
        self.assertEqual((found.call, found.because), ("sound", ("open_v",)))

    def test_high_closed_and_low_open(self):
        self.assertIn("high_closed", self.answer(closed=1.3).because)
        self.assertIn("low_open", self.answer(opened=3.2).because)


class Dropouts(unittest.TestCase):
    def worn(self, width=0.007, depth=1.5, **kw):
        sweep = Sweep(rate_hz=2000, **kw)
        places = [sweep.instant_of_travel(0.14, sweep=s, closing=c) for s in range(sweep.sweeps) for c in (False, True)]
        return places, Sweep(rate_hz=2000, dips=tuple((p, width, depth) for p in places), **kw)

    def test_worn_spot_is_found_at_its_travel_in_each_pass(self):
        places, sweep = self.worn(noise_v=0.005)
        answer = measure(sweep.capture(), CODE)
        found = [f for f in answer.findings if f.code == "dropout"]
        self.assertEqual(answer.call, "faulty")
        self.assertEqual(len(found), 4)
        for place, finding in zip(places, found, strict=True):
            self.assertAlmostEqual((finding.from_s + finding.to_s) / 2, place, delta=0.005)
        self.assertAlmostEqual(answer.reading("dropout_depth_v").value, 1.5, delta=0.03)
        self.assertAlmostEqual(answer.reading("dropout_travel_pct").value, 14, delta=1)
        self.assertIn("same travel", found[0].text)

    def test_2_ms_is_found_that_meter_updates_of_250_ms_miss(self):
        sweep = Sweep(rate_hz=5000, dips=((3.0, 0.002, 0.9),), noise_v=0.004)
        self.assertEqual(measure(sweep.capture(), CODE).reading("dropouts_count").value, 1)
        times, volts = sweep.samples()
        meter = slice(10, None, 1250)  # what a meter shows every quarter second
        lanes = {"signal": Lane("signal", volts[meter], "V")}
        answer = measure(capture_from_stamps(times[meter], lanes), CODE)
        self.assertNotIn("dropout", codes(answer))
        self.assertEqual(answer.call, "inconclusive")
        self.assertIn("undersampled", answer.because)

    def test_text_says_that_reference_and_ground_stayed_flat(self):
        _, sweep = self.worn()
        capture = sweep.capture(reference=steady(sweep, 5.0), ground=steady(sweep, 0.02))
        text = next(f.text for f in measure(capture, CODE).findings if f.code == "dropout")
        self.assertIn("reference and ground stay flat", text)

    def test_upward_ones_are_spikes(self):
        sweep = Sweep(rate_hz=2000, dips=((3.0, 0.01, -0.6),))
        answer = measure(sweep.capture(), CODE)
        self.assertEqual(codes(answer, "fault"), ["spike"])
        self.assertEqual(answer.reading("dropouts_count").value, 0)

    def test_a_fall_that_stays_is_a_reversal(self):
        sweep = Sweep(rate_hz=1000)
        times, volts = sweep.samples()
        volts = volts - 0.3 * ((times > 3.0) & (times < 3.6))
        answer = measure(capture_from_stamps(times, {"signal": Lane("signal", volts, "V")}), CODE)
        self.assertGreater(answer.reading("reversal_v").value, 0.2)
        self.assertIn("reversal_v", answer.because)


class Electrical(unittest.TestCase):
    """Open and short circuits: a level outside what travel can give."""

    def flat(self, volts: float, **lanes):
        sweep = Sweep()
        times, _ = sweep.samples()
        all_lanes = {"signal": Lane("signal", steady(sweep, volts), "V")}
        all_lanes |= {n: Lane(n, steady(sweep, v, seed=3), "V") for n, v in lanes.items()}
        return capture_from_stamps(times, all_lanes)

    def test_near_the_reference_is_stuck_high(self):
        answer = measure(self.flat(4.97), CODE)
        self.assertEqual((answer.call, answer.because), ("faulty", ("stuck_high",)))

    def test_zero_with_a_live_reference_is_stuck_low(self):
        answer = measure(self.flat(0.01, reference=5.0), CODE)
        self.assertEqual(answer.because, ("stuck_low",))

    def test_zero_without_proof_is_a_flat_line(self):
        answer = measure(self.flat(0.01), CODE)
        self.assertEqual(answer.call, "inconclusive")
        self.assertIn("flat_line", answer.because)

    def test_zero_in_told_phases_is_stuck_low(self):
        told = [Phase("closed", 0.0, 1.0), Phase("open", 6.0, 7.0)]
        self.assertIn("stuck_low", codes(measure(self.flat(0.0), CODE, told)))

    def test_a_steady_level_between_was_not_swept(self):
        answer = measure(self.flat(1.2), CODE)
        self.assertEqual((answer.call, answer.because), ("inconclusive", ("missing_phase",)))

    def test_low_reference_and_high_ground_are_named(self):
        sweep = Sweep(open_v=3.9)
        capture = sweep.capture(reference=steady(sweep, 4.5), ground=steady(sweep, 0.3))
        self.assertLessEqual({"reference_low", "ground_high"}, set(measure(capture, CODE).because))


class SetUpFindings(unittest.TestCase):
    """Each set-up finding provoked, and a near miss that must not provoke it."""

    def found(self, capture, **kw):
        return codes(measure(capture, CODE, **kw), "set-up")

    def scaled(self, factor):
        times, volts = Sweep().samples()
        return capture_from_stamps(times, {"signal": Lane("signal", volts * factor, "V")})

    def test_scale_suspect_is_named_and_read_corrected(self):
        for factor in (1000.0, 10.0, 0.1):
            answer = measure(self.scaled(factor), CODE)
            self.assertIn("scale_suspect", codes(answer))
            self.assertAlmostEqual(answer.reading("closed_v").value, 0.7, places=2)
        self.assertNotIn("scale_suspect", self.found(self.scaled(0.8)))

    def test_reversed_polarity_is_read_inverted(self):
        answer = measure(self.scaled(-1.0), CODE)
        self.assertIn("reversed_polarity", codes(answer))
        self.assertAlmostEqual(answer.reading("open_v").value, 4.2, places=2)

    def test_swapped_lanes_are_exchanged(self):
        sweep = Sweep()
        times, volts = sweep.samples()
        lanes = {
            "signal": Lane("signal", steady(sweep, 5.0), "V"),
            "reference": Lane("reference", volts, "V"),
        }
        answer = measure(capture_from_stamps(times, lanes), CODE)
        self.assertIn("lanes_swapped", codes(answer))
        self.assertAlmostEqual(answer.reading("open_v").value, 4.2, places=2)

    def test_clipped_where_the_range_ends(self):
        noisy = dict(noise_v=0.02, bits=12)
        self.assertIn("clipped", self.found(Sweep(range_v=4.0, **noisy).capture()))
        self.assertNotIn("clipped", self.found(Sweep(range_v=5.0, **noisy).capture()))

    def test_low_range_use(self):
        self.assertIn("low_range_use", self.found(Sweep(range_v=200, bits=10, noise_v=0.05).capture()))
        self.assertNotIn("low_range_use", self.found(Sweep(range_v=20, bits=8, noise_v=0.02).capture()))

    def test_one_sweep_is_too_short(self):
        answer = measure(Sweep(sweeps=1).capture(), CODE)
        self.assertEqual((answer.call, answer.because), ("inconclusive", ("too_short",)))
        self.assertNotIn("sweeps_count", [j.limit.reading for j in answer.limits])

    def test_probe_slip_is_never_the_part(self):
        sweep = Sweep(rate_hz=1000)
        times, volts = sweep.samples()
        slipped = np.where((times > 4.0) & (times < 4.4), 0.0, volts)
        answer = measure(capture_from_stamps(times, {"signal": Lane("signal", slipped, "V")}), CODE)
        self.assertEqual(codes(answer, "fault"), [])
        self.assertEqual((answer.call, answer.because), ("inconclusive", ("probe_slip",)))
        self.assertAlmostEqual(answer.reading("closed_v").value, 0.7, places=2)

    def test_a_slip_in_heavy_noise_is_still_not_the_part(self):
        for rate in (100.0, 1000.0):
            sweep = Sweep(rate_hz=rate, noise_v=0.1, seed=4)
            times, volts = sweep.samples()
            gone = (times > 9.0) & (times < 9.4)
            volts = np.where(gone, np.random.default_rng(8).normal(0, 0.1, volts.size), volts)
            found = measure(capture_from_stamps(times, {"signal": Lane("signal", volts, "V")}), CODE)
            self.assertEqual((found.call, codes(found, "fault")), ("inconclusive", []))
            self.assertIn("probe_slip", codes(found))

    def test_noise_that_hides_a_worn_spot_calls_nothing_sound(self):
        for noise, call in ((0.03, "sound"), (0.12, "inconclusive")):
            found = measure(Sweep(noise_v=noise).capture(), CODE)
            self.assertEqual(found.call, call)
            self.assertEqual("noisy" in codes(found), call == "inconclusive")

    def test_schools_of_sweep_speed(self):
        quick = Sweep(way_s=2.0, rate_hz=1000)
        dense = measure(quick.capture(), CODE)
        self.assertEqual((dense.call, "sweep_too_fast" in dense.because), ("sound", True))
        self.assertEqual(codes(measure(quick.capture(), CODE, options={"sweep": "any"})), [])
        thin = measure(Sweep(way_s=1.0, rate_hz=100).capture(), CODE, options={"sweep": "any"})
        self.assertEqual((thin.call, thin.because), ("inconclusive", ("sweep_too_fast",)))
        self.assertEqual(codes(measure(Sweep(way_s=5.5).capture(), CODE)), [])


class Told(unittest.TestCase):
    def test_told_phases_win(self):
        told = [Phase("closed", 0.1, 0.5), Phase("open", 6.7, 7.2)]
        answer = measure(SLOW.capture(), CODE, told)
        self.assertEqual([p.from_s for p in answer.phases if p.name == "closed"][0], 0.1)
        # Told ones stand for all of their name; how the record goes is not forgotten for it.
        self.assertEqual([(p.from_s, p.to_s, p.cycle) for p in answer.phases if p.name == "open"], [(6.7, 7.2, 1)])
        self.assertEqual(answer.reading("sweeps_count").value, 2)
        self.assertAlmostEqual(answer.reading("open_v").value, 4.2, places=2)

    def test_refusals_say_what_is_known(self):
        capture = SLOW.capture()
        for call, error, words in (
            (lambda: measure(capture, "nope"), UnknownCircuit, "throttle-position"),
            (lambda: measure(capture, CODE, [Phase("idle", 0, 1)]), BadOption, "closed"),
            (lambda: measure(capture, CODE, [Phase("closed", 2, 1)]), BadOption, "before"),
            (lambda: measure(capture, CODE, [Phase("closed", 900, 901)]), BadOption, "outside the record"),
            (lambda: measure(capture, CODE, options={"x": "1"}), BadOption, "reference_v"),
            (lambda: measure(capture, CODE, options={"sweep": "wild"}), BadOption, "slow, any"),
            (lambda: measure(capture, CODE, options={"reference_v": "high"}), BadOption, "must be a number"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(error, words):
                call()

    def test_a_needed_lane_must_be_there(self):
        times, volts = SLOW.samples()
        with self.assertRaisesRegex(BadCapture, "signal"):
            measure(capture_from_stamps(times, {"ground": Lane("ground", volts, "V")}), CODE)


class Repeatable(unittest.TestCase):
    def test_the_same_capture_gives_the_same_answer(self):
        capture = Sweep(noise_v=0.02, hum_v=0.01).capture()
        self.assertEqual(measure(capture, CODE).as_json(), measure(capture, CODE).as_json())
