"""Files that break what reads them: told in a sentence, and whoever asked for them goes on."""

import os
import re
import struct
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from tests.support.waves import Sweep
from tracebench.core.circuits import circuit
from tracebench.core.errors import BadFile
from tracebench.formats import apart
from tracebench.formats.apart import client, limits
from tracebench.formats.writing import write

THROTTLE = circuit("throttle-position")


def torn(folder: Path) -> Path:
    """A file of ASAM MDF 4 whose channels lie far outside of their records, as one changed byte in each tells it.

    A channel's block (##CN): head of 24 bytes with the number of links at 16, the links of 8 bytes, then four bytes of
    kinds, and the byte that the channel begins at as an unsigned 32-bit number (ASAM MDF 4.1).
    """
    path = folder / "torn"
    write(path, Sweep(rate_hz=100).capture(), "mf4")
    data = bytearray(path.read_bytes())
    channels = [found.start() for found in re.finditer(rb"##CN", bytes(data))]
    for begin in channels:
        (links,) = struct.unpack_from("<Q", data, begin + 16)
        data[begin + 24 + 8 * links + 7] = 0x65
    path.write_bytes(bytes(data))
    return path


def held(folder: Path) -> Path:
    """An HDF5 file with a collection of texts that never ends, in which its library goes round for ever."""
    path = folder / "held"
    write(path, Sweep(rate_hz=100).capture(), "h5")
    content = bytearray(path.read_bytes())
    # A head of 16 bytes, then objects of 16 bytes each, the last eight its size, and the text. The first is told to
    # be longer than it is, and what follows it is made of nothings.
    content[content.index(b"GCOL") + 16 + 8] = 0x45
    path.write_bytes(bytes(content))
    return path


class Apart(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.kept = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.kept.cleanup)
        cls.folder = Path(cls.kept.name)

    def good(self):
        path = self.folder / "good.csv"
        if not path.exists():
            write(path, Sweep(rate_hz=100).capture(), "csv")
        return path

    def refused(self, path):
        with self.assertRaises(BadFile) as told:
            apart.load(path, THROTTLE)
        self.assertNotIn(str(self.folder), str(told.exception))
        return str(told.exception)


class Breaks(Apart):
    def test_one_that_tears_its_reader_down_is_a_sentence_and_the_next_file_is_read(self):
        self.assertRegex(self.refused(torn(self.folder)), r"breaks its reader: .*\(SIG(SEGV|ABRT|BUS)\)")
        self.assertGreater(apart.load(self.good(), THROTTLE).samples, 100)

    def test_one_that_never_ends_is_a_sentence_in_time(self):
        begun = time.monotonic()
        with mock.patch.object(limits, "LEAST_S", 1.0):
            self.assertIn("over 1 s of work", self.refused(held(self.folder)))
        self.assertLess(time.monotonic() - begun, 15)

    def test_others_are_read_while_one_goes_round(self):
        with mock.patch.object(limits, "LEAST_S", 3.0):
            said = []
            other = threading.Thread(target=lambda: said.append(self.refused(held(self.folder))))
            other.start()
            time.sleep(0.5)
            apart.load(self.good(), THROTTLE)
            self.assertEqual(said, [])
            other.join()
        self.assertIn("breaks its reader", said[0])

    def test_one_that_takes_too_much_memory_is_a_sentence(self):
        path = self.folder / "large"
        zeros = pa.array(np.zeros(30_000_000))
        pq.write_table(pa.table({"time": zeros, "signal": zeros}), path, compression="zstd")
        self.assertLess(path.stat().st_size, 1_000_000)
        with mock.patch.object(limits, "MEMORY_BYTES", 200 * 1024**2):
            self.assertRegex(self.refused(path), "memory|GiB|realloc|malloc")
        self.assertGreater(apart.load(self.good(), THROTTLE).samples, 100)

    def test_what_stands_ready_is_started_again_when_it_is_gone(self):
        apart.load(self.good(), THROTTLE)
        apart.READERS._process.kill()
        apart.READERS._process.wait()
        self.assertGreater(apart.load(self.good(), THROTTLE).samples, 100)

    def test_one_that_cannot_be_started_is_a_sentence(self):
        readers = client.Readers()
        with mock.patch.object(client.sys, "executable", "/bin/false"), self.assertRaisesRegex(BadFile, "reader could"):
            readers.ask("understand", self.good())
        readers.close()

    def test_it_ends_with_whoever_started_it(self):
        readers = client.Readers()
        readers.ask("understand", self.good())
        process = readers._process
        readers._control.close()
        self.assertEqual(process.wait(timeout=10), 0)
        readers.close()

    def test_a_file_that_is_not_there_is_a_sentence(self):
        with self.assertRaisesRegex(BadFile, "there is no file"):
            apart.understand(self.folder / "nowhere")


class Handed(Apart):
    def test_rows_are_what_the_file_holds_and_can_be_worked_on(self):
        rng = np.random.default_rng(3)
        numbers = rng.normal(size=(5, 4000))
        times = np.arange(4000) / 100
        names = [f"c{k}" for k in range(5)]
        path = self.folder / "rows.csv"
        rows = [f"{t:.17g}," + ",".join(f"{v:.17g}" for v in numbers[:, k]) for k, t in enumerate(times)]
        path.write_text("time (s)," + ",".join(names) + "\n" + "\n".join(rows) + "\n")
        layout, table = apart.both(path, [4, 2])
        self.assertEqual([c.name for c in layout.value_columns], names)
        np.testing.assert_array_equal(table.values[4], numbers[2])
        np.testing.assert_array_equal(table.values[2], numbers[0])
        np.testing.assert_array_equal(table.times_s, times)
        table.values[2][:] = 0

    def test_more_rows_than_have_a_file_of_their_own(self):
        wide = np.arange(40 * 60.0).reshape(60, 40)
        path = self.folder / "wide.csv"
        np.savetxt(path, wide, delimiter=",", header=",".join(f"n{k}" for k in range(40)), comments="")
        _, table = apart.both(path, range(1, 41))
        read = dict(table.values)
        for position, row in read.items():
            np.testing.assert_array_equal(row, wide[:, position - 1])
        self.assertGreaterEqual(len(read), 39)

    def test_nothing_stays_open(self):
        apart.load(self.good(), THROTTLE)
        before = len(os.listdir("/proc/self/fd"))
        for _ in range(10):
            apart.load(self.good(), THROTTLE)
            self.refused(torn(self.folder))
        self.assertLessEqual(len(os.listdir("/proc/self/fd")), before)


if __name__ == "__main__":
    unittest.main()
