"""A long capture of four lanes: import beside the parser alone, size, first picture, and storing and loading beside
plain statements with the same samples: python -m benchmarks.large_capture [millions of rows]

The parser is pyarrow reading the file in blocks, which the import itself uses; the plain statements are PyMySQL's.
"""

from __future__ import annotations

import resource
import statistics
import sys
import tempfile
import time
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow.csv as pacsv

from benchmarks.measure_time import median_s
from tests.support.database import fresh_settings, stop_shared
from tracebench.core.capture import Capture
from tracebench.core.circuits import circuit
from tracebench.formats.apart import understand
from tracebench.formats.mapping import guessed_mapping
from tracebench.store import captures as store
from tracebench.store.pool import Connection, Pool
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts
from tracebench.usecases.shelf import captures, uploads

NOW = datetime(2026, 1, 1)  # noqa: DTZ001
CIRCUIT = "pedal-position"
LANES = ("track 1", "track 2", "reference 1", "ground 1")
BLOCK = 200_000
PIECE = 1 << 20
STEP_V = 10 / 4096


def written(folder: Path, rows: int) -> Path:
    """A pedal pressed every twelve seconds, as a 12-bit recorder of 10 V sees four of its wires."""
    path = folder / "long.csv"
    rng = np.random.default_rng(1)
    with path.open("w") as out:
        out.write("time (s)," + ",".join(f"{name} (V)" for name in LANES) + "\n")
        for start in range(0, rows, BLOCK):
            times = np.arange(start, min(start + BLOCK, rows)) * 1e-5
            swing = 2.4 - 1.8 * np.cos(2 * np.pi * times / 12)
            levels = (swing, 0.5 * swing, 5.0, 0.02)
            lanes = [np.round((level + rng.normal(0, 0.004, times.size)) / STEP_V) * STEP_V for level in levels]
            out.writelines(
                f"{t:.5f},{a:.4f},{b:.4f},{c:.4f},{d:.4f}\n" for t, a, b, c, d in zip(times, *lanes, strict=True)
            )
    return path


def read(path: Path) -> captures.Made:
    kind = circuit(CIRCUIT)
    mapping = [
        {"position": m.position, "lane": m.lane, "factor": m.factor} for m in guessed_mapping(understand(path), kind)
    ]
    return uploads.read_file(path, path.name, kind, mapping, None)


def kept(conn: Connection, owner_id: int, capture: Capture) -> int:
    return store.add(conn, owner_id, CIRCUIT, "Long", "file", capture, {}, NOW)


def pictured(conn: Connection, capture_id: int) -> None:
    """What a browser asks for to draw the whole of it: the head, and the first tile of each lane."""
    head = store.head(conn, capture_id)
    assert head is not None
    level = max(0, int(np.ceil(np.log2(head["samples"] / store.TILE_BINS))))
    for lane in head["lanes"]:
        assert store.tile(conn, capture_id, lane["lane"], level, 0).size


def pieces_of(capture: Capture, codes: bool) -> list[bytes]:
    """The samples as plain 16-bit codes, or as the eight bytes each that the application holds, a megabyte a piece."""
    lanes = [lane.samples for lane in capture.lanes.values()]
    rows = [(np.round(x / STEP_V).astype(np.int16) if codes else x).tobytes() for x in lanes]
    return [row[k : k + PIECE] for row in rows for k in range(0, len(row), PIECE)]


def plain(pool: Pool, pieces: list[bytes]) -> tuple[float, float]:
    """Seconds to execute inserts of the pieces and to select them again."""
    with pool.transaction() as conn:
        conn.cursor().execute("CREATE OR REPLACE TABLE plain (id INT PRIMARY KEY, piece LONGBLOB NOT NULL)")

    def put() -> None:
        with pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("DELETE FROM plain")
            for k, piece in enumerate(pieces):
                cursor.execute("INSERT INTO plain (id, piece) VALUES (%s, %s)", (k, piece))

    def fetch() -> Any:
        with pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("SELECT piece FROM plain ORDER BY id")
            return cursor.fetchall()

    return median_s(put, 3), median_s(fetch, 3)


def main() -> None:
    rows = int(1e6 * float(sys.argv[1])) if len(sys.argv) > 1 else 10_000_000
    folder = Path(tempfile.mkdtemp())
    path = written(folder, rows)
    pool = Pool(fresh_settings(folder / "uploads"))
    with pool.transaction() as conn:
        owner_id = accounts.add(conn, "owner", "Owner", "instructor", "long enough", NOW)

    def parse() -> None:
        for _ in pacsv.open_csv(path):
            pass

    parse()
    peers, reads, stores, ids = [], [], [], []
    for _ in range(3):
        peers.append(median_s(parse, 1))
        begun = time.perf_counter()
        made = read(path)
        reads.append(time.perf_counter() - begun)
        begun = time.perf_counter()
        with pool.transaction() as conn:
            ids.append(kept(conn, owner_id, made.capture))
        stores.append(time.perf_counter() - begun)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    peer, whole = statistics.median(peers), statistics.median(a + b for a, b in zip(reads, stores, strict=True))
    samples = made.capture.samples * len(made.capture.lanes)
    print(
        f"{rows:,} rows, {path.stat().st_size / 1e6:.0f} MB, {len(made.capture.lanes)} lanes; peak memory {peak:.0f} MB"
    )
    print(f"import {whole:.1f} s (read {statistics.median(reads):.1f}), pyarrow alone {peer:.1f} s: {whole / peer:.2f}")
    with pool.transaction() as conn:
        stored = queries.captures.stored_bytes_of(conn, owner_id=owner_id) / len(ids)
        print(f"{stored / samples:.2f} bytes a sample, pyramid included")
        print(f"first picture {1000 * median_s(lambda: pictured(conn, ids[-1])):.0f} ms")
        load = median_s(lambda: store.load(conn, ids[-1]), 3)
    storing = statistics.median(stores)
    for codes, name in ((False, "of 8 bytes a sample"), (True, "of 16-bit codes")):
        put, fetch = plain(pool, pieces_of(made.capture, codes))
        print(f"storing {storing:.2f} s, plain execute {name} {put:.2f} s: {storing / put:.2f}")
        print(f"loading {load:.2f} s, plain select {name} {fetch:.2f} s: {load / fetch:.2f}")
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
