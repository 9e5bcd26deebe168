"""What a capture cannot carry condemns nothing, in every circuit by one table: courses and pulses from closed forms.

Beside each stands the same part on a record that can carry it: sound, or with a fault that is still found.
"""

import unittest

import numpy as np

from tests.core.circuits.test_cut_off import MANIFOLD, SWEEP, line
from tests.support.courses import captured, codes
from tests.support.pulses import axis, coil_ramp, control_wire, noisy, piezo
from tracebench.core.circuits import measure


def coded(samples: np.ndarray, step: float) -> np.ndarray:
    return np.round(samples / step) * step


class RangeEnds(unittest.TestCase):
    """Ranges that end within the signal, above or below: its level there is the range's, not the part's."""

    def throttle(self, low: float, high: float = 5.0):
        lane = coded(line(SWEEP, 1000, 0, 24, 0.006), 0.005)
        return measure(captured("throttle-position", 1000, signal=np.clip(lane, low, high)), "throttle-position")

    def test_a_closed_level_under_the_range_condemns_no_stop(self):
        self.assertEqual(self.throttle(0.0).call, "sound")
        for answer in (self.throttle(1.3), self.throttle(2.0), self.throttle(0.0, 3.6)):
            self.assertEqual((answer.call, codes(answer, "fault")), ("inconclusive", []))
            self.assertIn("clipped", codes(answer, "set-up"))

    def test_a_stop_that_is_high_in_a_range_that_holds_it_is_found(self):
        lane = np.maximum(line(SWEEP, 1000, 0, 24, 0.0), 1.3)
        lane = coded(lane + 0.006 * np.random.default_rng(2).standard_normal(lane.size), 0.005)
        answer = measure(captured("throttle-position", 1000, signal=lane), "throttle-position")
        self.assertEqual(codes(answer, "fault"), ["high_closed"])

    def test_an_overrun_under_the_range_tells_nothing_of_the_vacuum(self):
        lane = coded(line(MANIFOLD, 1000, 0, 8, 0.02), 0.01)
        self.assertEqual(measure(captured("manifold-pressure", 1000, signal=lane), "manifold-pressure").call, "sound")
        answer = measure(captured("manifold-pressure", 1000, signal=np.maximum(lane, 1.2)), "manifold-pressure")
        self.assertEqual((answer.call, codes(answer, "fault")), ("inconclusive", []))

    def test_a_square_wave_cut_off_above_swings_no_lower_for_it(self):
        t = np.arange(0, 8, 1e-5)
        phase = np.cumsum(np.where((t > 3) & (t < 5), 6000.0, 2500.0)) * 1e-5
        lane = coded(
            np.where(phase % 1 < 0.5, 5.0, 0.1) + 0.03 * np.random.default_rng(4).standard_normal(t.size), 0.02
        )
        whole = measure(captured("airflow-frequency", 100_000, signal=lane), "airflow-frequency")
        cut = measure(captured("airflow-frequency", 100_000, signal=np.minimum(lane, 4.0)), "airflow-frequency")
        self.assertEqual((whole.call, cut.call), ("sound", "inconclusive"))
        # The same swing on a range that holds it is the part's.
        low = np.where(lane > 2, lane - 1.0, lane)
        part = measure(captured("airflow-frequency", 100_000, signal=low), "airflow-frequency")
        self.assertEqual(codes(part, "fault"), ["low_swing"])

    def wire(self, floor: float, on: float = 0.3):
        times = axis(0.5, 100_000)
        lane = noisy(control_wire(times, 0.02 + 0.06 * np.arange(8), on=on), 0.06, 5, 0.03)
        return measure(captured("injector-voltage", 100_000, control=np.maximum(lane, floor)), "injector-voltage")

    def test_a_wire_that_is_seen_to_kick_is_switched_wherever_the_range_ends(self):
        self.assertEqual(self.wire(-10.0).call, "sound")
        for floor in (3.0, 6.0, 13.9, 20.0, 40.0):
            answer = self.wire(floor)
            self.assertEqual((answer.call, codes(answer, "fault")), ("inconclusive", []), floor)
            self.assertIn("clipped", codes(answer, "set-up"))
        self.assertEqual(codes(self.wire(-10.0, on=3.0), "fault"), ["weak_ground"])

    def test_a_wire_that_only_takes_up_a_neighbours_kicks_is_never_switched(self):
        times = axis(0.5, 100_000)
        taken_up = 20 * np.exp(-((times % 0.06 - 0.02) ** 2) / (2 * 4e-5**2))
        lane = noisy(13.9 + taken_up, 0.06, 6, 0.03)
        answer = measure(captured("injector-voltage", 100_000, control=lane), "injector-voltage")
        self.assertEqual(codes(answer, "fault"), ["no_pulse"])

    def test_a_current_that_rests_on_the_ranges_end_condemns_no_coil_and_a_zero_not_set_is_read_over_it(self):
        times = axis(0.6, 200_000)
        lane = noisy(coil_ramp(times, 0.02 + 0.05 * np.arange(11)), 0.02, 7, 0.01)
        self.assertEqual(self.coil(lane).call, "sound")
        self.assertEqual(codes(self.coil(lane + 0.8), "set-up"), ["zero_not_set"])
        answer = self.coil(np.maximum(lane, 2.5))
        self.assertEqual((answer.call, codes(answer, "fault")), ("inconclusive", []))
        self.assertIn("clipped", codes(answer, "set-up"))

    def test_a_stack_whose_discharges_lie_under_the_range_is_not_told_from_one_that_keeps_its_charge(self):
        times = axis(0.6, 200_000)
        lane = noisy(piezo(times, 0.02 + 0.1 * np.arange(6)), 0.04, 8, 0.02)
        for kept, call in ((lane, "sound"), (np.maximum(lane, -0.5), "inconclusive"), (np.minimum(lane, 1), None)):
            answer = measure(captured("injector-piezo", 200_000, current=kept), "injector-piezo")
            self.assertEqual(codes(answer, "fault"), [])
            self.assertIn(answer.call, (call, "inconclusive"))
        once = (times > 0.12) & (times < 0.2) & (lane < -0.3)
        answer = measure(
            captured("injector-piezo", 200_000, current=np.where(once, noisy(0 * lane, 0.04, 9), lane)),
            "injector-piezo",
        )
        self.assertIn("charge_without_discharge", codes(answer, "fault"))

    def coil(self, lane: np.ndarray):
        return measure(captured("coil-primary-current", 200_000, current=lane), "coil-primary-current")


