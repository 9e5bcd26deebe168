"""Rail, temperature, supply and charging on signals drawn by hand. CP: common practice, no published source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course, states
from tracebench.core.answer import Limit, Phase
from tracebench.core.circuits import measure
from tracebench.core.errors import BadOption
from tracebench.core.transfer import INTAKE, INTAKE_DIVIDER, Divider, SteinhartHart, beta_thermistor

RATE = 1000


def rail(build_s=0.6, idle=1.2, peak=3.0, hunting=0.0, decay=True, noise=0.01):
    points = [
        (0, 0.5),
        (2, 0.5),
        (2 + build_s, idle),
        (9, idle),
        (9.3, peak),
        (11, peak),
        (11.4, idle),
        (15, idle),
        (17.5, 0.5 if decay else idle),
        (20, 0.5 if decay else idle),
    ]
    signal = course(points, RATE, noise)
    t = np.arange(signal.size) / RATE
    return signal + hunting * np.sin(2 * np.pi * 0.8 * t) * ((t > 3.5) & (t < 15))


def of_rail(signal=None):
    return measure(captured("rail-pressure", RATE, signal=rail() if signal is None else signal), "rail-pressure")


class Rail(unittest.TestCase):
    def test_readings_as_drawn(self):
        found = of_rail()
        self.assertEqual((found.call, codes(found, "fault")), ("sound", []))
        for reading, value, delta in (
            ("key_on_v", 0.5, 0.005),
            ("idle_v", 1.2, 0.005),
            ("peak_v", 3.0, 0.02),
            ("build_ms", 540, 40),  # 90 % of a straight 600 ms
            ("rise_ms", 240, 12),  # 10 to 90 % of a straight 300 ms
            ("stop_decay_s", 0.63 * 2.5, 0.25),
        ):
            self.assertAlmostEqual(found.reading(reading).value, value, delta=delta, msg=reading)
        self.assertEqual(
            [p.name for p in found.phases], ["key_on", "crank", "idle", "accelerate", "idle_after", "stop"]
        )

    def test_pressure_that_shoots_over_at_the_start_is_no_acceleration(self):
        signal = rail()
        t = np.arange(signal.size) / RATE
        signal += 0.5 * np.exp(-(((t - 3.0) / 0.2) ** 2))
        found = of_rail(signal)
        self.assertEqual(
            [p.name for p in found.phases], ["key_on", "crank", "idle", "accelerate", "idle_after", "stop"]
        )
        self.assertAlmostEqual(found.reading("idle_v").value, 1.2, delta=0.006)
        self.assertGreater(found.phases[2].from_s, 3.1)

    def test_faults(self):
        self.assertIn("slow_build", of_rail(rail(build_s=2.4)).because)
        self.assertIn("low_peak", of_rail(rail(peak=1.7)).because)
        self.assertIn("pressure_hunting", of_rail(rail(hunting=0.2)).because)
        signal = rail()
        signal[6000:6040] = 0.05
        self.assertIn("dropout", of_rail(signal).because)

    def test_idle_alone_cannot_tell(self):
        self.assertEqual(of_rail(rail()[3000:8500]).call, "inconclusive")

    def test_ripple_is_from_the_5th_to_the_95th_percentile(self):
        # Of a sine of amplitude A: 2 A sin(0.45 pi).
        t = np.arange(20 * RATE) / RATE
        found = of_rail(rail(noise=0.0) + 0.03 * np.sin(2 * np.pi * 31 * t))
        self.assertAlmostEqual(found.reading("idle_ripple_mv").value, 60 * np.sin(0.45 * np.pi), delta=1.5)


def temperature(signal, options=None, phases=(), rate=100):
    return measure(captured("temperature", rate, signal=signal), "temperature", phases, options)


class Temperature(unittest.TestCase):
    def test_two_volts_at_20_degrees(self):  # CP anchor
        found = temperature(np.full(1000, 2.0))
        self.assertAlmostEqual(found.reading("celsius").value, 20.0, delta=0.3)
        self.assertEqual(found.call, "sound")

    def test_beta_equation_worked_example(self):
        # R25 = 10 kOhm, beta 3,977 K: R at 50 C is 10,000 exp(3977 (1/323.15 - 1/298.15)) = 3,563 ohm.
        self.assertAlmostEqual(beta_thermistor(10_000, 3977).ohm(50.0), 3563, delta=8)
        self.assertAlmostEqual(beta_thermistor(10_000, 3977).celsius(10_000), 25.0, places=6)

    def test_steinhart_hart_worked_example(self):
        # Steinhart and Hart 1968, with the usual coefficients of a 10 kOhm thermistor: 25 C at 10 kOhm.
        sensor = SteinhartHart(1.129148e-3, 2.34125e-4, 8.76741e-8)
        self.assertAlmostEqual(sensor.celsius(10_000), 25.0, delta=0.05)
        for celsius in (-20.0, 0.0, 60.0, 100.0):
            self.assertAlmostEqual(sensor.celsius(sensor.ohm(celsius)), celsius, places=6)

    def test_divider_goes_both_ways(self):
        divider = Divider(5.0, 3750.0)
        self.assertAlmostEqual(divider.volts(2500.0), 2.0, places=9)
        self.assertAlmostEqual(divider.ohm(2.0), 2500.0, places=6)

    def test_another_sensor_by_options(self):
        options = {"ohm_25": "10000", "beta": "3977", "pull_up_ohm": "10000"}
        self.assertAlmostEqual(temperature(np.full(500, 2.5), options).reading("celsius").value, 25.0, delta=0.05)

    def test_rate_over_a_warm_up(self):
        volts = np.array([INTAKE_DIVIDER.volts(INTAKE.ohm(c)) for c in np.linspace(20, 50, 6000)])
        self.assertAlmostEqual(temperature(volts).reading("rate_c_per_min").value, 30.0, delta=1.5)

    def test_open_short_dropout_and_cold_start(self):
        self.assertEqual(temperature(np.full(500, 4.99)).because, ("open_circuit",))
        self.assertIn("flat_line", temperature(np.full(500, 0.01)).because)
        told = temperature(np.full(500, 0.01), phases=[Phase("key_on", 0.0, 4.0)])
        self.assertEqual(told.because, ("short_circuit",))
        part = np.full(2000, 2.0)
        part[800:1200] = 0.01
        self.assertEqual(temperature(part).because, ("short_circuit",))
        loose = np.full(2000, 2.0)
        loose[700:708] = 4.6
        self.assertEqual(temperature(loose).because, ("dropout",))
        self.assertIn("implausible_cold_start", temperature(np.full(500, 2.0), {"ambient_c": "10"}).because)
        self.assertEqual(temperature(np.full(500, 2.0), {"ambient_c": "18"}).call, "sound")

    def test_a_bad_option_is_named(self):
        with self.assertRaisesRegex(BadOption, "pull_up_ohm"):
            temperature(np.full(500, 2.0), {"pull_up_ohm": "lots"})


def feeds(supply=12.5, reference=5.0, ground=0.02, battery=12.6, seconds=3.0, **changes):
    made = {"supply": supply, "reference": reference, "ground": ground, "battery": battery}
    rng = np.random.default_rng(6)
    lanes = {n: v + rng.normal(0, 0.003, round(seconds * RATE)) for n, v in made.items() if v is not None}
    return measure(captured("supply-ground", RATE, **(lanes | changes)), "supply-ground")


class Supply(unittest.TestCase):
    def test_sound(self):
        found = feeds()
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("supply_drop_v").value, 0.1, delta=0.003)

    def test_limits_of_common_practice(self):
        for change, code in (
            ({"supply": 11.6}, "supply_low"),
            ({"reference": 4.6}, "reference_low"),
            ({"reference": 5.4}, "reference_high"),
            ({"ground": 0.25}, "ground_high"),
        ):
            self.assertEqual(feeds(**change).because, (code,))
        self.assertEqual(feeds(battery=None, supply=11.2).because, ("supply_low",))
        self.assertEqual(feeds(battery=None, supply=14.0).call, "sound")

    def test_noise_that_hides_a_reading_is_said(self):
        rng = np.random.default_rng(2)
        for sigma, hidden in ((0.35, True), (0.02, False)):
            wild = 5.0 + rng.normal(0, sigma, 60)
            found = measure(captured("supply-ground", 20, reference=wild), "supply-ground")
            self.assertEqual("noisy" in codes(found), hidden)

    def test_a_ground_that_lifts_for_a_fifth_of_a_second_is_a_joint(self):  # from memory
        t = np.arange(10 * RATE) / RATE
        for lasts, said in ((0.16, False), (0.24, True)):
            lifted = np.where((t > 4.0) & (t < 4.0 + lasts), 0.3, 0.02)
            ground = lifted + np.random.default_rng(7).normal(0, 0.003, t.size)
            found = measure(captured("supply-ground", RATE, ground=ground), "supply-ground")
            self.assertEqual("ground_high" in codes(found), said, lasts)

    def test_single_lanes_are_enough(self):
        found = feeds(supply=None, reference=None, battery=None)
        self.assertEqual([r.id for r in found.readings], ["ground_v"])
        self.assertEqual(found.call, "sound")

    def test_exchanged_lanes_and_a_dead_one(self):
        self.assertIn("lanes_swapped", codes(feeds(reference=0.02, ground=5.0)))
        self.assertIn("flat_line", feeds(supply=0.0, battery=None, reference=None).because)
        self.assertEqual(feeds(supply=0.0).because, ("supply_low",))


def charge(sense=14.1, event=0.0, ground_event=0.0, command_event=0.0, ripple=0.03, pulses=False, rate=5000):
    t = np.arange(12 * rate) / rate
    on = (t > 5) & (t < 8)
    duty = 40 + command_event * on
    command = np.where((t * 100) % 1 < duty / 100, 12.0, 0.1) if pulses else duty
    rng = np.random.default_rng(7)
    lanes = {
        "sense": sense + event * on + ripple * np.sin(2 * np.pi * 900 * t) + rng.normal(0, 0.01, t.size),
        "case_ground": 0.02 + ground_event * on + rng.normal(0, 0.002, t.size),
        "command": command,
    }
    return captured("charging", rate, **lanes)


def charging(capture, options=None, limits=()):
    return measure(capture, "charging", options=options, limits=limits)


class Charging(unittest.TestCase):
    def test_sound(self):
        found = charging(charge())
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("sense_v").value, 14.1, delta=0.01)
        self.assertAlmostEqual(found.reading("command_duty_pct").value, 40, delta=0.5)

    def test_duty_from_the_pulse_train_itself(self):
        found = charging(charge(pulses=True, rate=20_000))
        self.assertAlmostEqual(found.reading("command_duty_pct").value, 40, delta=1.0)
        self.assertEqual(found.call, "sound")

    def test_overcharge_with_command_at_rest_and_ground_flat_leaves_the_regulator(self):
        found = charging(charge(event=1.8))
        self.assertEqual(found.because, ("overcharge",))
        text = next(f.text for f in found.findings if f.code == "overcharge")
        self.assertIn("leaves only the internal regulator", text)
        self.assertAlmostEqual(found.reading("time_over_15_s").value, 3.0, delta=0.1)
        self.assertAlmostEqual(next(f.from_s for f in found.findings if f.code == "overcharge"), 5.0, delta=0.05)

    def test_command_or_ground_that_explain_it_are_named(self):
        self.assertIn("command_driven", charging(charge(event=1.8, command_event=40)).because)
        # A duty told in percent with noise on it is no pulse train.
        duty = 38 + np.random.default_rng(5).normal(0, 0.3, 50_000)
        sense = 14.1 + np.random.default_rng(6).normal(0, 0.02, 50_000)
        found = charging(captured("charging", 5000, sense=sense, command=duty))
        self.assertAlmostEqual(found.reading("command_duty_pct").value, 38, delta=0.1)
        lifted = charging(charge(event=1.8, ground_event=0.4))
        self.assertIn("ground_lifted", lifted.because)
        self.assertIn("explains it", next(f.text for f in lifted.findings if f.code == "overcharge"))

    def test_undercharge_and_ripple(self):
        self.assertIn("undercharge", charging(charge(sense=12.9)).because)
        self.assertEqual(states(charging(charge(sense=13.4)))["sense_v"], "marginal")
        self.assertIn("diode_ripple", charging(charge(ripple=0.4)).because)

    def test_ripple_order_against_the_alternator(self):
        found = charging(charge(ripple=0.05), {"engine_rpm": "1500", "pulley_ratio": "2.4"})
        self.assertAlmostEqual(found.reading("ripple_order").value, 900 / 60, delta=0.02)

    def test_a_makers_limit_outranks_common_practice(self):
        capture = charge(sense=14.9)
        self.assertIn("overcharge", charging(capture, limits=[Limit("sense_v", 13.5, 14.5, "maker")]).because)
        self.assertEqual(charging(capture, limits=[Limit("sense_v", 13.5, 15.0, "maker")]).call, "sound")

    def test_sense_and_ground_exchanged(self):
        capture = charge()
        a, b = capture.lanes["sense"].samples, capture.lanes["case_ground"].samples
        self.assertIn("lanes_swapped", codes(charging(captured("charging", 5000, sense=b, case_ground=a))))
