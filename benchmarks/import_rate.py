"""Import of a 5-million-row text file into MariaDB: rate and peak memory: python -m benchmarks.import_rate [rows]

The peer is pyarrow reading the same file in blocks, which is the library that the import itself uses.
"""

from __future__ import annotations

import resource
import sys
import tempfile
import time
from datetime import datetime
from pathlib import Path

import numpy as np
import pyarrow.csv as pacsv

from tests.support.database import fresh_settings, stop_shared
from tracebench.store.pool import Pool
from tracebench.usecases import captures, people
from tracebench.usecases.person import Person

NOW = datetime(2026, 1, 1)  # noqa: DTZ001


def written(folder: Path, rows: int) -> Path:
    """Four columns of a 12-bit recorder, written in blocks so that this script itself stays small."""
    path = folder / "long.csv"
    rng = np.random.default_rng(1)
    with path.open("w") as out:
        out.write("time (s),A (V),B (V),C (V)\n")
        for start in range(0, rows, 200_000):
            times = np.arange(start, min(start + 200_000, rows)) * 1e-5
            swing = 2.4 - 1.8 * np.cos(2 * np.pi * times / 12)
            step = 10 / 4096
            lanes = [np.round((level + rng.normal(0, 0.004, times.size)) / step) * step for level in (swing, 5.0, 0.02)]
            out.writelines(f"{t:.5f},{a:.4f},{b:.4f},{c:.4f}\n" for t, a, b, c in zip(times, *lanes, strict=True))
    return path


def main() -> None:
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 5_000_000
    folder = Path(tempfile.mkdtemp())
    path = written(folder, rows)
    settings = fresh_settings(folder / "uploads")
    pool = Pool(settings)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    with pool.transaction() as conn:
        person_id = people.add(conn, "owner", "Owner", "instructor", "long enough", NOW)
        person = Person(person_id, "owner", "Owner", "instructor", 1)
        begun = time.perf_counter()
        with path.open("rb") as stream:
            sent = captures.receive(conn, settings.uploads, person, path.name, stream, "throttle-position", NOW)
        captures.import_upload(
            conn, settings.uploads, person, sent["upload_id"], "throttle-position", sent["mapping"], None, NOW
        )
    took = time.perf_counter() - begun
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    begun = time.perf_counter()
    for _ in pacsv.open_csv(path):
        pass
    peer = time.perf_counter() - begun
    size = path.stat().st_size / 1e6
    print(
        f"{rows:,} rows, {size:.0f} MB, 3 lanes: {took:.1f} s = {rows / took / 1e6:.2f} M rows/s; "
        f"memory {before:.0f} MB before, peak {peak:.0f} MB; pyarrow alone {peer:.1f} s"
    )
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
