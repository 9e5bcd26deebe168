"""One day of a class of thirty, six hours in twenty minutes: does any process grow, or keep what it opened?

    .venv/bin/python -m benchmarks.school_day [learners] [minutes]

`./start` with the demo. Each learner comes in, and again and again begins a sitting, sends a file of their scope,
looks at it closely, answers, and hands in; some run the trainer with their own hands; the instructor marks, releases,
looks at desk, shelf and skill, and exports. Before the first and after the last of it (and after a tenth of the time,
when all that is loaded once has been) memory (proportional set size), descriptors and threads of each process beneath
./start are told.
"""

from __future__ import annotations

import random
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

from benchmarks.class_hands_in import Browser
from benchmarks.school import LOST, Start, class_of, published, teacher_of
from tests.support.client import CIRCUIT, csv_of
from tests.support.waves import Sweep

PORT = 8760
SCOPE = {"range_v": 10, "duration_s": 0.5, "rate_hz": 1000, "ground": "sensor ground"}
SITTINGS_A_DAY = 10
IDLE_S = 45.0
"""For jobs to end and idle connections to close, before what is left is told."""


class Day:
    """What all share: when it ends, and what was done."""

    def __init__(self, seconds: float) -> None:
        self.seconds, self.end = seconds, time.monotonic() + seconds
        self.done: Counter[str] = Counter()
        self._lock = threading.Lock()

    @property
    def over(self) -> bool:
        return time.monotonic() > self.end

    def did(self, what: str) -> None:
        with self._lock:
            self.done[what] += 1


def waited(browser: Browser, job: dict[str, object]) -> dict[str, object]:
    while job["state"] in ("waiting", "running"):
        time.sleep(0.5)
        job = browser.call("GET", f"/api/jobs/{job['id']}")
    return job


def sent(browser: Browser, seed: int) -> int:
    """A file of the learner's scope, brought in; the capture's id."""
    text = csv_of(Sweep(rate_hz=1000, noise_v=0.004, bits=12, seed=seed))
    told = browser.call("POST", f"/api/uploads?filename=own-{seed}.csv&circuit={CIRCUIT}", raw=text)
    body = {"upload_id": told["upload_id"], "circuit": CIRCUIT, "mapping": told["mapping"], "interval_s": None}
    made = browser.call("POST", "/api/captures", body)
    if made.get("capture") is None:
        made = {"capture": {"id": waited(browser, made["job"])["result"]["capture_id"]}}
    return int(made["capture"]["id"])


def one_sitting(browser: Browser, card_id: int, seed: int, drawn: random.Random) -> None:
    for page in ("/api/session", "/api/today", "/api/cards", "/api/sittings"):
        browser.call("GET", page)
    sitting = browser.call("POST", f"/api/cards/{card_id}/sittings", {})
    path = f"/api/sittings/{sitting['id']}"
    capture_id = sent(browser, seed)
    state = browser.call("POST", f"{path}/capture", {"capture_id": capture_id})
    for level in range(3):
        with browser.opener.open(f"{browser.url}/api/captures/{capture_id}/lanes/signal/tiles/{level}/0") as answer:
            answer.read()
    value = round(drawn.uniform(0.5, 0.9), 3)
    answers = [("reading-closed_v", {"value": value + k / 1000, "pegs": [0.5]}) for k in range(8)]
    call = {"verdict": "sound", "cause": "none", "evidence": [[1.0, 6.5]], "next_test": "none", "confidence": 80}
    for step, answer in [*answers, ("compare-closed_v", {"state": "inside"}), ("call", call)]:
        body = {"step": step, "answer": answer, "revision": state["revision"]}
        state = browser.call("PUT", f"{path}/answer", body)
        time.sleep(drawn.uniform(0.05, 0.5))
    browser.call("POST", f"{path}/hand-in", {"incomplete_ok": True})


def run_trainer(browser: Browser, card_id: int, drawn: random.Random) -> None:
    """Some seconds with the throttle in hand."""
    sitting = browser.call("POST", f"/api/cards/{card_id}/sittings", {})
    path = f"/api/sittings/{sitting['id']}/run"
    number = browser.call("POST", path, SCOPE)["run"]
    browser.call(
        "POST", f"{path}/moves", {"run": number, "moves": [{"at_s": 0, "control": "key", "value": 1}], "wait_s": 0}
    )
    end = time.monotonic() + drawn.uniform(5, 15)
    with browser.opener.open(f"{browser.url}{path}/events?run={number}", timeout=60) as stream:
        for _ in stream:
            if time.monotonic() > end:
                break
    browser.call("POST", f"/api/sittings/{sitting['id']}/hand-in", {"incomplete_ok": True})


