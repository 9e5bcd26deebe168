"""Every circuit's trainer recordings, exported as text in three dialects and read back: the same call and lanes."""

import tempfile
import unittest
from pathlib import Path

import numpy as np

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.formats.apart import load


def plain(capture: Capture) -> str:
    """Comma, point, units in the header, seconds."""
    lanes = capture.lanes.values()
    head = ",".join(["time (s)", *(f"{x.name} ({x.unit})" for x in lanes)])
    return _rows(capture, head, "\n", lambda t: f"{t:.7f}", ",")


def decimal_comma(capture: Capture) -> str:
    """Semicolon, decimal comma, a units row, milliseconds, CRLF, a comment."""
    lanes = capture.lanes.values()
    head = "# bay 3\r\n" + ";".join(["Zeit", *(x.name.replace("_", " ") for x in lanes)])
    head += "\r\n" + ";".join(["(ms)", *(f"({x.unit})" for x in lanes)])
    return _rows(capture, head, "\r\n", lambda t: f"{1000 * t:.4f}", ";").replace(".", ",")


def interval_only(capture: Capture) -> str:
    """Tabs, no time column: the interval stands in the header."""
    lanes = capture.lanes.values()
    head = f"Sample interval\t{1e6 * capture.interval_s:.6g}\tus\n" + "\t".join(x.name for x in lanes)
    body = zip(*(x.samples for x in lanes), strict=True)
    return head + "\n" + "\n".join("\t".join(f"{v:.5f}" for v in row) for row in body) + "\n"


def _rows(capture: Capture, head: str, end: str, stamp, mark: str) -> str:
    times = capture.start_s + np.arange(capture.samples) * capture.interval_s
    body = zip(times, *(x.samples for x in capture.lanes.values()), strict=True)
    return head + end + end.join(mark.join([stamp(t), *(f"{v:.5f}" for v in row)]) for t, *row in body) + end


SHORT_S = {
    "injector-voltage": 0.5,
    "injector-current": 0.5,
    "injector-current-group": 0.3,
    "injector-current-parade": 0.5,
    "injector-peak-hold": 0.4,
    "injector-piezo": 0.4,
    "coil-primary-current": 0.5,
    "coil-primary-voltage": 0.3,
    "secondary-voltage": 0.3,
    "igniter-bench": 4.0,
}
"""Events need their full rate and only a few cycles."""

MANOEUVRE = {"secondary-voltage": "idle"}


class EveryCircuit(unittest.TestCase):
    def test_every_circuit_is_on_the_trainer(self):
        self.assertEqual(set(SOURCES), set(CIRCUITS))

    def test_three_dialects_give_the_recordings_own_answer(self):
        folder = Path(tempfile.mkdtemp())
        for code, source in SOURCES.items():
            # Ten samples a pulse at 50,000 a second: a sensor of lower frequency.
            part = {"hz_per_gs": 25.0} if code == "airflow-frequency" else {}
            length, rate = source.manoeuvres[0].duration_s, source.rate_hz
            if code in SHORT_S:
                length = SHORT_S[code]
            else:
                rate = min(rate, 50_000)
            capture = record(
                code, ScopeSettings(source.range_v, length, rate), 11, part=part, manoeuvre=MANOEUVRE.get(code, "")
            )
            expected = measure(capture, code)
            for dialect in (plain, decimal_comma, interval_only):
                path = folder / f"{code}-{dialect.__name__}.csv"
                path.write_bytes(dialect(capture).encode("utf-8"))
                read = load(path, CIRCUITS[code])
                with self.subTest(circuit=code, dialect=dialect.__name__):
                    self.assertEqual(set(read.lanes), set(capture.lanes))
                    found = measure(read, code)
                    self.assertEqual((found.call, found.because), (expected.call, expected.because))
                    self.assertEqual(found.call, "inconclusive" if code == "igniter-bench" else "sound")
                    for reading in expected.readings:
                        same = found.reading(reading.id, reading.cycle, reading.cylinder)
                        slack = 0.01 * abs(reading.value) + 2 * reading.uncertainty + 1e-3
                        self.assertAlmostEqual(same.value, reading.value, delta=slack, msg=reading.id)


class Names(unittest.TestCase):
    def guessed(self, code: str, header: str) -> list[str]:
        path = Path(tempfile.mkdtemp()) / "x.csv"
        cells = header.count(",")
        rows = "".join(f"{k / 1000}" + ",1.0" * cells + "\n" for k in range(50))
        path.write_text(header + "\n" + rows)
        return list(load(path, CIRCUITS[code]).lanes)

    def test_own_names_win_over_other_words_for_a_lane(self):
        self.assertEqual(self.guessed("manifold-pressure", "time,throttle,MAP"), ["signal", "throttle"])
        self.assertEqual(self.guessed("throttle-position", "time,supply,tps"), ["signal", "reference"])
        self.assertEqual(self.guessed("airflow-voltage", "time,A,B"), ["signal", "throttle"])
        self.assertEqual(self.guessed("charging", "time,load (V),alternator (V)"), ["sense", "command"])
        self.assertEqual(self.guessed("oxygen-wideband", "time,x (mA),maf (V)"), ["pump_current", "airflow"])

    def test_thousandths_go_into_the_lanes_own_unit(self):
        path = Path(tempfile.mkdtemp()) / "x.csv"
        path.write_text("time,pump current (A)\n" + "".join(f"{k / 1000},0.002\n" for k in range(50)))
        self.assertAlmostEqual(load(path, CIRCUITS["oxygen-wideband"]).lanes["pump_current"].samples[0], 2.0)