class FewSamples(unittest.TestCase):
    """A row of coils, one of them out: seen at 50,000 a second, and at three samples a ramp not told from the rest."""

    def coils(self, rate: float, without: int | None = None):
        t = np.arange(round(0.9 * rate)) / rate
        at = np.arange(0.0203, 0.86, 0.0371)
        kept = [s for k, s in enumerate(at) if without is None or k % 4 != without]
        sync = np.zeros(t.size)
        for s in at[::4]:
            sync[(t >= s) & (t < s + 0.004)] = 5.0
        lane = noisy(coil_ramp(t, kept, dwell_ms=3.0, peak=7.5), 0.02)
        capture = captured("coil-primary-current", rate, current=lane, sync=noisy(sync, 0.02))
        return measure(capture, "coil-primary-current", (), {"firing_order": "1-3-4-2"})

    def test_at_three_samples_a_ramp_nothing_is_missing(self):
        for rate in (1000, 1300):
            for without in (None, 2):
                with self.subTest(rate=rate, without=without):
                    answer = self.coils(rate, without)
                    self.assertEqual((answer.call, codes(answer, "fault")), ("inconclusive", []))
                    self.assertIn("undersampled", answer.because)

    def test_at_a_rate_that_shows_ramps_a_missing_one_is_found_though_the_ripple_is_not_seen(self):
        answer = self.coils(50_000, 2)
        self.assertIn("missing_ramp", codes(answer, "fault"))
        self.assertEqual({f.cylinder for f in answer.findings if f.code == "missing_ramp"}, {4})


