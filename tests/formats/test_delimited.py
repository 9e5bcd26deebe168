import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tracebench.core.errors import BadFile
from tracebench.formats.delimited import read, understand


class Files(unittest.TestCase):
    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def file(self, text: str | bytes) -> Path:
        path = Path(self.folder.name) / "capture.csv"
        path.write_bytes(text if isinstance(text, bytes) else text.encode())
        return path

    def table(self, text):
        path = self.file(text)
        layout = understand(path)
        return layout, read(path, layout, [c.position for c in layout.value_columns])

    def refused(self, text, words):
        with self.assertRaisesRegex(BadFile, words) as caught:
            self.table(text)
        return caught.exception


ROWS = [(k * 0.001, 0.5 + 0.01 * k) for k in range(30)]


class Dialects(Files):
    """Each dialect is the same thirty rows written differently."""

    def same(self, text, unit="V", name=None, scale=1.0):
        layout, table = self.table(text)
        (column,) = layout.value_columns
        np.testing.assert_allclose(table.times_s, [t for t, _ in ROWS], atol=1e-12)
        np.testing.assert_allclose(table.values[column.position], [v * scale for _, v in ROWS])
        self.assertEqual(column.unit, unit)
        if name:
            self.assertEqual(column.name, name)
        return layout

    def test_comma_with_units_in_the_names(self):
        self.same("Time (s),Channel A (V)\n" + "".join(f"{t:.3f},{v}\n" for t, v in ROWS), name="Channel A")

    def test_semicolon_and_decimal_comma_with_units_row_bom_and_crlf(self):
        body = "".join(f"{t:.3f};{v}\r\n".replace(".", ",") for t, v in ROWS)
        layout = self.same(b"\xef\xbb\xbf" + ("Zeit;Kanal 1\r\n(s);(V)\r\n\r\n" + body).encode(), name="Kanal 1")
        self.assertEqual((layout.delimiter, layout.decimal), (";", ","))

    def test_tabs(self):
        self.same("t\tprobe [V]\n" + "".join(f"{t:.3f}\t{v}\n" for t, v in ROWS), name="probe")

    def test_blanks_in_columns(self):
        self.same("time_s   signal_V\n" + "".join(f"  {t:8.3f}   {v:.3f}\n" for t, v in ROWS))

    def test_quoted_cells_with_commas(self):
        body = "".join(f'"{t:.3f}","{v}"\n'.replace(".", ",") for t, v in ROWS)
        self.same('"Time (s)","In 1, wiper (V)"\n' + body, name="In 1, wiper")

    def test_milliseconds_and_microseconds(self):
        self.same("time (ms),x (V)\n" + "".join(f"{t * 1e3},{v}\n" for t, v in ROWS))
        self.same("Time,x\n(µs),(V)\n" + "".join(f"{t * 1e6:.1f},{v}\n" for t, v in ROWS))

    def test_millivolts_are_told_not_converted(self):
        self.same("time (s),x (mV)\n" + "".join(f"{t},{v * 1000}\n" for t, v in ROWS), unit="mV", scale=1000)

    def test_comments_before_and_between(self):
        rows = [f"{t:.3f},{v}\n" for t, v in ROWS]
        rows.insert(7, "# clip moved here\n")
        self.same("# bay 2\n# sensor ground\ntime,x (V)\n" + "".join(rows))

    def test_utf_16(self):
        self.same(("Time;Spannung (V)\n" + "".join(f"{t:.3f};{v}\n" for t, v in ROWS)).encode("utf-16"))

    def test_no_header_at_all(self):
        layout = self.same("".join(f"{t:.3f},{v}\n" for t, v in ROWS), unit="")
        self.assertEqual(layout.data_line, 1)

    def test_a_trailing_delimiter_is_no_lane_of_its_own(self):
        layout, table = self.table("time,x,\n" + "".join(f"{t:.3f},{v},\n" for t, v in ROWS))
        self.assertEqual(layout.columns[1].name, "x")
        self.assertTrue(np.isnan(table.values[3]).all())


class Intervals(Files):
    def test_interval_and_rate_from_the_header(self):
        body = "".join(f"{v}\n" for _, v in ROWS)
        for header, expected in (
            ("Sample interval;100;us\nvolts\n", 1e-4),
            ("Increment = 2.5e-3\nvolts\n", 2.5e-3),
            ("Sampling rate: 5 kHz\nvolts\n", 2e-4),
            ("Sample Rate,2000\nvolts\n", 5e-4),
        ):
            with self.subTest(header=header):
                layout, table = self.table(header + body)
                self.assertAlmostEqual(layout.interval_s, expected)
                self.assertIsNone(table.times_s)
                self.assertEqual(table.rows, 30)


class Cells(Files):
    def test_missing_and_overrange_cells_are_nan(self):
        cells = ["0.5", "", "---", "OL", "∞", "NaN"] + ["0.6"] * 24
        _, table = self.table("time,x\n" + "".join(f"{k},{c}\n" for k, c in enumerate(cells)))
        np.testing.assert_array_equal(np.isnan(table.values[2][:7]), [False, True, True, True, True, True, False])

    @settings(max_examples=50, deadline=None)
    @given(
        st.lists(
            st.floats(allow_nan=False, allow_infinity=False, min_value=-1e9, max_value=1e9), min_size=8, max_size=60
        )
    )
    def test_every_value_equals_float_of_its_text(self, values):
        texts = [repr(v) for v in values]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.csv"
            path.write_text("time,x\n" + "".join(f"{k},{t}\n" for k, t in enumerate(texts)))
            found = read(path, understand(path), [2]).values[2]
        np.testing.assert_array_equal(found, [float(t) for t in texts])


class Refusals(Files):
    BODY = "".join(f"{k},{k}\n" for k in range(40))

    def test_what_is_no_number_has_line_and_column(self):
        found = self.refused("time,x\n" + self.BODY + "40,abc\n41,1\n", "'abc' is not a number")
        self.assertEqual((found.line, found.column), (42, 2))
        self.assertTrue(str(found).startswith("line 42, column 2: "))

    def test_a_row_with_other_cells_has_its_line(self):
        found = self.refused("time,x\n" + self.BODY + "40\n41,1\n", "1 cells where 2")
        self.assertEqual(found.line, 42)

    def test_time_running_backwards_has_its_line(self):
        found = self.refused("time,x\n" + self.BODY + "12,1\n", "runs backwards")
        self.assertEqual((found.line, found.column), (42, 1))

    def test_empty_binary_and_prose(self):
        self.refused("", "empty")
        self.refused(b"\x00\x01\x02" * 100, "not text")
        self.refused("Dear Sir,\nplease find enclosed.\n", "no rows of numbers")

    @settings(max_examples=80, deadline=None)
    @given(st.binary(max_size=400))
    def test_any_bytes_are_read_or_refused(self, content):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.csv"
            path.write_bytes(content)
            try:
                layout = understand(path)
                read(path, layout, [c.position for c in layout.value_columns])
            except BadFile:
                pass
