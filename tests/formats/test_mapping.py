import tempfile
import unittest
from pathlib import Path

from tracebench.core.circuits import circuit
from tracebench.core.errors import BadFile, BadOption
from tracebench.formats.apart import load, understand
from tracebench.formats.mapping import guessed_mapping, parse_map, told_mapping

KIND = circuit("throttle-position")


class WithFile(unittest.TestCase):
    def file(self, header: str, columns: int, first_is_time: bool = True) -> Path:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "x.csv"
        rows = [",".join(str(k if first_is_time and c == 0 else k % 5 + c) for c in range(columns)) for k in range(40)]
        path.write_text(header + "\n" + "\n".join(rows) + "\n")
        return path


class Guessed(WithFile):
    def lanes(self, header, columns):
        return {m.lane: m.position for m in guessed_mapping(understand(self.file(header, columns)), KIND)}

    def test_clear_names_win_over_order(self):
        self.assertEqual(self.lanes("time,GND,5V ref,TPS", 4), {"signal": 4, "reference": 3, "ground": 2})

    def test_unclear_names_go_in_lane_order(self):
        self.assertEqual(self.lanes("time,A,B", 3), {"signal": 2, "reference": 3})

    def test_columns_of_another_quantity_are_left_out(self):
        self.assertEqual(self.lanes("time,clamp (A),B (V)", 3), {"signal": 3})

    def test_stated_units_are_converted(self):
        (mapped,) = guessed_mapping(understand(self.file("time,x (mV)", 2)), KIND)
        self.assertEqual(mapped.factor, 1e-3)


class Told(WithFile):
    def test_cell_name_without_unit_and_position(self):
        layout = understand(self.file("time,Channel A (mV),B (V)", 3))
        for wanted in ("Channel A (mV)", "Channel A", "#2", "channel a"):
            (mapped,) = told_mapping(layout, KIND, [parse_map(f"{wanted}=signal")])
            self.assertEqual((mapped.position, mapped.factor), (2, 1e-3))

    def test_a_factor_replaces_the_unit_conversion(self):
        layout = understand(self.file("time,A (mV)", 2))
        self.assertEqual(told_mapping(layout, KIND, [parse_map("A=signal:10")])[0].factor, 10)

    def test_names_with_equals_and_colons(self):
        self.assertEqual(parse_map("a=b:c=signal:2"), ("a=b:c", "signal", 2.0))

    def test_refusals(self):
        layout = understand(self.file("time,A,B", 3))
        for maps, words in (
            (["nope"], "COLUMN=LANE"),
            (["A=signal:x"], "factor must be a number"),
            (["A=signal:0"], "other than 0"),
            (["A=knob"], "no lane 'knob'"),
            (["C=signal"], "no column 'C'; it has: time, A, B"),
            (["A=signal", "B=signal"], "mapped twice"),
        ):
            with self.subTest(maps=maps), self.assertRaisesRegex(BadOption, words):
                told_mapping(layout, KIND, [parse_map(m) for m in maps])


class Load(WithFile):
    def test_columns_not_named_are_ignored(self):
        path = self.file("time,A,B", 3)
        layout = understand(path)
        capture = load(path, KIND, layout, told_mapping(layout, KIND, [parse_map("B=signal:0.5")]))
        self.assertEqual(list(capture.lanes), ["signal"])
        self.assertEqual(capture.lanes["signal"].samples[:3].tolist(), [1.0, 1.5, 2.0])

    def test_without_any_time_it_asks_for_the_interval(self):
        path = self.file("volts", 1, first_is_time=False)
        with self.assertRaisesRegex(BadFile, "interval"):
            load(path, KIND)
        self.assertAlmostEqual(load(path, KIND, interval_s=0.01).rate_hz, 100)

    def test_a_file_that_is_not_there(self):
        with self.assertRaisesRegex(BadFile, "there is no file"):
            understand(Path("/nowhere/x.csv"))
