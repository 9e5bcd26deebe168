"""Damaged files of each format sent to a running site by a learner and an instructor, the crashing kind on purpose.

    .venv/bin/python -m benchmarks.breaking_files [count a format] [format ...]

Half of them are damaged anywhere (`odd_formats.damaged`); in the other half what tells where something lies or how long
it is gets another value: eight or four bytes that name a place or length within the file, as blocks of MDF, HDF5, RIFF,
Parquet and zip have them. Every answer must be a sentence, and the processes of the site those of the beginning.
"""

from __future__ import annotations

import http.client
import json
import sys
import tempfile
import time
import zlib
from collections import Counter
from datetime import datetime
from pathlib import Path

import numpy as np

from benchmarks.odd_formats import damaged
from tests.support.database import fresh_settings, stop_shared
from tests.support.files import zip_of
from tests.support.server import Served
from tests.support.waves import Sweep
from tracebench.formats.writing import WRITERS, write
from tracebench.store.pool import Pool
from tracebench.usecases.people import accounts

PASSWORD = "long enough"
NOW = datetime(2026, 1, 1)  # noqa: DTZ001
SLOW_S = 5.0


def misplaced(data: bytes, rng: np.random.Generator) -> bytes:
    """One to three of the numbers that could be a place or a length in the file have another value."""
    out = bytearray(data)
    for _ in range(int(rng.integers(1, 4))):
        width = int(rng.choice((4, 8)))
        places = [
            at
            for at in rng.integers(0, len(data) - width, 400)
            if 0 < int.from_bytes(data[at : at + width], "little") <= 2 * len(data)
        ]
        if not places:
            return damaged(data, rng)
        at = int(places[0])
        top = 256**width - 1
        worse = (0, 1, len(data) - 1, len(data) + 1, top, top // 2, int(rng.integers(0, 2**31)), int(rng.integers(256)))
        out[at : at + width] = int(rng.choice(np.array(worse, dtype=np.uint64))).to_bytes(width, "little")
    return bytes(out)


class Sender:
    """A person with a session, sending files."""

    def __init__(self, port: int, name: str, password: str = PASSWORD) -> None:
        self._port = port
        self._cookies: dict[str, str] = {}
        self.csrf = ""
        self.call("GET", "/api/session", None)
        self.call("POST", "/api/session", json.dumps({"sign_in": name, "password": password}).encode())

    @property
    def cookie(self) -> str:
        return "; ".join(f"{name}={kept}" for name, kept in self._cookies.items())

    def call(self, method: str, path: str, body: bytes | None, kind: str = "application/json") -> tuple[int, bytes]:
        connection = http.client.HTTPConnection("127.0.0.1", self._port, timeout=120)
        connection.request(method, path, body, {"Cookie": self.cookie, "X-CSRFToken": self.csrf, "Content-Type": kind})
        answer = connection.getresponse()
        told = answer.read()
        for key, value in answer.getheaders():
            if key == "Set-Cookie":
                name, _, kept = value.split(";")[0].partition("=")
                self._cookies[name] = kept
        if path == "/api/session" and answer.status == 200:
            self.csrf = json.loads(told)["csrf"]
        connection.close()
        return answer.status, told


def forget(pool: Pool, uploads: Path) -> None:
    """Take away what was understood and waits to be mapped: the site has a limit of its own for that."""
    with pool.transaction() as conn, conn.cursor() as cursor:
        cursor.execute(
            "SELECT id, stored_as FROM upload WHERE id NOT IN (SELECT upload_id FROM inbox_item WHERE upload_id)"
        )
        for row in cursor.fetchall():
            cursor.execute("DELETE FROM upload WHERE id = %s", (row["id"],))
            (uploads / row["stored_as"]).unlink(missing_ok=True)


def main(count: int, only: list[str]) -> None:
    folder = Path(tempfile.mkdtemp())
    settings = fresh_settings(folder / "uploads")
    pool = Pool(settings)
    with pool.transaction() as conn:
        for name, role in (("lea", "learner"), ("ina", "instructor")):
            accounts.add(conn, name, name.title(), role, PASSWORD, NOW)
    site = Served(settings)
    try:
        begun = [process.pid for process in site.processes]
        learner, instructor = Sender(site.port, "lea"), Sender(site.port, "ina")
        capture = Sweep(rate_hz=50).capture()
        good = {}
        for ending in WRITERS:
            write(folder / "good", capture, ending)
            good[ending] = (folder / "good").read_bytes()
        good["zip"] = zip_of({"a.csv": good["csv"], "b/c.csv": good["csv"][: len(good["csv"]) // 2]})
        for name, data in good.items():
            if only and name not in only:
                continue
            rng = np.random.default_rng(zlib.crc32(name.encode()))
            outcomes, slowest, since = Counter[str](), 0.0, time.monotonic()
            for k in range(count):
                bad = misplaced(data, rng) if k % 2 else damaged(data, rng)
                asked = time.monotonic()
                if name == "zip":
                    status, told = instructor.call("POST", "/api/inbox?filename=x", bad, "application/octet-stream")
                else:
                    path = "/api/uploads?filename=x&circuit=throttle-position"
                    status, told = learner.call("POST", path, bad, "application/octet-stream")
                slowest = max(slowest, time.monotonic() - asked)
                said = told.decode("utf-8", "replace")
                broke = "breaks its reader" in said
                outcomes[
                    "broke its reader, told" if broke else "read" if status in (200, 201) else f"refused {status}"
                ] += 1
                if status >= 500 or str(folder) in said:
                    print("FAULT", name, k, status, said[:200], flush=True)
                if k % 200 == 199:
                    forget(pool, settings.uploads)
                    alive = [process.poll() is None for process in site.processes]
                    if not all(alive) or [process.pid for process in site.processes] != begun:
                        print("FAULT a process of the site is gone", name, k, flush=True)
                        return
            each = (time.monotonic() - since) / max(1, count)
            print(f"{name:<8} {dict(outcomes)}, the slowest {slowest:.1f} s, {1000 * each:.0f} ms each", flush=True)
        print(f"processes as at the beginning: {all(p.poll() is None for p in site.processes)}", flush=True)
    finally:
        site.stop()
        pool.close()
        stop_shared()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000, sys.argv[2:])
