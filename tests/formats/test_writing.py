"""Each format as it is written: read back by us to the last bit, and by the independent libraries."""

import csv
import tempfile
import unittest
from pathlib import Path

import h5py
import numpy as np
import pyarrow.parquet as pq
from asammdf import MDF, Signal
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as npst
from scipy.io import loadmat, wavfile

from tests.outside import workshop
from tracebench.cli import main
from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits import circuit
from tracebench.core.errors import BadFile, BadOption
from tracebench.formats.apart import load, understand
from tracebench.formats.writing import WRITERS, write

PEDAL = circuit("pedal-position")


class Pedal(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        cls.capture = workshop.pedal()
        cls.one, cls.two = (cls.capture.lanes[n].samples for n in ("track1", "track2"))

    def written(self, ending, capture=None):
        path = self.folder / f"written-{ending}.bin"
        write(path, capture or self.capture, ending)
        return path


class Written(Pedal):
    def test_what_is_written_is_read_back_to_the_last_bit(self):
        for ending in WRITERS:
            with self.subTest(ending):
                back = load(self.written(ending), PEDAL)
                self.assertEqual(back.interval_s, self.capture.interval_s)
                for name, lane in self.capture.lanes.items():
                    if ending == "wav":
                        np.testing.assert_array_equal(back.lanes[name].samples, lane.samples.astype(np.float32))
                    else:
                        np.testing.assert_array_equal(back.lanes[name].samples, lane.samples)

    def test_the_libraries_read_the_same(self):
        with self.written("csv").open() as text:
            rows = list(csv.DictReader(text))
        np.testing.assert_array_equal([float(r["track1 (V)"]) for r in rows], self.one)
        np.testing.assert_array_equal(pq.read_table(self.written("parquet"))["track2"].to_numpy(), self.two)
        np.testing.assert_array_equal(loadmat(self.written("mat"))["track1_V"].ravel(), self.one)
        with h5py.File(self.written("h5")) as file:
            np.testing.assert_array_equal(file["track2"][()], self.two)
            self.assertEqual(file["track2"].attrs["unit"], "V")
        with MDF(self.written("mf4").open("rb")) as file:
            signal = file.get("track1")
            self.assertEqual((signal.unit, str(file.version)), ("V", "4.10"))
            np.testing.assert_array_equal(signal.samples, self.one)
            np.testing.assert_allclose(signal.timestamps, self.capture.times(), atol=1e-12)
        rate, both = wavfile.read(self.written("wav"))
        self.assertEqual((rate, both.shape[1]), (1000, 2))

    def test_a_rate_that_wav_cannot_tell_is_refused(self):
        slow = Capture(self.capture.lanes, 1 / 0.75)
        with self.assertRaisesRegex(BadOption, "whole hertz"):
            write(self.folder / "slow.wav", slow, "wav")
        with self.assertRaisesRegex(BadOption, "no format"):
            write(self.folder / "x", self.capture, "exe")

    @settings(max_examples=25, deadline=None)
    @given(
        npst.arrays(np.float64, 24, elements=st.floats(-1e12, 1e12, allow_nan=False, allow_subnormal=False)),
        st.sampled_from(("csv", "parquet", "mat", "h5", "mf4")),
    )
    def test_any_numbers(self, row, ending):
        capture = Capture({"track1": Lane("track1", row, "V"), "track2": Lane("track2", row[::-1].copy(), "V")}, 0.01)
        back = load(self.written(ending, capture), PEDAL)
        np.testing.assert_array_equal(back.lanes["track1"].samples, row)
        np.testing.assert_array_equal(back.lanes["track2"].samples, row[::-1])


class Mdf(Pedal):
    """As other programs write it."""

    def mdf(self, *groups, version="4.10"):
        path = self.folder / f"m{len(list(self.folder.iterdir()))}.mf4"
        with MDF(version=version) as file:
            for group in groups:
                file.append(group)
            return Path(file.save(path, overwrite=True))

    def test_versions_raw_codes_with_a_scale_and_groups_of_another_pace(self):
        times = self.capture.times()
        codes = np.round(self.one / 0.005).astype(np.int16)
        scaled = Signal(codes, times, unit="V", name="track1", conversion={"a": 0.005, "b": 0.0})
        slow = Signal(np.interp(times[::100], times, self.two), times[::100], unit="V", name="track2")
        for version in ("3.30", "4.00", "4.11"):
            with self.subTest(version):
                path = self.mdf([scaled], [slow], version=version)
                self.assertEqual(
                    [(c.name, c.unit) for c in understand(path).columns[:2]], [("time", "s"), ("track1", "V")]
                )
                back = load(path, PEDAL)
                np.testing.assert_allclose(back.lanes["track1"].samples, codes * 0.005, atol=1e-12)
                np.testing.assert_allclose(back.lanes["track2"].samples, self.two, atol=0.08)

    def test_a_formula_in_the_file_is_not_worked_out(self):
        times = self.capture.times()
        told = Signal(self.one, times, unit="V", name="by formula", conversion={"formula": "2 * X1"})
        path = self.mdf([told, Signal(self.two, times, unit="V", name="plain")])
        self.assertEqual([c.name for c in understand(path).columns], ["time", "plain"])

    def test_damage_is_said_in_a_sentence(self):
        data = self.written("mf4").read_bytes()
        rng = np.random.default_rng(5)
        for k in range(40):
            broken = bytearray(data[: rng.integers(70, len(data))] if k % 2 else data)
            for at in rng.integers(0, min(len(broken), 4000), 12):
                broken[at] = rng.integers(256)
            path = self.folder / "broken.bin"
            path.write_bytes(b"MDF     " + bytes(broken[8:]))
            with self.subTest(k):
                try:
                    understand(path)
                except BadFile as refused:
                    self.assertNotIn(str(self.folder), str(refused))


class Convert(unittest.TestCase):
    def test_a_file_from_one_format_to_another_and_no_other_is_written_over(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            write(folder / "a.bin", workshop.pedal(), "csv")
            ran = CliRunner().invoke(main, ["convert", str(folder / "a.bin"), str(folder / "b.mf4")])
            self.assertEqual(ran.exit_code, 0, ran.output)
            self.assertIn("2 columns of 20,000 samples", ran.output)
            back = load(folder / "b.mf4", PEDAL)
            np.testing.assert_array_equal(back.lanes["track1"].samples, workshop.pedal().lanes["track1"].samples)
            for arguments, words in (
                (["a.bin", "b.mf4"], "there already"),
                (["a.bin", "c.xyz"], "end it in one of"),
                (["none.csv", "d.csv"], "no file"),
            ):
                ran = CliRunner().invoke(main, ["convert", *(str(folder / a) for a in arguments)])
                self.assertEqual(ran.exit_code, 2)
                self.assertIn(words, ran.output)


if __name__ == "__main__":
    unittest.main()
