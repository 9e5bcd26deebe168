"""The command line as the readings contract has it: JSON on standard output, exit 0; one line and exit 2 otherwise."""

import json
import re
import signal
import socket
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import numpy as np
from click.testing import CliRunner

from tests.support.courses import course
from tests.support.waves import Sweep, steady
from tracebench import cli

ROOT = Path(__file__).resolve().parents[2]
KEYS = {
    "circuit",
    "engine",
    "capture",
    "phases",
    "readings",
    "limits",
    "findings",
    "call",
    "because",
    "shown",
    "missing",
}


def invoked(command):
    """The command line in this process: what it prints, and its exit status; a traceback would have status 1."""
    done = CliRunner().invoke(cli.main, command[3:])
    return subprocess.CompletedProcess(command, done.exit_code, done.stdout, done.stderr)


class Process(unittest.TestCase):
    def test_unusable_input_ends_the_process_with_status_2_and_one_line(self):
        command = [sys.executable, "-m", "tracebench.cli", "measure", "nowhere.csv", "--circuit", "throttle-position"]
        done = subprocess.run(command, capture_output=True, text=True, cwd=ROOT, check=False)
        self.assertEqual((done.returncode, done.stdout, len(done.stderr.strip().splitlines())), (2, "", 1))
        self.assertIn("nowhere.csv", done.stderr)


class CaptureFile(unittest.TestCase):
    """A capture file for the command line to work on."""

    @classmethod
    def setUpClass(cls):
        cls.folder = tempfile.TemporaryDirectory()
        cls.path = Path(cls.folder.name) / "test2 (3).csv"
        sweep = Sweep(rate_hz=500, open_v=3.77, noise_v=0.004, start_s=2.0)
        times, volts = sweep.samples()
        reference = steady(sweep, 5.02)
        rows = zip(times, volts, reference, strict=True)
        cls.path.write_text(
            "Time (ms),A (mV),B\n" + "".join(f"{t * 1e3:.1f},{v * 1e3:.2f},{r:.4f}\n" for t, v, r in rows)
        )

    @classmethod
    def tearDownClass(cls):
        cls.folder.cleanup()


class Measure(CaptureFile):
    def run_it(self, *arguments):
        command = [sys.executable, "-m", "tracebench.cli", "measure", str(self.path), "--circuit", "throttle-position"]
        return invoked([*command, *arguments])

    def answer(self, *arguments):
        done = self.run_it(*arguments)
        self.assertEqual(done.returncode, 0, done.stderr)
        return json.loads(done.stdout)

    def test_answer_has_the_contracts_shape(self):
        answer = self.answer()
        self.assertEqual(set(answer), KEYS)
        self.assertEqual(
            answer["capture"]["lanes"][0], {"lane": "signal", "unit": "V", "column": "A (mV)", "factor": 0.001}
        )
        self.assertEqual(answer["capture"]["lanes"][1]["lane"], "reference")
        reading = next(r for r in answer["readings"] if r["id"] == "open_v" and r["cycle"] is None)
        self.assertAlmostEqual(reading["value"], 3.77, delta=0.01)
        self.assertGreaterEqual(reading["from"], 2.0)
        self.assertEqual((answer["call"], answer["because"]), ("sound", ["open_v"]))

    def test_limits_file_map_phase_and_option(self):
        limits = Path(self.folder.name) / "limits.json"
        limits.write_text(json.dumps({"limits": [{"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"}]}))
        told = [
            "--limits",
            str(limits),
            "--map",
            "A=signal:0.001",
            "--phase",
            "closed=2.1:2.8",
            "--option",
            "sweep=any",
        ]
        answer = self.answer(*told, "--json")
        self.assertEqual(len(answer["capture"]["lanes"]), 1)
        self.assertEqual([p["from"] for p in answer["phases"] if p["name"] == "closed"][0], 2.1)
        states = {x["basis"]: x["state"] for x in answer["limits"] if x["reading"] == "open_v"}
        self.assertEqual(states, {"maker": "inside", "common-practice": "marginal"})
        self.assertEqual(answer["call"], "sound")

    def test_unusable_input_is_one_line_and_exit_2(self):
        broken = Path(self.folder.name) / "limits-broken.json"
        broken.write_text("{")
        for arguments, words in (
            (["--map", "Z=signal"], "no column 'Z'"),
            (["--phase", "closed"], "NAME=FROM:TO"),
            (["--option", "sweep"], "KEY=VALUE"),
            (["--limits", str(broken)], "line 1, column 2"),
            (["--limits", "/nowhere.json"], "No such file"),
            (["--circuit", "flux"], "unknown circuit 'flux'"),
        ):
            with self.subTest(arguments=arguments):
                done = self.run_it(*arguments)
                self.assertEqual(done.returncode, 2)
                self.assertEqual(done.stdout, "")
                self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
                self.assertIn(words, done.stderr)

    def test_a_broken_file_names_line_and_column(self):
        path = Path(self.folder.name) / "broken.csv"
        path.write_text("time,x\n" + "".join(f"{k},{k}\n" for k in range(50)) + "50,oops\n")
        command = [sys.executable, "-m", "tracebench.cli", "measure", str(path), "--circuit", "throttle-position"]
        done = invoked(command)
        self.assertEqual(done.returncode, 2)
        self.assertIn("line 52, column 2: 'oops' is not a number", done.stderr)


