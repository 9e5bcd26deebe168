"""The common-rail diesel and the supply of both engines, against balances worked out by hand."""

import unittest
from dataclasses import replace

import numpy as np

from tracebench.bench.source import Order
from tracebench.bench.sources import SOURCES
from tracebench.bench.vehicle.diesel import Diesel, run_diesel
from tracebench.bench.vehicle.diesel_steps import BULK_PA, FUEL_KG_M3
from tracebench.bench.vehicle.electrics import Supply, ripple_shape, supplied
from tracebench.bench.vehicle.script import STEP_S, Segment, laid_out

S = Segment
DRIVE = (S("key_on", 1.0), S("crank", 0.9), S("idle", 6.0), S("snap", 2.2), S("idle", 6.0), S("off", 6.0))


def driven(engine=None):
    return run_diesel(engine or Diesel(), laid_out(DRIVE, np.random.default_rng(3)))


class Rail(unittest.TestCase):
    def test_a_stiff_volume_fills_by_its_bulk_modulus(self):
        # dp/dt = K/V Q with the whole of the pump's delivery while it is far from what is asked.
        engine = Diesel(leak_m3_s_bar=0.0)
        run = driven(engine)
        k = int(np.argmax(run.rail_bar > 40))
        delivered = engine.pump_m3_turn * run.rpm[k] / 60 / 2
        slope = (run.rail_bar[k + 5] - run.rail_bar[k - 5]) / (10 * STEP_S) * 1e5
        self.assertAlmostEqual(slope, BULK_PA / engine.rail_m3 * delivered, delta=0.12 * slope)

    def test_after_stop_it_falls_by_leakage_alone(self):
        # First order: tau = V / (K x leak), 24 ml over 1.4 GPa and 0.55 mm3/s for each bar is 3.1 s.
        run = driven()
        still = np.flatnonzero((run.key == 0) & (run.rpm == 0))
        rest = run.rail_bar[still]
        tau = -STEP_S * (rest.size - 1) / np.log(rest[-1] / rest[0])
        self.assertAlmostEqual(tau, 24e-6 / (BULK_PA * 0.55e-9 / 1e5), delta=0.02 * tau)

    def test_what_the_pump_gives_is_burnt_or_leaks_at_idle(self):
        engine, run = Diesel(), driven()
        at = int(6.5 / STEP_S)
        burnt = run.fuel_mg[at] * 1e-6 / FUEL_KG_M3 * engine.cylinders / 2 * run.rpm[at] / 60
        leaked = engine.leak_m3_s_bar * run.rail_bar[at]
        self.assertLess(burnt + leaked, engine.pump_m3_turn * run.rpm[at] / 60 / 2)
        self.assertAlmostEqual(run.rail_bar[at], 325, delta=4)
        self.assertAlmostEqual(run.rpm[at], engine.idle_rpm, delta=60)

    def test_faults_are_physics(self):
        sound = driven()
        self.assertGreater(sound.rail_bar.max(), 900)
        self.assertLess(driven(Diesel(relief_bar=450.0)).rail_bar.max(), 600)
        worn = driven(Diesel(pump_m3_turn=0.3 * 0.62e-6, leak_m3_s_bar=1.9e-9))
        arrives = [float(np.argmax(r.rail_bar > 300)) * STEP_S for r in (sound, worn)]
        self.assertGreater(arrives[1] - arrives[0], 1.2)
        hunting = driven(Diesel(valve_delay_s=0.22))
        part = slice(int(4.5 / STEP_S), int(7.0 / STEP_S))
        self.assertGreater(np.ptp(hunting.rail_bar[part]), 20 * np.ptp(sound.rail_bar[part]))

    def test_an_engine_that_never_builds_pressure_is_cranked_for_a_while_and_never_runs(self):
        run = driven(Diesel(pump_m3_turn=0.02e-6))
        self.assertLess(run.rpm.max(), 300)
        self.assertEqual(run.rpm[-1], 0.0)
        self.assertEqual(run.fuel_mg.max(), 0.0)


def steady(supply, rpm, seconds=4.0, starter=0.0):
    size = round(seconds / STEP_S)
    return float(supplied(supply, np.full(size, rpm), np.full(size, starter), np.ones(size))[-1])


class Electrics(unittest.TestCase):
    def test_levels_by_hand(self):
        supply = Supply()
        # A starter of 190 A and 22 A of loads through 12 mOhm take 2.54 V off a rested battery.
        self.assertAlmostEqual(steady(supply, 0.0, starter=1.0), 12.65 - 0.05 - 0.012 * 212, delta=0.02)
        self.assertAlmostEqual(steady(supply, 0.0), 12.65 - 0.05 - 0.012 * 22, delta=0.02)
        self.assertAlmostEqual(steady(supply, 2000.0), supply.set_v, delta=0.05)

    def test_a_weak_alternator_leaves_the_battery_to_carry_the_rest(self):
        weak = replace(Supply(), most_a=8.0)
        volts = steady(weak, 2000.0)
        self.assertLess(volts, 12.6)
        self.assertGreater(volts, steady(weak, 0.0))

    def test_rectified_three_phase_ripple(self):
        # Six crests a period; from crest (1.732) to valley (1.5) of a unit phase is 0.232.
        turns = np.linspace(0, 1, 60_001)
        wave = ripple_shape(turns, 1.0, 1, 0.0)
        crests = np.sum((wave[1:-1] > wave[:-2]) & (wave[1:-1] > wave[2:]))
        self.assertAlmostEqual(crests, 6, delta=1)
        self.assertAlmostEqual(np.ptp(wave), np.sqrt(3) - 1.5, delta=0.002)
        # With one diode open the half-wave is missing once a period, and the gap is several times as deep.
        self.assertGreater(np.ptp(ripple_shape(turns, 1.0, 1, 1.0)), 3 * np.ptp(wave))

    def test_charging_follows_the_engine_that_turns_it(self):
        instants = np.arange(60_000) / 20_000
        order = Order(instants, rng=np.random.default_rng(4))
        lanes = SOURCES["charging"].lanes(order)
        run, within = order.memo["run"]
        rpm = float(np.interp(within, run.times_s, run.rpm).mean())
        moving = lanes["sense"] - lanes["sense"].mean()
        spectrum = np.abs(np.fft.rfft(moving * np.hanning(moving.size)))
        spectrum[:60] = 0
        hertz = float(np.argmax(spectrum)) / 3.0
        self.assertAlmostEqual(rpm, 1500, delta=100)
        # A pulley of 2.5 and six pole pairs, each of whose periods is rectified to six crests.
        self.assertAlmostEqual(hertz, rpm / 60 * 2.5 * 6 * 6, delta=0.02 * hertz)


if __name__ == "__main__":
    unittest.main()
