"""A school for drivers from outside: ./start on a folder of its own with the demo, and a class that is brought in."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPException
from pathlib import Path
from typing import TypeVar

from benchmarks.class_hands_in import Browser
from tests.support.client import CIRCUIT, STEPS
from tracebench.demo import cast

T = TypeVar("T")
LOST = (urllib.error.URLError, OSError, HTTPException, json.JSONDecodeError)
KILLED = {
    "database": "mariadbd",
    "web server": "tracebench.processes.web_server",
    "worker": "tracebench.processes.worker",
}
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
PASSWORD = "three quiet words"


class Start:
    """./start on a folder, and what runs beneath it."""

    def __init__(self, folder: Path, port: int) -> None:
        with socket.socket() as probe:
            # What a driver that was stopped left behind would answer in its place.
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                raise SystemExit(f"something answers at port {port} already; end it first")
        self.folder, self.url, self._port = folder, f"http://127.0.0.1:{port}", port
        self.process = self._begin()

    def _begin(self) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "tracebench.processes.serve", "--no-backups"]
        command += ["--data", str(self.folder), "--port", str(self._port)]
        return subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)

    def beneath(self, what: str = "") -> list[int]:
        """Process ids of its children whose command has these words in it."""
        asked = ["pgrep", "-P", str(self.process.pid), "-f", what or "."]
        return [int(pid) for pid in subprocess.run(asked, capture_output=True, text=True, check=False).stdout.split()]

    def kill(self, what: str) -> None:
        if what == "start":
            self.process.kill()
            self.process.wait()
            self.process = self._begin()
        else:
            found = self.beneath(KILLED[what])
            for _ in range(300):
                if found:
                    break
                time.sleep(0.1)
                found = self.beneath(KILLED[what])
            # One that is being started again is waited for: a kill that hits nothing is none.
            os.kill(found[0], signal.SIGKILL)

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(timeout=60)


def patiently(call: Callable[[], T]) -> T:
    """Ask until there is an answer, four minutes at most."""
    for _ in range(2400):
        try:
            return call()
        except LOST:
            time.sleep(0.1)
    raise SystemExit("the server did not come back within four minutes")


def teacher_of(start: Start) -> tuple[Browser, int]:
    """The demo's instructor, signed in, and the first course."""
    teacher = Browser(start.url)
    patiently(lambda: teacher.sign_in(cast.INSTRUCTOR[0], cast.PASSWORD))
    return teacher, teacher.call("GET", "/api/courses")[0]["id"]


def class_of(teacher: Browser, course_id: int, count: int) -> list[Browser]:
    """As many new learners in the course, each signed in at a browser of their own."""
    text = "\n".join(f"Learner {k},class.{k},learner" for k in range(count))
    rows = teacher.call("POST", "/api/people/table", {"text": text, "course_id": course_id, "keep": True})
    wrong = [row for row in rows if row["state"] == "wrong"]
    if wrong:
        raise SystemExit(f"the class was not brought in: {wrong[0]['problem']}")

    def joined(token: str) -> Browser:
        browser = Browser(teacher.url)
        browser.csrf = browser.call("GET", "/api/session")["csrf"]
        told = browser.call("POST", "/api/session/join", {"token": token, "password": PASSWORD})
        browser.csrf = told["csrf"]
        return browser

    with ThreadPoolExecutor(4) as crowd:
        return list(crowd.map(joined, (row["token"] for row in rows)))


def published(teacher: Browser, course_id: int, **changes: object) -> int:
    """A card for the course; its id."""
    made = teacher.call("POST", "/api/cards", {"course_id": course_id, "document": DOCUMENT | changes})
    teacher.call("POST", f"/api/cards/{made['id']}/publish", {})
    return int(made["id"])