class Grade(CaptureFile):
    """The same capture graded against a card."""

    def grade(self, card, answers, *arguments):
        paths = []
        for name, document in (("card", card), ("answers", answers)):
            path = Path(self.folder.name) / f"{name}.json"
            path.write_text(json.dumps(document))
            paths += ["--exercise" if name == "card" else "--answers", str(path)]
        command = [sys.executable, "-m", "tracebench.cli", "grade", "--capture", str(self.path), *paths, *arguments]
        return invoked(command)

    CARD = {
        "circuit": "throttle-position",
        "title": "A card",
        "source": {"kind": "upload"},
        "limits": [{"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"}],
        "steps": [{"kind": "reading", "reading": "open_v"}, {"kind": "compare", "reading": "open_v"}],
    }

    def test_each_criterion_has_points_reason_and_place(self):
        answers = {"reading-open_v": {"value": 3770, "pegs": [9.0]}, "compare-open_v": {"state": "inside"}}
        done = self.grade(self.CARD, answers, "--json")
        self.assertEqual(done.returncode, 0, done.stderr)
        rows = {r["criterion"]: r for r in json.loads(done.stdout)["results"]}
        self.assertEqual(rows["reading:open_v"]["slip"], "factor_1000")
        self.assertIn("millivolts", rows["reading:open_v"]["reason"])
        self.assertEqual(rows["compare:open_v"]["earned"], 0.5)
        self.assertLess(rows["compare:open_v"]["stretches"][0]["from"], rows["compare:open_v"]["stretches"][0]["to"])

    def test_condition_phases_and_limits_are_told_as_to_measure(self):
        card = {**self.CARD, "complaint": "hot", "steps": [{"kind": "call"}]}
        limits = Path(self.folder.name) / "limits.json"
        limits.write_text(json.dumps({"limits": [{"reading": "open_v", "low": 4.1, "high": None, "basis": "maker"}]}))
        for told, call, score in (
            ((), "inconclusive", 0),
            (("--option", "shown=hot"), "sound", 1),
            (("--option", "complaint=always"), "sound", 1),
            (("--limits", str(limits)), "faulty", 0),
            (("--phase", "closed=2:2.5", "--option", "shown=hot"), "sound", 1),
        ):
            done = self.grade(card, {"call": {"verdict": "sound"}}, *told)
            self.assertEqual(done.returncode, 0, done.stderr)
            result = json.loads(done.stdout)
            self.assertEqual(result["measured"]["call"], call, told)
            self.assertEqual(next(r["score"] for r in result["results"] if r["criterion"] == "call"), score, told)
        wrong = self.grade(card, {}, "--option", "shown=sunny")
        self.assertEqual((wrong.returncode, len(wrong.stderr.strip().splitlines())), (2, 1))
        self.assertIn("'sunny' is no condition", wrong.stderr)

    def test_bad_cards_and_answers_are_one_line_and_exit_2(self):
        for card, answers, words in (
            ({**self.CARD, "steps": []}, {}, "at least one step"),
            (self.CARD, {"reading-closed_v": {"value": 1}}, "no step 'reading-closed_v'"),
            (self.CARD, [], "expected a JSON object"),
        ):
            done = self.grade(card, answers)
            self.assertEqual((done.returncode, done.stdout), (2, ""))
            self.assertEqual(len(done.stderr.strip().splitlines()), 1)
            self.assertIn(words, done.stderr)

    def test_a_forgotten_option_is_one_line_too(self):
        command = [sys.executable, "-m", "tracebench.cli", "grade"]
        done = invoked(command)
        self.assertEqual((done.returncode, len(done.stderr.strip().splitlines())), (2, 1))
        self.assertIn("--exercise", done.stderr)


