"""Requests a second of pages beside a minimal Flask page with one row of the same pool and database, through the same
server with 16 connections: python -m benchmarks.page_rates [rounds] [page ...]

Needs wrk (apt-get install wrk). Each page is measured in turns with the minimal one, a second each, as a machine
that is shared may be twice as fast in one second as in the next; the middle is told.
"""

from __future__ import annotations

import json
import os
import re
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from datetime import UTC, datetime
from pathlib import Path

from flask import Flask, jsonify

from benchmarks.breaking_files import Sender
from tests.support.database import fresh_settings, stop_shared
from tracebench.demo import cast, seed
from tracebench.processes.web_server import server_of
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.store.queries import queries

ROOT = Path(__file__).resolve().parents[1]
CONNECTIONS = 16


def minimal(listening: socket.socket, settings: Settings) -> None:
    """The page that is compared with: Flask, one statement, JSON."""
    app, pool = Flask("minimal"), Pool(settings)

    @app.get("/one/<int:course_id>")
    def one(course_id: int) -> object:
        with pool.transaction() as conn:
            return jsonify(queries.courses.by_id(conn, course_id=course_id))

    server_of(app, listening, 1_000_000).run()


def served(command: list[str], env: dict[str, str]) -> tuple[subprocess.Popen[bytes], int]:
    listening = socket.socket()
    listening.bind(("127.0.0.1", 0))
    listening.listen(256)
    process = subprocess.Popen(
        [*command, str(listening.fileno())], env=env, pass_fds=[listening.fileno()], cwd=ROOT, stderr=subprocess.DEVNULL
    )
    return process, int(listening.getsockname()[1])


def rate(url: str, cookie: str) -> tuple[float, float]:
    """Requests a second, and the 99th percentile in milliseconds."""
    command = ["wrk", "-t1", f"-c{CONNECTIONS}", "-d1s", "--latency", "-H", f"Cookie: {cookie}", url]
    told = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    assert "Non-2xx" not in told, told
    found = re.search(r"99%\s+([\d.]+)(us|ms|s)", told)
    a_second = re.search(r"Requests/sec:\s+([\d.]+)", told)
    assert found and a_second
    return float(a_second[1]), float(found[1]) * {"us": 1e-3, "ms": 1.0, "s": 1e3}[found[2]]


def main() -> None:
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 9
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool = Pool(settings)
    seed.load(pool, settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    env = {
        **os.environ,
        "TRACEBENCH_DB_HOST": settings.db_host,
        "TRACEBENCH_DB_PORT": str(settings.db_port),
        "TRACEBENCH_DB_NAME": settings.db_name,
        "TRACEBENCH_DB_USER": settings.db_user,
        "TRACEBENCH_DB_PASSWORD": settings.db_password,
        "TRACEBENCH_DB_SOCKET": settings.db_socket,
        "TRACEBENCH_SECRET_KEY": settings.secret_key,
        "TRACEBENCH_UPLOADS": str(settings.uploads),
        "TRACEBENCH_LOGS": tempfile.mkdtemp(),
    }
    ours, port = served([sys.executable, "-m", "tracebench.processes.web_server"], env)
    theirs, other = served([sys.executable, "-m", "benchmarks.page_rates", "--minimal"], env)
    try:
        for place in (port, other):
            for _ in range(200):
                try:
                    urllib.request.urlopen(f"http://127.0.0.1:{place}/healthz", timeout=5).close()
                    break
                except urllib.error.HTTPError:
                    break
                except OSError:
                    time.sleep(0.1)
        teacher = Sender(port, cast.INSTRUCTOR[0], cast.PASSWORD)
        learner = Sender(port, "learner", cast.PASSWORD)
        course = json.loads(teacher.call("GET", "/api/courses", None)[1])[0]["id"]
        reference = json.loads(teacher.call("GET", "/api/references", None)[1])["items"][0]["id"]
        print(f"{'page':<26}{'a second':>9}{'minimal':>9}{'part':>7}{'p99':>9}")
        for name, who, path in (
            ("one capture", teacher, "/api/captures/1"),
            ("courses", teacher, "/api/courses"),
            ("a reference", teacher, f"/api/references/{reference}"),
            ("today, instructor", teacher, "/api/today"),
            ("today, learner", learner, "/api/today"),
            ("shelf", teacher, "/api/references"),
            ("job cards", teacher, "/api/cards"),
            ("marking desk", teacher, f"/api/courses/{course}/desk"),
            ("skill map", teacher, f"/api/courses/{course}/skill-map"),
        ):
            if sys.argv[2:] and name not in sys.argv[2:]:
                continue
            pairs = []
            # The first second is for what is loaded and connected once.
            rate(f"http://127.0.0.1:{port}{path}", who.cookie)
            rate(f"http://127.0.0.1:{other}/one/{course}", "")
            for _ in range(rounds):
                page = rate(f"http://127.0.0.1:{port}{path}", who.cookie)
                base = rate(f"http://127.0.0.1:{other}/one/{course}", "")
                pairs.append((page[0], base[0], page[0] / base[0], page[1]))
            page_s, base_s, part, p99 = (statistics.median(p[k] for p in pairs) for k in range(4))
            print(f"{name:<26}{page_s:>9.0f}{base_s:>9.0f}{part:>7.2f}{p99:>7.0f} ms", flush=True)
    finally:
        ours.terminate()
        theirs.terminate()
        pool.close()
        stop_shared()


if __name__ == "__main__":
    if sys.argv[1:2] == ["--minimal"]:
        minimal(socket.socket(fileno=int(sys.argv[2])), Settings.from_env(os.environ))
    else:
        main()
