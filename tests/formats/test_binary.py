"""WAV, MATLAB, Parquet and Arrow, written by other libraries: the same samples and times; damage said in words."""

import tempfile
import unittest
import wave
from pathlib import Path

import h5py
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.io import savemat, wavfile

from tests.support.waves import Sweep
from tracebench.core.circuits import circuit, measure
from tracebench.core.errors import BadCapture, BadFile, BadOption
from tracebench.formats.apart import load, understand
from tracebench.formats.mapping import Mapped

THROTTLE = circuit("throttle-position")


class Binary(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.times, cls.volts = Sweep(rate_hz=500).samples()
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)

    def path(self, name: str) -> Path:
        # The ending says nothing: all of them are recognised by what is in them.
        return self.folder / f"{name}.bin"

    def same(self, path: Path, mapping=None, atol=1e-9) -> None:
        capture = load(path, THROTTLE, mapping=mapping)
        self.assertAlmostEqual(capture.interval_s, 1 / 500, places=9)
        np.testing.assert_allclose(capture.lanes["signal"].samples, self.volts, atol=atol)
        self.assertEqual(measure(capture, "throttle-position").call, "sound")


class Wav(Binary):
    def test_each_width_to_its_own_step(self):
        for kind, full in ((np.uint8, 128), (np.int16, 2**15), (np.int32, 2**31), (np.float32, None)):
            path, parts = self.path(f"w{kind.__name__}"), self.volts / 5.0
            if full is None:
                codes = parts.astype(np.float32)
            else:
                codes = np.clip(np.round(parts * full) + (128 if kind is np.uint8 else 0), 0, 2 * full - 1).astype(kind)
            wavfile.write(path, 500, codes)
            step = 5.0 / (full or 1e6)
            capture = load(path, THROTTLE, mapping=[Mapped(1, "signal", 5.0)])
            with self.subTest(kind=kind):
                self.assertAlmostEqual(capture.interval_s, 1 / 500)
                np.testing.assert_allclose(capture.lanes["signal"].samples, self.volts, atol=0.51 * step + 1e-6)

    def test_24_bits_and_two_channels_by_the_standard_library(self):
        path = self.path("w24")
        codes = np.round(self.volts / 5.0 * 2**23).astype("<i4")
        both = np.column_stack([codes, -codes])
        with wave.open(str(path), "wb") as out:
            out.setnchannels(2)
            out.setsampwidth(3)
            out.setframerate(500)
            out.writeframes(both.astype("<i4").view(np.uint8).reshape(-1, 4)[:, :3].tobytes())
        self.assertEqual([c.name for c in understand(path).columns], ["channel 1", "channel 2"])
        self.same(path, [Mapped(1, "signal", 5.0)], atol=1e-6)
        self.same(path, [Mapped(2, "signal", -5.0)], atol=1e-6)


class Matlab(Binary):
    def test_vectors_with_a_time_and_a_unit_in_the_name(self):
        savemat(self.path("m1"), {"time": self.times, "signal_mV": 1000 * self.volts, "note": "bay 2"})
        self.same(self.path("m1"))

    def test_a_matrix_with_a_rate_beside_it(self):
        savemat(self.path("m2"), {"data": np.column_stack([self.volts, 0 * self.volts]), "fs": 500.0})
        self.assertEqual([c.name for c in understand(self.path("m2")).columns], ["data 1", "data 2"])
        self.same(self.path("m2"), [Mapped(1, "signal", 1.0)])

    def test_compressed_and_of_whole_numbers(self):
        codes = np.round(self.volts * 1000).astype(np.int16)
        savemat(self.path("m3"), {"dt": 0.002, "signal": codes}, do_compression=True)
        self.same(self.path("m3"), [Mapped(1, "signal", 0.001)], atol=6e-4)

    def test_what_holds_no_rows_is_refused_in_words(self):
        savemat(self.path("m4"), {"words": "none", "few": np.arange(3)})
        with self.assertRaisesRegex(BadFile, "no row of numbers"):
            understand(self.path("m4"))


