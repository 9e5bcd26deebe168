"""Delimited text in any dialect: what was written is what is read, to the last bit of its text."""

import tempfile
import unittest
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.circuits import CIRCUITS
from tracebench.core.errors import BadFile, TraceBenchError
from tracebench.formats.apart import load, understand

THROTTLE = CIRCUITS["throttle-position"]
FOLDER = Path(tempfile.mkdtemp())


@dataclass(frozen=True)
class Dialect:
    delimiter: str
    decimal: str
    end: str
    encoding: str
    quoted: bool
    units: str
    """'cell', 'row' or 'none'."""
    time: tuple[str, float]
    """Unit of the time column and its size in seconds."""
    comments: int
    blank_lines: int


DIALECTS = st.builds(
    Dialect,
    delimiter=st.sampled_from([";", "\t", ",", "|"]),
    decimal=st.just("."),
    end=st.sampled_from(["\n", "\r\n"]),
    encoding=st.sampled_from(["utf-8", "utf-8-sig", "latin-1"]),
    quoted=st.booleans(),
    units=st.sampled_from(["cell", "row", "none"]),
    time=st.sampled_from([("s", 1.0), ("ms", 1e-3), ("us", 1e-6)]),
    comments=st.integers(0, 3),
    blank_lines=st.integers(0, 2),
) | st.builds(
    Dialect,
    delimiter=st.sampled_from([";", "\t", "|"]),
    decimal=st.just(","),
    end=st.sampled_from(["\n", "\r\n"]),
    encoding=st.sampled_from(["utf-8", "latin-1"]),
    quoted=st.booleans(),
    units=st.sampled_from(["cell", "row"]),
    time=st.sampled_from([("s", 1.0), ("ms", 1e-3)]),
    comments=st.integers(0, 3),
    blank_lines=st.just(0),
)


def written(d: Dialect, times: np.ndarray, volts: np.ndarray) -> Path:
    unit, size = d.time
    names = [f"Time ({unit})", "A (V)"] if d.units == "cell" else ["Time", "A"]
    if d.units == "none":
        unit, size = "s", 1.0
    if d.quoted:
        names = [f'"{n}"' for n in names]
    lines = [f"# note {k}" for k in range(d.comments)] + [""] * d.blank_lines + [d.delimiter.join(names)]
    if d.units == "row":
        lines.append(d.delimiter.join([f"({unit})", "(V)"]))
    for t, v in zip(times / size, volts, strict=True):
        lines.append(d.delimiter.join(f"{x:.6f}".replace(".", d.decimal) for x in (t, v)))
    path = FOLDER / "x.csv"
    path.write_bytes((d.end.join(lines) + d.end).encode(d.encoding))
    return path


class RoundTrip(unittest.TestCase):
    @settings(max_examples=80)
    @given(
        dialect=DIALECTS,
        samples=st.lists(st.floats(-50, 50).map(lambda x: round(x, 6)), min_size=20, max_size=60),
        step=st.sampled_from([1e-3, 2e-4, 0.05]),
    )
    def test_every_value_comes_back_as_its_text_says(self, dialect, samples, step):
        volts = np.array(samples)
        times = np.arange(volts.size) * step
        read = load(written(dialect, times, volts), THROTTLE)
        np.testing.assert_allclose(read.lanes["signal"].samples, [float(f"{v:.6f}") for v in volts], atol=0)
        self.assertAlmostEqual(read.interval_s, step, delta=1e-6 + 1e-6 * step)


class Damaged(unittest.TestCase):
    """Bytes that no scope wrote: refused in one sentence or read, never a traceback of another kind."""

    @settings(max_examples=150)
    @given(st.binary(min_size=0, max_size=400))
    def test_any_bytes(self, data):
        path = FOLDER / "bytes.csv"
        path.write_bytes(data)
        self.read_or_refused(path)

    @settings(max_examples=100)
    @given(
        st.lists(
            st.lists(st.sampled_from(["1", "2.5", "-3", "", "oops", "1e3", "NaN", "1,5", '"', "0x1"]), max_size=4),
            min_size=1,
            max_size=30,
        ),
        st.sampled_from([",", ";", "\t"]),
    )
    def test_any_table(self, rows, delimiter):
        path = FOLDER / "table.csv"
        path.write_text("\n".join(delimiter.join(row) for row in rows) + "\n")
        self.read_or_refused(path)

    def read_or_refused(self, path):
        try:
            layout = understand(path)
            load(path, THROTTLE, layout)
        except TraceBenchError as problem:
            self.assertTrue(str(problem))

    def test_a_broken_cell_far_down_is_named_with_its_line(self):
        path = FOLDER / "long.csv"
        rows = [f"{k / 1000:.3f},1.0" for k in range(30_000)]
        rows[23_456] = "23.456,1.O"
        path.write_text("time,A\n" + "\n".join(rows) + "\n")
        with self.assertRaisesRegex(BadFile, r"line 23458, column 2: '1\.O' is not a number"):
            load(path, THROTTLE)
