"""Damaged files of each format, and bundles, given to their readers: python -m benchmarks.odd_formats [count] [format]

Cut, bytes changed at random or in the head, pieces doubled, left out or exchanged. Anything but a sentence is a fault.
"""

from __future__ import annotations

import logging
import sys
import tempfile
import time
import warnings
import zipfile
import zlib
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import numpy as np

from tests.outside import workshop
from tests.support.files import zip_of
from tracebench.core.circuits import circuit
from tracebench.core.errors import TraceBenchError
from tracebench.formats import apart, archive, bundle
from tracebench.formats.writing import WRITERS, write
from tracebench.usecases.shelf import exchange

PEDAL = circuit("pedal-position")
SLOW_S = 2.0


def damaged(data: bytes, rng: np.random.Generator) -> bytes:
    """One of the ways in which files go bad."""
    out = bytearray(data)
    size = len(out)
    way = int(rng.integers(6))
    if way == 0:
        return bytes(out[: int(rng.integers(size))])
    if way in (1, 2):
        reach = size if way == 1 else min(size, 600)
        for at in rng.integers(0, reach, int(rng.integers(1, 24))):
            out[at] = int(rng.integers(256))
        return bytes(out)
    start, stop = sorted(int(v) for v in rng.integers(0, size, 2))
    piece = bytes(out[start:stop])
    if way == 3:
        return bytes(out[:stop]) + piece + bytes(out[stop:])
    if way == 4:
        return bytes(out[:start]) + bytes(out[stop:])
    return bytes(out[:start]) + bytes(rng.integers(0, 256, len(piece), dtype=np.uint8)) + bytes(out[stop:])


def read_capture(path: Path) -> None:
    apart.load(path, PEDAL)


def read_zip(path: Path) -> None:
    with tempfile.TemporaryDirectory() as folder:
        apart.unpack(path, Path(folder), "out", 0, archive.MOST_BYTES)


def read_bundle(path: Path) -> None:
    found = apart.bundle_of(path)
    for sheet in found.sheets[:2]:
        for name, told in sheet["captures"].items():
            found.capture(name, told)


def tried(name: str, data: bytes, read: Callable[[Path], None], count: int, folder: Path) -> None:
    rng = np.random.default_rng(zlib.crc32(name.encode()))
    path, outcomes, slowest = folder / "damaged.bin", Counter[str](), 0.0
    for _ in range(count):
        path.write_bytes(damaged(data, rng))
        begun = time.perf_counter()
        try:
            read(path)
            outcomes["read"] += 1
        except TraceBenchError as refused:
            outcomes["told where it lies" if str(folder) in str(refused) else "refused"] += 1
        except Exception as broken:
            outcomes[f"FAULT {type(broken).__name__}: {str(broken)[:80]}"] += 1
        slowest = max(slowest, time.perf_counter() - begun)
    print(f"{name:<8} {dict(outcomes)}, the slowest {slowest:.2f} s{' SLOW' if slowest > SLOW_S else ''}", flush=True)


def main(count: int, only: list[str]) -> None:
    warnings.simplefilter("ignore")
    logging.disable(logging.CRITICAL)
    # asammdf lets go of what it did not open; that is said on standard error, and breaks nothing.
    sys.unraisablehook = lambda _: None
    capture = workshop.pedal()
    folder = Path(tempfile.mkdtemp())
    good: dict[str, bytes] = {}
    for ending in WRITERS:
        write(folder / "good", capture, ending)
        good[ending] = (folder / "good").read_bytes()
    text = good["csv"]
    small = bundle.sheets(exchange.STARTER)[0]
    names = [f"references/{small['uid']}.json", *(f"captures/{n}.parquet" for n in small["captures"])]
    with zipfile.ZipFile(exchange.STARTER) as found:
        files = {n: found.read(n) for n in ("datapackage.json", *names)}
    archives = {
        "zip": (zip_of({"a.csv": text, "b/c.csv": text[: len(text) // 2]}), read_zip),
        "bundle": (zip_of(files), read_bundle),
    }
    for name, (data, read) in ({ending: (data, read_capture) for ending, data in good.items()} | archives).items():
        if not only or name in only:
            tried(name, data, read, count, folder)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000, sys.argv[2:])
