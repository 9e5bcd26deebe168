"""The engine behind all sensors, against closed forms, standards and a reference library."""

import math
import unittest
from dataclasses import replace

import fluids
import numpy as np

from tracebench.bench.parts.engine_sensors import lagged, pump_current_ma, tooth_wave
from tracebench.bench.scan import PARAMETERS
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record, record_with_scan
from tracebench.bench.vehicle.constants import GAMMA, GAS
from tracebench.bench.vehicle.engine import Engine, run
from tracebench.bench.vehicle.petrol_steps import orifice_flow_kg_s
from tracebench.bench.vehicle.script import STEP_S, Segment, laid_out
from tracebench.core.transfer import standard_pressure_kpa

S = Segment


def driven(*segments, engine=None):
    return run(engine or Engine(), laid_out(segments, np.random.default_rng(3)))


WARM = (S("crank", 0.8), S("idle", 6.0))


class Orifice(unittest.TestCase):
    def test_choked_flow_of_the_textbook(self):
        # Anderson, Modern Compressible Flow: m/A = p0 / sqrt(T0) sqrt(gamma/R (2/(gamma+1))^((gamma+1)/(gamma-1))),
        # which is 0.0404 p0 / sqrt(T0) for air.
        flow = orifice_flow_kg_s(1e-4, 101_325, 30_000, 288.15, 1.0)
        self.assertAlmostEqual(flow, 0.0404 * 101_325 / math.sqrt(288.15) * 1e-4, delta=2e-5 * flow / 1e-3)
        self.assertEqual(flow, orifice_flow_kg_s(1e-4, 101_325, 10_000, 288.15, 1.0))

    def test_critical_ratio_is_0_528_and_flow_is_continuous_there(self):
        critical = fluids.P_critical_flow(101_325, GAMMA)
        self.assertAlmostEqual(critical / 101_325, 0.5283, places=4)
        just_below, just_above = (orifice_flow_kg_s(1e-4, 101_325, critical * f, 288, 1.0) for f in (0.999, 1.001))
        self.assertAlmostEqual(just_below, just_above, delta=1e-5 * just_below)

    def test_small_difference_is_incompressible(self):
        # Bernoulli: m = A sqrt(2 rho dp).
        density = 101_325 / (GAS * 288)
        flow = orifice_flow_kg_s(1e-4, 101_325, 101_225, 288, 1.0)
        self.assertAlmostEqual(flow, 1e-4 * math.sqrt(2 * density * 100), delta=0.002 * flow)
        self.assertEqual(orifice_flow_kg_s(1e-4, 101_325, 102_000, 288, 1.0), 0.0)


class Atmosphere(unittest.TestCase):
    def test_against_a_reference_library(self):
        for metres in (0.0, 300.0, 1500.0, 3000.0, 8000.0):
            self.assertAlmostEqual(standard_pressure_kpa(metres), fluids.ATMOSPHERE_1976(metres).P / 1000, delta=0.15)


class Manifold(unittest.TestCase):
    def test_the_first_order_lag_rises_in_2_197_tau(self):
        step = lagged(np.concatenate([np.zeros(100), np.ones(3000)]), 0.2)
        ten, ninety = (int(np.argmax(step >= part)) for part in (0.1, 0.9))
        self.assertAlmostEqual((ninety - ten) * STEP_S, 2.197 * 0.2, delta=0.003)

    def test_a_snap_shows_in_every_quantity(self):
        result = driven(*WARM, S("snap", 0.8), S("idle", 5.0))
        at_idle, at_snap = slice(5500, 6000), slice(6900, 7500)
        self.assertAlmostEqual(float(result.rpm[at_idle].mean()), 800, delta=40)
        self.assertTrue(28 < float(result.manifold_kpa[at_idle].mean()) < 42)
        self.assertGreater(float(result.manifold_kpa[at_snap].max()), 0.96 * result.ambient_kpa)
        self.assertGreater(float(result.rpm[at_snap].max()), 2500)
        overrun = slice(7900, 8200)
        self.assertLess(float(result.manifold_kpa[overrun].min()), float(result.manifold_kpa[at_idle].mean()) - 5)
        self.assertGreater(float(result.mixture[overrun].max()), 1.5)  # fuel is cut
        self.assertLess(float(result.mixture[at_snap].min()), 0.95)  # enriched

    def test_what_flows_in_flows_out_in_steady_running(self):
        engine = Engine()
        result = driven(*WARM, engine=engine)
        rpm, kpa = float(result.rpm[6000:6500].mean()), float(result.manifold_kpa[6000:6500].mean())
        drawn = engine.breathing * engine.displacement_m3 / 2 * rpm / 60 * kpa * 1000 / (GAS * engine.ambient_k)
        self.assertAlmostEqual(float(result.airflow_gs[6000:6500].mean()), 1000 * drawn, delta=0.03 * 1000 * drawn)

    def test_faults_are_physics(self):
        def idle(engine):
            return float(driven(*WARM, engine=engine).manifold_kpa[6000:6500].mean())

        sound = idle(Engine())
        self.assertGreater(idle(replace(Engine(), leak_m2=4e-5)), sound + 8)
        self.assertGreater(idle(replace(Engine(), breathing=0.5)), sound + 8)
        rich = driven(*WARM, engine=replace(Engine(), fuel_gain=1.4))
        self.assertLess(float(np.median(rich.mixture[6000:6500])), 0.95)


