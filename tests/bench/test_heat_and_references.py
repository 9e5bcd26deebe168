"""What the engine's heat and the battery do to sensors: against balances and figures worked out by hand."""

import unittest
from dataclasses import replace

import numpy as np

from tracebench.bench.hand import SweepPlan
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.source import Order
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record, record_with_scan
from tracebench.bench.vehicle.constants import HEAT_J_KG, STOICHIOMETRIC
from tracebench.bench.vehicle.electrics import Regulator
from tracebench.bench.vehicle.engine import Engine, run
from tracebench.bench.vehicle.heat import COARSE_S, Jacket, warmed
from tracebench.bench.vehicle.script import Segment, laid_out
from tracebench.core.circuits import measure

S = Segment
STEADY = (S("crank", 0.8), S("idle", 4.0), S("speed", 10.0, 2000))


def lanes(code, seconds, manoeuvre="", **more):
    order = Order(np.arange(round(seconds * 1000)) / 1000, manoeuvre=manoeuvre, rng=np.random.default_rng(4), **more)
    return SOURCES[code].lanes(order), order


class Heat(unittest.TestCase):
    def setUp(self):
        self.run = run(Engine(), laid_out(STEADY, np.random.default_rng(3)))
        self.watts = 0.30 * float(self.run.airflow_gs[-1000:].mean()) / 1000 / STOICHIOMETRIC * HEAT_J_KG

    def test_without_losses_the_fuels_heat_is_in_the_water(self):
        # dT = P t / C.
        lossless = replace(Jacket(), loss_w_k=0.0, thermostat_c=500.0)
        celsius = warmed(lossless, self.run, 20.0, 200.0)
        per_s = float(celsius[1900] - celsius[900]) / (1000 * COARSE_S)
        self.assertAlmostEqual(per_s, self.watts / lossless.capacity_j_k, delta=0.03 * per_s)

    def test_a_shut_thermostat_ends_at_what_the_air_takes(self):
        # P = k (T - T0).
        bare = replace(Jacket(), loss_w_k=150.0, thermostat_c=500.0)
        self.assertAlmostEqual(warmed(bare, self.run, 15.0, 1500.0)[-1], 15 + self.watts / 150.0, delta=1.0)

    def test_an_open_one_holds_the_engine_near_its_opening(self):
        settled = warmed(Jacket(), self.run, 20.0, 1500.0)[-1]
        self.assertTrue(88.0 < settled < 98.0, settled)

    def test_a_warm_up_is_shown_by_the_scan_tool_too(self):
        recording = record_with_scan("temperature", ScopeSettings(5.0, 120.0, 100), 6)
        answer = measure(recording.capture, "temperature")
        self.assertEqual(answer.call, "sound")
        self.assertAlmostEqual(recording.scan["coolant"][0][1], 20, delta=1)
        minutes = (recording.scan["coolant"][-1][1] - recording.scan["coolant"][0][1]) / 2.0
        self.assertAlmostEqual(answer.reading("rate_c_per_min").value, minutes, delta=1.5)
        self.assertEqual({v for _, v in recording.scan["intake air"]}, {20.0})

    def test_a_sensor_that_reads_cold_does_so_for_the_controller(self):
        recording = record_with_scan("temperature", ScopeSettings(5.0, 10.0, 100), 6, "offset", manoeuvre="steady")
        self.assertAlmostEqual(recording.scan["coolant"][0][1], 20 - 9 - 8, delta=1)
        found = measure(recording.capture, "temperature", options={"ambient_c": "20"})
        self.assertIn("implausible_cold_start", found.because)


class References(unittest.TestCase):
    def test_line_regulation_and_drop_out(self):
        battery = np.array([5.0, 12.5, 14.5, 0.3])
        np.testing.assert_allclose(Regulator().held(battery), [4.4, 5.0, 5.003, 0.0])

    def test_a_reference_follows_the_battery_a_little(self):
        resting, _ = lanes("supply-ground", 5.0)
        running, _ = lanes("supply-ground", 5.0, "running")
        rise_v = float(np.median(running["battery"]) - np.median(resting["battery"]))
        self.assertGreater(rise_v, 1.3)
        self.assertAlmostEqual(np.median(running["reference"]) - np.median(resting["reference"]), 0.0015 * rise_v, 4)

    def test_every_sensor_on_it_shows_the_same_supply(self):
        # From key-on to running the battery rises, and what divides the reference rises with it.
        pressure, order = lanes("manifold-pressure", 19.0)
        result, instants = order.memo["run"]
        volts = np.interp(instants, result.times_s, result.battery_v)
        shut = np.interp(instants, result.times_s, result.travel) < 1e-6
        np.testing.assert_allclose(pressure["throttle"][shut], 0.62 * (1 + 0.0003 * (volts[shut] - 12.5)), atol=1e-5)
        self.assertGreater(np.ptp(volts[shut]), 3.0)  # cranking is among it

    def test_a_shorted_feed_pulls_the_reference_up(self):
        faulty, _ = lanes("supply-ground", 5.0, fault="high-reference", severity=0.5)
        self.assertAlmostEqual(float(np.median(faulty["reference"])), 5.01 + 0.8, delta=0.03)


class Driven(unittest.TestCase):
    def test_a_snap_of_the_running_engine_shows_at_throttle_and_pedal(self):
        for code, lane in (("throttle-position", "signal"), ("pedal-position", "track1")):
            capture = record(code, ScopeSettings(10.0, 20.0, 1000), 5, manoeuvre="running", movement=SweepPlan())
            volts = capture.lanes[lane].samples
            opened = np.flatnonzero(np.diff((volts > 2.0).astype(int)) == 1)
            self.assertEqual(opened.size, 2, code)
            answer = measure(capture, code)
            self.assertEqual([f.text for f in answer.findings if f.kind == "fault"], [])

    def test_a_hand_on_the_throttle_turns_the_engine(self):
        points = [(0.0, 0.0), (3.0, 0.0), (3.5, 0.4), (6.0, 0.4), (6.5, 0.0), (12.0, 0.0)]
        pins, order = lanes("throttle-position", 12.0, "running", movement=points)
        result, instants = order.memo["run"]
        rpm = np.interp(instants, result.times_s, result.rpm)
        self.assertAlmostEqual(float(rpm[2500]), 800, delta=40)
        self.assertGreater(float(rpm[5800]), 3000)
        self.assertAlmostEqual(float(rpm[-1]), 800, delta=60)
        self.assertAlmostEqual(float(pins["signal"][5000]), 0.62 + 0.4 * (4.25 - 0.62), delta=0.02)

    def test_fuel_is_cut_over_the_limit(self):
        _, order = lanes("throttle-position", 12.0, "running", movement=[(0.0, 0.0), (2.0, 1.0), (12.0, 1.0)])
        result, _ = order.memo["run"]
        self.assertTrue(7000 < result.rpm.max() < 7150)


if __name__ == "__main__":
    unittest.main()