class Hdf5(Binary):
    def test_rows_with_units_and_a_rate_of_the_file(self):
        with h5py.File(self.path("h1"), "w") as out:
            out.attrs["rate_hz"] = 500.0
            out["bay 2/signal"] = (1000 * self.volts).astype(np.float32)
            out["bay 2/signal"].attrs["unit"] = "mV"
            out["bay 2/ground"] = 0.01 * self.volts
            out["version"] = np.arange(3)
        self.assertEqual([c.name for c in understand(self.path("h1")).columns], ["bay 2/ground", "bay 2/signal"])
        self.same(self.path("h1"), [Mapped(2, "signal", 0.001)], atol=1e-3)

    def test_matlab_of_version_7_3_as_it_lays_out_its_variables(self):
        # A user block of 512 bytes with MATLAB's words, and each variable turned: (1, n).
        path = self.path("h2")
        with h5py.File(path, "w", userblock_size=512) as out:
            out["time"] = self.times.reshape(1, -1)
            out["signal"] = self.volts.reshape(1, -1)
        words = b"MATLAB 7.3 MAT-file, Platform: any, Created on: a day".ljust(124) + b"\x00\x02IM"
        with path.open("r+b") as file:
            file.write(words)
        self.assertEqual(understand(path).format, "MATLAB 7.3")
        self.same(path)

    def test_a_matrix_either_way_round(self):
        both = np.column_stack([self.volts, 0 * self.volts])
        for name, matrix in (("h3", both), ("h4", both.T)):
            with h5py.File(self.path(name), "w") as out:
                out["dt"] = 0.002
                out["data"] = matrix
            with self.subTest(name):
                self.same(self.path(name), [Mapped(1, "signal", 1.0)])

    def test_a_size_that_no_file_holds_is_refused(self):
        with h5py.File(self.path("h8"), "w") as out:
            out.create_dataset("signal", (10**13,), np.float64, chunks=(10**6,))
        with self.assertRaisesRegex(BadFile, "more than can be read"):
            understand(self.path("h8"))

    def test_numbers_of_another_file_are_never_read(self):
        secret = self.path("secret")
        secret.write_bytes(b"0123456789abcdef" * 40)
        with h5py.File(self.path("h5"), "w") as out:
            out.create_dataset("signal", (640,), np.uint8, external=[(str(secret), 0, 640)])
        with h5py.File(self.path("h6"), "w") as out:
            layout = h5py.VirtualLayout((640,), np.float64)
            layout[:] = h5py.VirtualSource(str(self.path("h5")), "signal", (640,))
            out.create_virtual_dataset("signal", layout)
        with h5py.File(self.path("h7"), "w") as out:
            out["signal"] = h5py.ExternalLink(str(self.path("h5")), "signal")
        for name in ("h5", "h6", "h7"):
            with self.subTest(name), self.assertRaisesRegex(BadFile, "another file|no row of numbers"):
                load(self.path(name), THROTTLE, interval_s=0.01)


class ArrowFiles(Binary):
    def _table(self) -> pa.Table:
        fields = [pa.field("time", pa.float64(), metadata={"unit": "ms"}), pa.field("wiper (mV)", pa.float32())]
        arrays = [pa.array(1000 * self.times), pa.array((1000 * self.volts).astype(np.float32))]
        return pa.Table.from_arrays(
            [*arrays, pa.array(["x"] * self.volts.size)], schema=pa.schema([*fields, ("n", pa.string())])
        )

    def test_parquet(self):
        pq.write_table(self._table(), self.path("p1"))
        self.same(self.path("p1"), atol=1e-3)

    def test_arrow_as_a_file_and_as_a_stream(self):
        for name, opened in (("a1", pa.ipc.new_file), ("a2", pa.ipc.new_stream)):
            with pa.OSFile(str(self.path(name)), "wb") as sink, opened(sink, self._table().schema) as writer:
                writer.write_table(self._table())
            with self.subTest(name):
                self.same(self.path(name), atol=1e-3)

    def test_an_interval_in_the_metadata_and_missing_values(self):
        values = [None if k in (40, 41) else v for k, v in enumerate(self.volts.tolist())]
        table = pa.table({"signal": values}).replace_schema_metadata({"interval_s": "0.002"})
        pq.write_table(table, self.path("p2"))
        capture = load(self.path("p2"), THROTTLE)
        self.assertAlmostEqual(capture.interval_s, 0.002)
        self.assertTrue(any("missing" in note for note in capture.notes), capture.notes)

    def test_without_times_an_interval_is_asked_for(self):
        pq.write_table(pa.table({"signal": self.volts}), self.path("p3"))
        with self.assertRaisesRegex(BadFile, "interval"):
            load(self.path("p3"), THROTTLE)
        self.assertEqual(load(self.path("p3"), THROTTLE, interval_s=0.002).samples, self.volts.size)


class Damaged(Binary):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        made = {name: cls.folder / name for name in ("wav", "mat", "parquet", "arrow", "h5")}
        wavfile.write(made["wav"], 500, (cls.volts * 1000).astype(np.int16))
        savemat(made["mat"], {"time": cls.times, "signal": cls.volts}, do_compression=True)
        table = pa.table({"time": cls.times, "signal": cls.volts})
        pq.write_table(table, made["parquet"])
        with pa.OSFile(str(made["arrow"]), "wb") as sink, pa.ipc.new_file(sink, table.schema) as writer:
            writer.write_table(table)
        with h5py.File(made["h5"], "w") as out:
            out["time"], out["signal"] = cls.times, cls.volts
        cls.whole = {name: path.read_bytes() for name, path in made.items()}

    @settings(max_examples=150, deadline=None)
    @given(st.sampled_from(("wav", "mat", "parquet", "arrow", "h5")), st.data())
    def test_any_damage_is_a_sentence_and_never_anything_else(self, name, data):
        content = bytearray(self.whole[name])
        if data.draw(st.booleans()):
            content = content[: data.draw(st.integers(0, len(content)))]
        for _ in range(data.draw(st.integers(0, 6)) if content else 0):
            content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
        path = self.folder / "damaged"
        path.write_bytes(bytes(content))
        try:
            load(path, THROTTLE)
        except (BadFile, BadCapture, BadOption) as told:
            self.assertTrue(str(told))
            self.assertNotIn(str(self.folder), str(told))


del Binary

if __name__ == "__main__":
    unittest.main()
