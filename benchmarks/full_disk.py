"""A disk that is full: people go on reading, what is written is refused in words, and all is well once there is room.

.venv/bin/python -m benchmarks.full_disk      (as root: it mounts a small file system in memory)
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from benchmarks.breaking_files import Sender
from benchmarks.killed_starts import ROOT, Start
from tracebench.demo import cast

SIZE = "900m"


def main() -> None:
    place = Path(tempfile.mkdtemp(prefix="tracebench-full-"))
    subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={SIZE}", "tmpfs", str(place)], check=True)
    start = Start(ROOT, place / "data")
    ballast = place / "ballast"
    try:
        address = start.answers()
        assert address, start.words()
        port = int(address.rsplit(":", 1)[1])
        people = {
            name: Sender(port, sign_in, cast.PASSWORD)
            for name, sign_in in (
                ("instructor", cast.INSTRUCTOR[0]),
                ("learner", "learner"),
                ("admin", cast.ADMINISTRATOR[0]),
            )
        }
        course = json.loads(people["instructor"].call("GET", "/api/courses", None)[1])[0]["id"]
        card = json.loads(people["learner"].call("GET", "/api/cards", None)[1])[0]["id"]
        sheet = json.loads(people["instructor"].call("GET", f"/api/courses/{course}/desk", None)[1])[0]["id"]
        reads = {
            "instructor": (
                "/api/session",
                "/api/today",
                "/api/references",
                "/api/references/1",
                "/api/captures/1",
                "/api/cards",
                f"/api/courses/{course}/desk",
                f"/api/courses/{course}/skill-map",
                f"/api/marking/{sheet}",
                f"/api/marking/{sheet}/corridor",
                "/api/references/1/corridor",
            ),
            "learner": ("/api/session", "/api/today", "/api/cards", "/api/sittings"),
            "admin": ("/api/installation", "/api/audit", "/api/people", "/api/jobs"),
        }
        with ballast.open("wb") as out:
            try:
                while True:
                    out.write(bytes(1 << 16))
                    out.flush()
            except OSError:
                pass
        bad = 0
        for name, paths in reads.items():
            for path in paths:
                status, told = people[name].call("GET", path, None)
                if status != 200:
                    bad += 1
                    print("READ REFUSED", name, path, status, told[:160])
        print(f"full: {sum(map(len, reads.values()))} pages read, {bad} refused")
        for name, path in (
            ("learner", f"/api/cards/{card}/sittings"),
            ("learner", "/api/uploads?filename=x.csv&circuit=throttle-position"),
        ):
            status, told = people[name].call("POST", path, b"{}")
            print(f"full: POST {path.split('?')[0]} {status} {told[:120]!r}")
        ballast.unlink()
        status, told = people["learner"].call("POST", f"/api/cards/{card}/sittings", b"{}")
        print(f"with room again: {status}")
    finally:
        ballast.unlink(missing_ok=True)
        start.stop()
        subprocess.run(["umount", "-l", str(place)], check=False)


if __name__ == "__main__":
    sys.exit(main())
