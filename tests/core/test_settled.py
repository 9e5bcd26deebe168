"""What was settled of measurements after their first version, each point on signals by formula."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.outside.captures import flat, smooth
from tests.support.courses import captured, codes
from tests.support.pulses import axis, control_wire
from tracebench.core.answer import Limit
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.errors import BadCapture


def sine(amplitude: float, hertz: float, level: float, rate: float = 2000, seconds: float = 4.0) -> np.ndarray:
    return level + amplitude * np.sin(2 * np.pi * hertz * np.arange(round(seconds * rate)) / rate)


def warm(volts: float = 2.0, seconds: float = 8.0) -> np.ndarray:
    return flat(seconds, 500, volts, 0.002)


class Settled(unittest.TestCase):
    def test_ripple_of_a_sine_is_twice_its_amplitude_trend_and_noise_aside(self):
        noise = np.random.default_rng(4).normal(0, 0.001, 8000)
        drift = np.linspace(0, 0.3, 8000)
        for wave in (sine(0.05, 120, 14.0), sine(0.05, 120, 14.0) + noise, sine(0.05, 120, 14.0) + drift):
            answer = measure(captured("supply-ground", 2000, supply=wave), "supply-ground")
            self.assertAlmostEqual(answer.reading("ripple_mv").value, 100, delta=2)
            self.assertEqual(answer.reading("ripple_mv").unit, "mV")
        answer = measure(captured("charging", 2000, sense=sine(0.05, 120, 14.0) + noise), "charging")
        self.assertAlmostEqual(answer.reading("ripple_v").value, 0.1, delta=0.003)

    def test_a_short_departure_of_a_temperature_is_a_dropout_and_a_long_one_an_open_or_a_short(self):
        for lasts_s, level, code in (
            (0.10, 5.0, "dropout"),
            (0.14, 0.0, "dropout"),
            (0.60, 5.0, "open_circuit"),
            (0.60, 0.0, "short_circuit"),
        ):
            lane = warm()
            lane[2000 : 2000 + round(500 * lasts_s)] = level
            with self.subTest(lasts_s=lasts_s, level=level):
                found = codes(measure(captured("temperature", 500, signal=lane), "temperature"), "fault")
                self.assertEqual(found, [code])

    def test_idle_alone_of_an_airflow_frequency_cannot_tell(self):
        t = np.arange(600_000) / 100_000
        lane = np.where((2100 * t) % 1 < 0.5, 4.9, 0.1)
        answer = measure(captured("airflow-frequency", 100_000, signal=lane), "airflow-frequency")
        self.assertEqual(answer.call, "inconclusive")
        self.assertIn("missing_phase", codes(answer, "set-up"))

    def test_duty_is_the_share_of_time_above_the_middle(self):
        t = np.arange(600_000) / 1_000_000
        for high in (0.302, 0.702):  # between two samples: no edge hangs on rounding
            lane = np.where((2000 * t) % 1 < high, 4.9, 0.1)
            answer = measure(captured("airflow-frequency", 1_000_000, signal=lane), "airflow-frequency")
            self.assertAlmostEqual(answer.reading("duty_pct").value, 100 * high, delta=0.21)

    def test_a_driven_wire_is_on_from_half_way_to_half_way(self):
        # Edges of 40 us each way: from middle to middle, 2.5 ms whatever their slope.
        rate = 200_000
        lane = control_wire(axis(0.3, rate), [0.03, 0.09, 0.15, 0.21, 0.27], on_ms=2.5)
        answer = measure(captured("injector-voltage", rate, control=lane), "injector-voltage")
        self.assertAlmostEqual(answer.reading("on_ms").value, 2.5, delta=0.006)

    def test_no_level_on_a_lane_of_codes_is_known_for_certain(self):
        for step in (0.02, 0.1):
            lane = np.round(smooth(8.0, 500, (0, 2.0), (4, 2.0), (4.4, 3.0), (8.0, 3.0), noise=0) / step) * step
            answer = measure(captured("temperature", 500, signal=lane), "temperature")
            self.assertGreaterEqual(answer.reading("volts").uncertainty, 0.99 * step / math.sqrt(12))

    def test_a_second_lane_has_the_same_ids_and_names_itself_and_its_fault_counts(self):
        rate, at = 200_000, [0.03, 0.09, 0.15, 0.21, 0.27]
        first = control_wire(axis(0.3, rate), at, on_ms=2.5)
        weak = control_wire(axis(0.3, rate), [t + 0.03 for t in at[:-1]], on_ms=2.5, kick=28.0)
        answer = measure(captured("injector-voltage", rate, control=first, control2=weak), "injector-voltage")
        for reading_id in ("on_ms", "kick_v"):
            lanes = {r.lane for r in answer.readings if r.id == reading_id and r.cycle is None and r.cylinder is None}
            self.assertEqual(lanes, {"control", "control2"})
        # What limits and cards mean is the first lane's.
        self.assertEqual(answer.reading("kick_v").lane, "control")
        held = [Limit("kick_v", 55.0, 90.0, "maker")]
        answer = measure(
            captured("injector-voltage", rate, control=first, control2=weak), "injector-voltage", limits=held
        )
        self.assertEqual(answer.call, "faulty")
        self.assertEqual({f.lane for f in answer.findings if f.kind == "fault"}, {"control2"})

    def test_a_limit_never_condemns_a_level_that_was_clipped(self):
        # Open level 4.4 V on a range that ends at 4.0, against a limit of 4.3 to 4.5 V.
        lane = smooth(14.0, 1000, (0, 0.6), (1.5, 0.6), (6, 4.4), (8, 4.4), (12.5, 0.6), (14, 0.6))
        held = [Limit("open_v", 4.3, 4.5, "maker")]
        answer = measure(
            captured("throttle-position", 1000, signal=np.minimum(lane, 4.0)), "throttle-position", limits=held
        )
        self.assertIn("clipped", codes(answer, "set-up"))
        self.assertEqual(answer.call, "inconclusive")
        self.assertEqual(codes(answer, "fault"), [])

    def test_a_finding_carries_each_of_its_places_and_their_number(self):
        lane = smooth(14.0, 1000, (0, 0.6), (1.5, 0.6), (6, 4.4), (8, 4.4), (12.5, 0.6), (14, 0.6))
        lane[3000:3010] -= 1.0
        lane[10930:10940] -= 1.0
        answer = measure(captured("throttle-position", 1000, signal=lane), "throttle-position").as_json()
        found = next(f for f in answer["findings"] if f["code"] == "dropout")
        self.assertGreaterEqual(found["count"], 2)
        self.assertEqual([found["from"], found["to"]], found["places"][0])
        for at in (3.005, 10.935):
            self.assertTrue(any(a - 0.02 <= at <= b + 0.02 for a, b in found["places"]), at)


class NoNumberThatIsNone(unittest.TestCase):
    """No answer holds NaN or infinity, whatever the file."""

    @settings(max_examples=25, deadline=None)
    @given(
        seed=st.integers(0, 10**6),
        shape=st.sampled_from(["noise", "constant", "spike", "ramp", "square", "huge", "tiny"]),
        count=st.integers(16, 4000),
        rate=st.sampled_from([10.0, 1e3, 1e5, 1e7]),
    )
    def test_of_any_circuit(self, seed, shape, count, rate):
        rng = np.random.default_rng(seed)
        base = {
            "noise": rng.normal(0, 1, count),
            "constant": np.full(count, rng.uniform(-5, 15)),
            "spike": np.where(np.arange(count) == count // 2, 300.0, 0.0),
            "ramp": np.linspace(-3, 12, count),
            "square": np.where((np.arange(count) // max(1, count // 20)) % 2, 12.0, 0.2),
            "huge": rng.normal(0, 1e12, count),
            "tiny": rng.normal(0, 1e-12, count),
        }[shape]
        for code, kind in CIRCUITS.items():
            lanes = {lane.name: base + 0.01 * k for k, lane in enumerate(kind.lanes)}
            try:
                answer = measure(captured(code, rate, **lanes), code).as_json()
            except BadCapture:
                continue
            self._finite(answer, f"{code}, {shape}")

    def _finite(self, part, where: str) -> None:
        if isinstance(part, float):
            self.assertTrue(math.isfinite(part), where)
        elif isinstance(part, dict):
            for key, value in part.items():
                self._finite(value, f"{where}: {key}")
        elif isinstance(part, list):
            for value in part:
                self._finite(value, where)


if __name__ == "__main__":
    unittest.main()
