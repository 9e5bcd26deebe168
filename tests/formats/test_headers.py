"""What stands above the numbers: names, units, notes and intervals, each taken for what it is."""

import tempfile
import unittest
from pathlib import Path

from tracebench.core.circuits import CIRCUITS
from tracebench.core.errors import BadFile, BadOption, TraceBenchError
from tracebench.formats.apart import load
from tracebench.formats.delimited import understand
from tracebench.formats.mapping import told_mapping

THREE = "".join(f"{k / 1000},{k % 7},{k % 5}\n" for k in range(30))
TWO = "".join(f"{k % 7},{k % 5}\n" for k in range(30))
ONE = "".join(f"{k % 7}\n" for k in range(30))


class Headers(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "capture.csv"

    def layout(self, text):
        self.path.write_text(text)
        return understand(self.path)

    def named(self, text):
        return [(c.name, c.unit) for c in self.layout(text).columns]


class Letters(Headers):
    def test_a_letter_that_counts_channels_is_no_unit(self):
        for header, names in (
            ("Time (s),Channel A,Channel B", ["Channel A", "Channel B"]),
            ("Time (s),CH A,CH B", ["CH A", "CH B"]),
            ("Time,Wiper A,Wiper B", ["Wiper A", "Wiper B"]),
            ("Time,A,B", ["A", "B"]),
            ("Time,input_A,input_B", ["input_A", "input_B"]),
        ):
            with self.subTest(header=header):
                self.assertEqual(self.named(f"{header}\n{THREE}")[1:], [(n, "") for n in names])

    def test_a_lone_row_of_letters_is_names(self):
        self.assertEqual(self.named("Sample interval: 1 ms\nA\n" + ONE), [("A", "")])
        self.assertEqual(self.named("Sample interval: 1 ms\nA,B\n" + TWO), [("A", ""), ("B", "")])

    def test_a_letter_behind_a_quantity_is_its_unit(self):
        found = self.named("Time s,Coil current A,Supply V\n" + THREE)
        self.assertEqual(found, [("Time", "s"), ("Coil current", "A"), ("Supply", "V")])

    def test_a_row_of_units_below_letters_is_units(self):
        found = self.named("Time,A,B\n(ms),(V),(A)\n" + THREE)
        self.assertEqual(found, [("Time", "ms"), ("A", "V"), ("B", "A")])

    def test_volts_of_a_channel_called_a_go_on_the_lane(self):
        self.path.write_text("Time (s),Channel A\n" + "".join(f"{k / 1000},{0.5 + k / 90}\n" for k in range(300)))
        lane = load(self.path, CIRCUITS["throttle-position"]).lanes["signal"]
        self.assertAlmostEqual(float(lane.samples[90]), 1.5)


class Notes(Headers):
    def test_a_comment_as_wide_as_the_data_names_no_columns(self):
        found = self.named("# cold, bay 2, second try\n" + THREE)
        self.assertEqual([n for n, _ in found], ["column 1", "column 2", "column 3"])

    def test_a_comment_between_header_and_data_does_not_hide_the_header(self):
        found = self.named("Time,Sensor,Ground\n# cold, bay 2, second try\n" + THREE)
        self.assertEqual([n for n, _ in found], ["Time", "Sensor", "Ground"])

    def test_a_header_may_be_a_comment(self):
        found = self.named("# time,sensor,ground\n" + THREE)
        self.assertEqual([n for n, _ in found], ["time", "sensor", "ground"])
        self.assertEqual(self.named("% a (s),b (mV),c\n" + THREE)[1], ("b", "mV"))

    def test_a_line_of_the_preamble_names_no_columns(self):
        for preamble in ("Date,2026-01-05\n\n", "Course,engine cold\n\n", "Trigger,0.5 V\n", "Gain (V),2\n"):
            with self.subTest(preamble=preamble):
                found = self.named(f"Sample rate,1 kHz\n{preamble}{TWO}")
                self.assertEqual(found, [("column 1", ""), ("column 2", "")])

    def test_names_below_a_preamble_are_names(self):
        found = self.named("Bench,two\nSample interval,1,ms\nSensor,Ground\n" + TWO)
        self.assertEqual([n for n, _ in found], ["Sensor", "Ground"])

    def test_a_preamble_below_the_names_does_not_hide_them(self):
        found = self.named("Sample interval ms,1\nWiper (V),Ground (mV)\nTrigger,0.5\n" + TWO)
        self.assertEqual(found, [("Wiper", "V"), ("Ground", "mV")])


class Intervals(Headers):
    def test_the_unit_may_stand_before_the_value(self):
        for header, expected in (
            ("Sample interval (ms),0.1", 1e-4),
            ("Sample interval [us];100", 1e-4),
            ("Sample interval ms,0.1", 1e-4),
            ("Interval in us: 100", 1e-4),
            ("Sample rate (kHz);10", 1e-4),
            ("Sample interval (ms): 0.1 samples", 1e-4),
            ("Sample interval;100;us", 1e-4),
            ("Sample interval,0.0001", 1e-4),
        ):
            with self.subTest(header=header):
                interval = self.layout(f"{header}\nsensor\n{ONE}").interval_s
                assert interval is not None
                self.assertAlmostEqual(interval, expected, delta=1e-9)


class Wide(Headers):
    def wide(self, columns):
        cells = ["1.5"] * columns
        rows = "".join(",".join([str(k / 1000), *cells]) + "\n" for k in range(40))
        return ",".join(["Time", *(f"s{k}" for k in range(columns))]) + "\n" + rows

    def test_thousands_of_columns_are_read_or_refused_in_a_sentence(self):
        for columns in (3000, 30_000, 120_000):
            self.path.write_text(self.wide(columns))
            with self.subTest(columns=columns):
                try:
                    read = load(self.path, CIRCUITS["throttle-position"])
                except BadFile as problem:
                    self.assertIn("columns", str(problem))
                else:
                    self.assertEqual(read.samples, 40)

    def test_a_column_that_is_not_there_is_said_without_thousands_of_names(self):
        self.path.write_text(self.wide(3000))
        with self.assertRaises(BadOption) as caught:
            told_mapping(understand(self.path), CIRCUITS["throttle-position"], [("nope", "signal", None)])
        self.assertIn("and 2981 more", str(caught.exception))
        self.assertLess(len(str(caught.exception)), 400)

    def test_one_endless_line_far_down_has_its_number(self):
        rows = [f"{k / 1000},1.5" for k in range(300_000)]
        rows[250_000] = "7" * 400_000 + "x,1"
        self.path.write_text("time,sensor\n" + "\n".join(rows) + "\n")
        with self.assertRaisesRegex(TraceBenchError, "line 250002"):
            load(self.path, CIRCUITS["throttle-position"])
