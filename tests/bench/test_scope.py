"""The simulated scope: inputs, decimation and trigger; and the same scope over SCPI, read with PyVISA."""

import threading
import unittest

import numpy as np
import pyvisa

from tracebench.bench.instrument import take
from tracebench.bench.scope import Input, ScopeSettings, Trigger, decimated, shown, triggered
from tracebench.bench.scpi import Instrument, ScopeServer, block, lanes_as_floats
from tracebench.bench.trainer import record
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.errors import BadCapture, BadOption

RATE = 10_000.0


class Inputs(unittest.TestCase):
    def setUp(self):
        self.wave = 2.0 + np.sin(2 * np.pi * 100 * np.arange(20_000) / RATE)

    def test_a_clamp_told_wrongly_shows_ten_times_as_much(self):
        np.testing.assert_allclose(shown(self.wave, Input(factor=10.0), RATE), 10 * self.wave)

    def test_zero_and_gain_error(self):
        np.testing.assert_allclose(shown(self.wave, Input(zero=0.1, gain_error=0.02), RATE), 1.02 * self.wave + 0.1)

    def test_bandwidth_takes_3_db_at_its_figure(self):
        low = shown(self.wave, Input(bandwidth_hz=100.0), RATE)[5000:]
        self.assertAlmostEqual(np.ptp(low) / 2, 1 / np.sqrt(2), delta=0.03)

    def test_ac_coupling_takes_the_level_away(self):
        self.assertAlmostEqual(float(shown(self.wave, Input(coupling="ac"), RATE)[-5000:].mean()), 0.0, delta=0.02)


class Memory(unittest.TestCase):
    def test_a_glitch_between_samples_is_kept_by_peak_capture_only(self):
        values = np.zeros(1000)
        values[333] = 5.0
        self.assertEqual(decimated(values, 10, peak_capture=False).max(), 0.0)
        self.assertEqual(decimated(values, 10, peak_capture=True).max(), 5.0)

    def test_trigger_cuts_the_record_with_its_pre_trigger(self):
        ramp = {"signal": np.concatenate([np.zeros(500), np.ones(500)])}
        start, stop = triggered(ramp, Trigger("signal", 0.5, "rising", 0.2), 1000, 100)
        self.assertEqual((start, stop), (480, 580))
        with self.assertRaisesRegex(BadOption, "never fires"):
            triggered(ramp, Trigger("signal", 3.0), 1000, 100)

    def test_a_snap_is_caught_by_a_single_shot(self):
        scope = ScopeSettings(5.0, 1.0, 2000, trigger=Trigger("throttle", 2.5, "rising", 0.3))
        throttle = record("manifold-pressure", scope, 3).lanes["throttle"].samples
        self.assertEqual(throttle.size, 2000)
        self.assertTrue(throttle[:500].max() < 1.5 < throttle[800])


class Blocks(unittest.TestCase):
    def test_definite_length_block_of_ieee_488_2(self):
        self.assertEqual(block(b"abcd"), b"#14abcd")
        self.assertEqual(block(b"x" * 1200)[:6], b"#41200")
        np.testing.assert_array_equal(lanes_as_floats(block(np.array([1.5, -2.0], "<f4").tobytes())), [1.5, -2.0])
        for bad in (b"", b"12", b"#29", b"#14ab"):
            with self.assertRaises(ValueError):
                lanes_as_floats(bad)


class Served(unittest.TestCase):
    def setUp(self):
        self.server = ScopeServer(0, Instrument())
        threading.Thread(target=self.server.serve_forever, daemon=True).start()
        self.addCleanup(self.server.server_close)
        self.addCleanup(self.server.shutdown)


class Scpi(Served):
    def setUp(self):
        super().setUp()
        manager = pyvisa.ResourceManager("@py")
        self.addCleanup(manager.close)
        self.scope = manager.open_resource(
            f"TCPIP::127.0.0.1::{self.server.port}::SOCKET",
            read_termination="\n",
            write_termination="\n",
            timeout=20_000,
        )
        self.addCleanup(self.scope.close)

    def test_identity_and_common_commands(self):
        self.assertEqual(len(self.scope.query("*IDN?").split(",")), 4)
        self.assertEqual(self.scope.query("*OPC?"), "1")
        self.scope.write("*RST;*CLS")
        self.assertEqual(self.scope.query("SYST:ERR?"), '0,"No error"')

    def test_a_record_is_what_the_trainer_records(self):
        for command in (
            "TRA:CIRC manifold-pressure",
            "TRA:FAUL leak",
            "TRA:SEED 6",
            "TIM:LENG 19",
            "ACQ:RATE 1000",
            "RUN",
        ):
            self.scope.write(command)
        self.assertEqual(self.scope.query("CHAN:LIST?"), "signal,throttle,oxygen")
        self.scope.write("WAV:SOUR signal")
        samples = self.scope.query_binary_values("WAV:DATA?", datatype="f", is_big_endian=False, container=np.array)
        expected = record("manifold-pressure", ScopeSettings(5.0, 19.0, 1000), 6, "leak").lanes["signal"].samples
        np.testing.assert_allclose(samples, expected, atol=1e-6)
        self.assertAlmostEqual(float(self.scope.query("WAV:INT?")), 1e-3)

    def test_single_with_trigger(self):
        for command in (
            "TRA:CIRC manifold-pressure",
            "TIM:LENG 1",
            "TRIG:SOUR throttle",
            "TRIG:LEV 2.5",
            "TRIG:PRE 0.5",
        ):
            self.scope.write(command)
        self.scope.write("SING")
        self.scope.write("WAV:SOUR throttle")
        samples = self.scope.query_binary_values("WAV:DATA?", datatype="f", container=np.array)
        self.assertEqual(samples.size, 2000)
        self.assertTrue(samples[0] < 1 < samples[1200])

    def test_mistakes_go_into_the_error_queue_and_nothing_breaks(self):
        for command, words in (
            ("NONSENSE", "-113"),
            ("CHAN:RANG 7", "choose one of"),
            ("TRA:CIRC flux", "flux"),
            ("WAV:SOUR signal", "RUN or SINGLE"),
            ("TIM:LENG soon", "-222"),
        ):
            self.scope.write(command)
            self.assertIn(words, self.scope.query("SYST:ERR?"))
        self.assertEqual(self.scope.query("SYST:ERR?"), '0,"No error"')


class Taken(Served):
    def test_the_application_takes_all_lanes_from_the_address(self):
        for command in ("TRA:CIRC supply-ground", "TRA:FAUL high-ground", "ACQ:RATE 1000"):
            self.server.instrument.answer(command)
        capture = take("127.0.0.1", self.server.port, CIRCUITS["supply-ground"])
        self.assertEqual(set(capture.lanes), {"supply", "reference", "ground", "battery"})
        self.assertEqual(measure(capture, "supply-ground").because, ("ground_high",))

    def test_refusals(self):
        with self.assertRaisesRegex(BadOption, "on this machine"):
            take("192.0.2.1", 5025, CIRCUITS["charging"])
        with self.assertRaisesRegex(BadCapture, "no instrument answers"):
            take("127.0.0.1", 1, CIRCUITS["charging"])
        with self.assertRaisesRegex(BadCapture, "no lane of charging"):
            take("127.0.0.1", self.server.port, CIRCUITS["charging"])