class Sensors(unittest.TestCase):
    def test_pump_current_is_zero_at_lambda_1_and_its_sign_is_the_side(self):
        self.assertEqual([float(np.sign(x)) for x in pump_current_ma(np.array([0.9, 1.0, 1.2]))], [-1.0, 0.0, 1.0])

    def test_a_60_2_wheel_has_58_crests_a_turn(self):
        wave = tooth_wave(np.arange(0, 1, 1 / 60_000))
        crests = np.sum((wave[1:-1] > wave[:-2]) & (wave[1:-1] >= wave[2:]) & (wave[1:-1] > 0.9))
        self.assertEqual(int(crests), 58)

    def test_altitude_sets_the_barometer(self):
        settings = ScopeSettings(5.0, 19.0, 1000)
        high = record("manifold-pressure", settings, 4, part={"altitude_m": 2000})
        low = record("manifold-pressure", settings, 4)
        volts = [float(np.median(c.lanes["signal"].samples[:1000])) for c in (high, low)]
        self.assertLess(volts[0], volts[1] - 0.8)

    def test_same_seed_same_samples_for_every_circuit(self):
        for code, source in SOURCES.items():
            settings = ScopeSettings(
                source.range_v, min(2.0, source.manoeuvres[0].duration_s), min(source.rate_hz, 10_000)
            )
            one, two = (record(code, settings, 9) for _ in range(2))
            for name, lane in one.lanes.items():
                np.testing.assert_array_equal(lane.samples, two.lanes[name].samples, f"{code} {name}")


class Scan(unittest.TestCase):
    def test_scaling_of_sae_j1979(self):
        # Service 01: 0C is (256 A + B) / 4 rpm, 0B is A kPa, 05 is A - 40 C, 11 is A x 100 / 255 %, 10 is / 100 g/s.
        for name, raw, value in (
            ("engine speed", b"\x1a\xf8", 1726.0),
            ("manifold pressure", b"\x65", 101.0),
            ("coolant", b"\x7b", 83.0),
            ("throttle", b"\xff", 100.0),
            ("airflow", b"\x01\x6d", 3.65),
            ("controller supply", b"\x37\x14", 14.1),
        ):
            self.assertAlmostEqual(PARAMETERS[name].decoded(raw), value, places=6, msg=name)
            self.assertEqual(PARAMETERS[name].encoded(value), raw, name)

    def test_updates_come_at_the_tools_pace_and_agree_with_the_lanes(self):
        recording = record_with_scan("manifold-pressure", ScopeSettings(5.0, 19.0, 1000), 4)
        points = recording.scan["manifold pressure"]
        gaps = np.diff([t for t, _ in points])
        self.assertTrue(gaps.min() >= 0.05 and gaps.max() <= 0.5)
        at_idle = [v for t, v in points if 4.5 < t < 6.0]
        self.assertTrue(all(v == int(v) for v in at_idle))  # whole kPa, as the standard has it
        self.assertAlmostEqual(float(np.mean(at_idle)), 34.5, delta=1.5)