def learner(day: Day, k: int, browser: Browser, card_id: int, running: int) -> None:
    drawn = random.Random(k)
    for n in range(10_000):
        time.sleep(drawn.uniform(0.3, 1.7) * day.seconds / SITTINGS_A_DAY / 2)
        if day.over:
            return
        try:
            if drawn.random() < 0.15:
                run_trainer(browser, running, drawn)
                day.did("runs of the trainer")
            else:
                one_sitting(browser, card_id, 1000 * k + n, drawn)
                day.did("sittings")
        except LOST as problem:
            day.did(f"lost: {getattr(problem, 'url', '').partition('/api')[2]} {problem}")


def instructor(day: Day, browser: Browser, course_id: int) -> None:
    """Marks and releases what was handed in, and opens what an instructor opens."""
    while not day.over:
        try:
            for page in (
                "today",
                "references",
                f"courses/{course_id}/skill-map",
                "session",
                f"courses/{course_id}/members",
            ):
                browser.call("GET", f"/api/{page}")
            desk = browser.call("GET", f"/api/courses/{course_id}/desk")
            for item in [d for d in desk if d["certainty"] is not None and d["state"] == "handed_in"][:6]:
                browser.call("GET", f"/api/marking/{item['id']}")
                browser.call("POST", f"/api/marking/{item['id']}/release", {})
                day.did("released")
        except LOST as problem:
            day.did(f"lost: {getattr(problem, 'url', '').partition('/api')[2]} {problem}")
        time.sleep(5)


def weighed(start: Start) -> dict[str, tuple[float, int, int]]:
    """MB of proportional memory, descriptors and threads of each process beneath ./start, by its kind and place."""
    out: dict[str, tuple[float, int, int]] = {}
    kinds: Counter[str] = Counter()
    for pid in sorted([start.process.pid, *start.beneath()]):
        own = Path(f"/proc/{pid}")
        words = (own / "cmdline").read_bytes().decode().split("\0")
        kind = next((w.removeprefix("tracebench.") for w in words if w.startswith("tracebench.")), Path(words[0]).name)
        kinds[kind] += 1
        rollup = (own / "smaps_rollup").read_text().splitlines()
        kb = next(int(line.split()[1]) for line in rollup if line.startswith("Pss:"))
        out[f"{kind} {kinds[kind]}"] = (
            kb / 1000,
            len(list((own / "fd").iterdir())),
            len(list((own / "task").iterdir())),
        )
    return out


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 30
    seconds = 60 * (float(sys.argv[2]) if len(sys.argv) > 2 else 20.0)
    with tempfile.TemporaryDirectory() as folder:
        start = Start(Path(folder), PORT)
        try:
            teacher, course_id = teacher_of(start)
            card_id = published(teacher, course_id, attempts=20)
            running = published(
                teacher, course_id, attempts=20, title="By hand", source={"kind": "trainer", "fault": "none"}
            )
            class_ = class_of(teacher, course_id, count)
            stands = [weighed(start)]
            day = Day(seconds)
            threads = [
                threading.Thread(target=learner, args=(day, k, browser, card_id, running), daemon=True)
                for k, browser in enumerate(class_)
            ]
            threads.append(threading.Thread(target=instructor, args=(day, teacher, course_id), daemon=True))
            for thread in threads:
                thread.start()
            for share in (0.1, 0.25, 0.5, 0.75):
                time.sleep(max(0.0, day.end - (1 - share) * seconds - time.monotonic()))
                stands.append(weighed(start))
            for thread in threads:
                thread.join()
            time.sleep(IDLE_S)
            stands.append(weighed(start))
            print(", ".join(f"{n} {what}" for what, n in day.done.most_common()))
            for name in stands[0]:
                row = "  ".join(
                    "{:6.1f} MB {:3d} fd {:3d} th".format(*s[name]) if name in s else "gone" for s in stands
                )
                print(f"{name:16s} {row}", flush=True)
        finally:
            start.stop()


if __name__ == "__main__":
    main()