class Hum(unittest.TestCase):
    def test_hum_on_one_track_is_no_disagreement_and_a_bent_track_is_one(self):
        # A foot by a raised cosine, four seconds down and up, and one track bent by half of it.
        t = axis(20, 2000)
        x = 0.5 - 0.5 * np.cos(2 * np.pi * np.clip((t - 2) % 9, 0, 8) / 8)
        for hum, bend, wanted in (
            (0.0, 0.0, []),
            (0.18, 0.0, []),
            (0.18, 0.6, ["tracks_disagree"]),
            (0.0, 0.6, ["tracks_disagree"]),
        ):
            first = noisy(0.8 + 3 * x + hum * np.sin(2 * np.pi * 50 * t + 1), 0.004, 1, 0.0025)
            second = noisy(0.4 + 1.5 * x + bend * x * (1 - x), 0.004, 2, 0.0025)
            answer = measure(captured("pedal-position", 2000, track1=first, track2=second), "pedal-position")
            with self.subTest(hum=hum, bend=bend):
                self.assertEqual(codes(answer, "fault"), wanted)
                self.assertEqual("noisy" in codes(answer, "set-up"), hum > 0)

    def test_a_wire_under_hum_is_no_weak_ground_and_one_that_is_stays_found(self):
        t = axis(0.5, 100_000)
        wire = {"sound": {"on": 0.3}, "weak": {"on": 3.0}, "stuck": {"on": 0.3, "bump_ms": None}}

        def under(hum: float, kind: str):
            lane = control_wire(t, 0.02 + 0.06 * np.arange(8), **wire[kind]) + hum * np.sin(2 * np.pi * 60 * t + 2)
            lane = noisy(lane, 0.06, 5, 0.03)
            return measure(captured("injector-voltage", 100_000, control=lane), "injector-voltage")

        for hum, call in ((0.0, "sound"), (0.6, "sound"), (1.0, "sound"), (2.0, "inconclusive"), (4.0, "inconclusive")):
            answer = under(hum, "sound")
            with self.subTest(hum=hum):
                self.assertEqual((answer.call, codes(answer, "fault")), (call, []))
                self.assertEqual("noisy" in codes(answer, "set-up"), hum > 0)
        self.assertEqual(codes(under(0.6, "weak"), "fault"), ["weak_ground"])
        self.assertEqual(codes(under(0.6, "stuck"), "fault"), ["no_bump"])

    def test_a_hold_under_hum_stays_a_hold(self):
        """A ramp to 9 A, a hold of 2.5 A for 1.6 ms, 15 in 2 s; mains hum of 0.3 A through it."""
        rate, t = 200_000, np.arange(400_000) / 200_000
        lane = np.zeros(t.size)
        for s in np.arange(0.03, 1.95, 0.131):
            u = 1000 * (t - s)
            lane += np.where((u >= 0) & (u < 0.5), 18 * u, 0)
            held = 2.5 + 6.5 * np.exp(-np.maximum(u - 0.5, 0) / 0.08) + 0.3 * np.sin(2 * np.pi * 14 * u)
            lane += np.where((u >= 0.5) & (u < 2.1), held, 0)
            lane += np.where(u >= 2.1, 2.5 * np.exp(-np.maximum(u - 2.1, 0) / 0.05), 0)
        for hum in (0.0, 0.15, 0.3, 0.5):
            wave = noisy(lane + hum * np.sin(2 * np.pi * 50 * t + 0.3), 0.02)
            answer = measure(captured("injector-peak-hold", rate, current=wave), "injector-peak-hold")
            with self.subTest(hum=hum):
                self.assertEqual((answer.call, codes(answer, "fault")), ("sound", []))
                self.assertEqual("noisy" in codes(answer, "set-up"), hum > 0.1)
                self.assertAlmostEqual(answer.reading("hold_a").value, 2.5, delta=0.15)