class OtherCircuits(unittest.TestCase):
    """The same command for circuits with several lanes and options of their own."""

    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def run_it(self, columns, rate_hz, circuit, *arguments):
        path = Path(self.folder.name) / "capture.csv"
        size = len(next(iter(columns.values())))
        rows = [["time", *columns]]
        rows += [[f"{k / rate_hz:.6f}"] + [f"{column[k]:.5f}" for column in columns.values()] for k in range(size)]
        path.write_text("\n".join(",".join(row) for row in rows) + "\n")
        command = [sys.executable, "-m", "tracebench.cli", "measure", str(path), "--circuit", circuit, *arguments]
        return invoked(command)

    def value(self, answer, reading):
        return next(r["value"] for r in answer["readings"] if r["id"] == reading and r["cycle"] is None)

    def test_pedal_maps_its_five_lanes_by_name(self):
        travel = course([(0, 0), (2, 0), (3, 1), (5, 1), (6, 0), (8, 0)], 500)
        columns = {
            "Track 1": 0.8 + 3.2 * travel,
            "Track 2": 0.4 + 1.6 * travel,
            "Reference 1": np.full(travel.size, 5.0),
            "Reference 2": np.full(travel.size, 4.99),
            "Ground": np.full(travel.size, 0.02),
        }
        done = self.run_it(columns, 500, "pedal-position", "--json")
        self.assertEqual(done.returncode, 0, done.stderr)
        answer = json.loads(done.stdout)
        lanes = [lane["lane"] for lane in answer["capture"]["lanes"]]
        self.assertEqual(lanes, ["track1", "track2", "reference1", "reference2", "ground"])
        self.assertEqual(answer["call"], "sound")
        self.assertAlmostEqual(self.value(answer, "ratio"), 2.0, delta=0.001)
        self.assertAlmostEqual(self.value(answer, "track1_full_v"), 4.0, delta=0.001)

    def test_temperature_takes_the_sensors_own_figures(self):
        # 2.5 V halves the divider: R = 2,200 ohm, which this sensor has at 25 C by its own figures.
        own = ["--option", "pull_up_ohm=2200", "--option", "ohm_25=2200", "--option", "beta=3900"]
        done = self.run_it({"signal": np.full(600, 2.5)}, 20, "temperature", *own)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertAlmostEqual(self.value(json.loads(done.stdout), "celsius"), 25.0, delta=0.01)

    def test_supply_and_ground_may_come_alone(self):
        done = self.run_it({"ground": np.full(2000, 0.31)}, 1000, "supply-ground")
        answer = json.loads(done.stdout)
        self.assertEqual((answer["call"], answer["because"]), ("faulty", ["ground_high"]))
        self.assertEqual(
            {m["reading"] for m in answer["missing"]} & {"supply_v", "reference_v"}, {"supply_v", "reference_v"}
        )

    def test_refusals_are_one_line(self):
        for columns, circuit, arguments, words in (
            ({"track1": np.ones(500)}, "pedal-position", [], "track2"),
            ({"signal": np.ones(500)}, "temperature", ["--option", "beta=soon"], "beta"),
            ({"signal": np.ones(500)}, "temperature", ["--option", "gamma=1"], "gamma"),
            ({"signal": np.ones(500)}, "rail-pressure", ["--phase", "lunch=0:1"], "lunch"),
        ):
            with self.subTest(words):
                done = self.run_it(columns, 100, circuit, *arguments)
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
                self.assertIn(words, done.stderr)


class TrainerScope(unittest.TestCase):
    """The trainer's scope as a process of its own, spoken to over a socket as any script would."""

    def setUp(self):
        # A shell that runs the tests in its background has them ignore the signal, and so would the scope.
        before = signal.signal(signal.SIGINT, signal.default_int_handler)
        self.addCleanup(signal.signal, signal.SIGINT, before)

    def test_identity_lanes_and_a_clean_stop(self):
        command = [sys.executable, "-m", "tracebench.cli", "trainer", "scope", "--port", "0"]
        command += ["--circuit", "charging", "--fault", "none", "--seed", "4"]
        with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, cwd=ROOT) as scope:
            try:
                port = int(re.search(r"port (\d+)", scope.stdout.readline()).group(1))
                with socket.create_connection(("127.0.0.1", port), timeout=20) as line:
                    stream = line.makefile("rw", newline="\n")
                    stream.write("*IDN?\nRUN\n*OPC?\nCHAN:LIST?\nNONSENSE\nSYST:ERR?\n")
                    stream.flush()
                    identity, _, lanes, problem = (stream.readline().strip() for _ in range(4))
            finally:
                scope.send_signal(signal.SIGINT)
                rest = scope.communicate(timeout=20)
        self.assertEqual(len(identity.split(",")), 4)  # IEEE 488.2: maker, model, serial number, version
        self.assertEqual(lanes.split(","), ["sense", "case_ground", "command"])
        self.assertTrue(problem.startswith("-113,"), problem)  # SCPI-99: undefined header
        self.assertEqual(scope.returncode, 0, rest)
        self.assertNotIn("Traceback", rest[1])

    def test_refusals(self):
        for arguments, words in ((["--circuit", "flux"], "flux"), (["--fault", "gremlins"], "gremlins")):
            command = [sys.executable, "-m", "tracebench.cli", "trainer", "scope", "--port", "0", *arguments]
            done = subprocess.run(command, capture_output=True, text=True, cwd=ROOT, check=False, timeout=30)
            self.assertEqual(done.returncode, 2)
            self.assertIn(words, done.stderr)
            self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
