"""Kills at random moments while learners save: is anything lost that was acknowledged?

    .venv/bin/python -m benchmarks.chaos [kills]

`./start` runs on a folder of its own with the demo class. Learners save numbered answers all the while; each that is
acknowledged is noted. The database, a web server, a worker, or ./start itself is killed (SIGKILL) at a random moment,
and ./start is started again where it was the one. After every kill each learner's answer must be the last acknowledged
one, or the one that was under way. At the end every sitting is handed in, and must be marked once.
"""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
from collections import Counter
from http.client import HTTPException
from pathlib import Path

from benchmarks.class_hands_in import Browser
from tests.support.client import CIRCUIT, STEPS
from tracebench.demo import cast

PORT = 8740
LEARNERS = 4
DOCUMENT = {
    "circuit": CIRCUIT,
    "title": "Under way while things break",
    "brief": "x",
    "source": {"kind": "upload"},
    "schools": {"sweep": "slow"},
    "attempts": 1,
    "due": "2030-01-01",
    "reference_version_id": None,
    "limits": [],
    "steps": STEPS,
    "points": {},
}
KILLED = {"database": "mariadbd", "web server": "tracebench.web_server", "worker": "tracebench.worker"}
LOST = (urllib.error.URLError, OSError, HTTPException, json.JSONDecodeError)


class Start:
    """./start on a folder, and what runs beneath it."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.process = self._begin()

    def _begin(self) -> subprocess.Popen[bytes]:
        command = [
            sys.executable,
            "-m",
            "tracebench.serve",
            "--data",
            str(self.folder),
            "--port",
            str(PORT),
            "--no-backups",
        ]
        return subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)

    def beneath(self, what: str) -> list[int]:
        told = subprocess.run(
            ["pgrep", "-P", str(self.process.pid), "-f", what], capture_output=True, text=True, check=False
        )
        return [int(pid) for pid in told.stdout.split()]

    def kill(self, what: str) -> None:
        if what == "start":
            self.process.kill()
            self.process.wait()
            self.process = self._begin()
        else:
            for pid in self.beneath(KILLED[what])[:1]:
                os.kill(pid, signal.SIGKILL)


class Learner(threading.Thread):
    """Saves one number after the other into one answer, and notes what was acknowledged."""

    def __init__(self, url: str, sign_in: str, card_id: int) -> None:
        super().__init__(daemon=True)
        self.url, self.sign_in, self.card_id = url, sign_in, card_id
        self.tried = self.acknowledged = 0
        self.count = 0
        self.over = threading.Event()
        self.browser = Browser(url)
        patiently(lambda: self.browser.sign_in(sign_in, cast.PASSWORD))
        self.sitting_id = patiently(lambda: self.browser.call("POST", f"/api/cards/{card_id}/sittings", {}))["id"]

    def seen(self) -> tuple[float, int]:
        """The number that the server has, and the sitting's revision."""
        sitting = patiently(lambda: self.browser.call("GET", f"/api/sittings/{self.sitting_id}"))
        return sitting["answers"].get("reading-closed_v", {}).get("value") or 0.0, sitting["revision"]

    def run(self) -> None:
        revision = self.seen()[1]
        while not self.over.is_set():
            self.tried = self.acknowledged + 1
            body = {
                "step": "reading-closed_v",
                "answer": {"value": float(self.tried), "pegs": [0.5]},
                "revision": revision,
            }
            try:
                revision = self.browser.call("PUT", f"/api/sittings/{self.sitting_id}/answer", body)["revision"]
            except LOST:
                # Kept by the server or not: what it has says which, as the page does when it reloads.
                value, revision = self.seen()
                if value < self.tried:
                    continue
            self.acknowledged, self.count = self.tried, self.count + 1
            time.sleep(random.uniform(0.0, 0.03))


def patiently(call):
    for _ in range(2400):
        try:
            return call()
        except LOST:
            time.sleep(0.1)
    raise SystemExit("the server did not come back within four minutes")


def main() -> None:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    url = f"http://127.0.0.1:{PORT}"
    drawn = random.Random(11)
    done: Counter[str] = Counter()
    lost = 0
    with tempfile.TemporaryDirectory() as folder:
        start = Start(Path(folder))
        try:
            teacher = Browser(url)
            patiently(lambda: teacher.sign_in(cast.INSTRUCTOR[0], cast.PASSWORD))
            course_id = teacher.call("GET", "/api/courses")[0]["id"]
            made = teacher.call("POST", "/api/cards", {"course_id": course_id, "document": DOCUMENT})
            teacher.call("POST", f"/api/cards/{made['id']}/publish", {})
            learners = [Learner(url, x.sign_in, made["id"]) for x in cast.LEARNERS[:LEARNERS]]
            for learner in learners:
                learner.start()
            for _ in range(kills):
                time.sleep(drawn.uniform(0.2, 1.5))
                what = drawn.choice(("database", "web server", "worker", "start"))
                start.kill(what)
                done[what] += 1
                for learner in learners:
                    before = learner.acknowledged
                    value = learner.seen()[0]
                    lost += not before <= value <= learner.tried
            for learner in learners:
                learner.over.set()
                learner.join()
                value = learner.seen()[0]
                lost += value != learner.acknowledged
                hand_in = f"/api/sittings/{learner.sitting_id}/hand-in"
                patiently(lambda b=learner.browser, path=hand_in: b.call("POST", path, {"incomplete_ok": True}))
            time.sleep(10)
            desk = teacher.call("GET", f"/api/courses/{course_id}/desk")
            mine = [d for d in desk if d["id"] in {x.sitting_id for x in learners}]
            saved = sum(x.count for x in learners)
            told = ", ".join(f"{n} {k}" for k, n in done.items())
            print(f"{kills} kills ({told}), {saved} acknowledged changes, {lost} lost")
            print(f"{sum(d['certainty'] is not None for d in mine)} of {len(mine)} sittings marked")
        finally:
            start.process.terminate()
            start.process.wait(timeout=60)


if __name__ == "__main__":
    main()
