"""Reading in a process of its own, by a library in C that a damaged file can hold for ever or tear down.

A loop in such a library cannot be ended from within, and would take a web process with it. The process has so much
processor time and no more; what it read comes back as a table on disk, of which only what is wanted is loaded.

    python -m tracebench.formats.apart FILE FOLDER
"""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from tracebench.core.errors import BadFile
from tracebench.core.samples import Samples
from tracebench.formats.columns import Row

LEAST_S, BYTES_A_S = 15.0, 5_000_000.0
"""Processor time for any file, and how many bytes of it are worth a second more: ten times what a slow one needs."""

BUSY = 8.0
"""A machine may be so many times slower by the clock than by the work done."""

TOLD, TABLE = "told.json", "table.npy"

Rows = tuple[list[Row], int, float | None]
"""Rows of numbers, how long each is, and the interval where the file tells one."""


def rows_apart(kind: str, path: Path) -> Rows:
    """What `hdf5.rows` finds in a file. Raises BadFile, also where it never ends or breaks what reads it."""
    limit_s = LEAST_S + path.stat().st_size / BYTES_A_S
    with tempfile.TemporaryDirectory(prefix="tracebench-") as folder:
        command = [sys.executable, "-m", "tracebench.formats.apart", str(path), folder, str(limit_s)]
        try:
            subprocess.run(command, capture_output=True, timeout=BUSY * limit_s, check=True)
            told = json.loads((Path(folder) / TOLD).read_text())
        except (subprocess.SubprocessError, OSError):
            text = f"this {kind} file is damaged: it breaks what reads it, or holds it for over {limit_s:.0f} s"
            raise BadFile(text, 1) from None
        if "refused" in told:
            raise BadFile(told["refused"], told["line"])
        table: Any = np.load(Path(folder) / TABLE, mmap_mode="r") if told["rows"] else np.empty((0, 0))
    # The table stays readable after its folder is gone, until the last row is let go.
    rows = [Row(name, unit, partial(_loaded, table[k])) for k, (name, unit) in enumerate(told["rows"])]
    return rows, told["count"], told["interval_s"]


def _loaded(row: Samples) -> Samples:
    return np.array(row)


def main(path: Path, folder: Path, limit_s: float) -> None:
    """Read a file and leave what was found in a folder."""
    from tracebench.formats import hdf5  # noqa: PLC0415 - it asks for this module

    resource.setrlimit(resource.RLIMIT_CPU, (int(limit_s), int(limit_s) + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        rows, count, interval_s = hdf5.rows(path)
    except BadFile as refused:
        told: dict[str, Any] = {"refused": refused.message, "line": refused.line}
    else:
        if rows:
            shape = (len(rows), count)
            table = np.lib.format.open_memmap(folder / TABLE, mode="w+", dtype=np.float64, shape=shape)
            for k, row in enumerate(rows):
                table[k] = row.read()
        told = {"rows": [[row.name, row.unit] for row in rows], "count": count, "interval_s": interval_s}
    (folder / TOLD).write_text(json.dumps(told))


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]), float(sys.argv[3]))
