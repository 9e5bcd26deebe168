"""Kills at random moments while learners save and run the trainer: is anything lost that was acknowledged?

    .venv/bin/python -m benchmarks.chaos [kills] [learners] [what,what]

`./start` runs on a folder of its own with the demo class. Learners save numbered answers all the while, others run the
trainer with their own hands; each change that is acknowledged is noted. The database, a web server, a worker, or
./start itself (or what is named) is killed (SIGKILL) at a random moment, and ./start is started again where it was the
one. After every kill each learner's answer must be the last acknowledged one, or the one that was under way; a run must
stand as it was moved last, and show a picture again. At the end every sitting is handed in, and must be marked once.
"""

from __future__ import annotations

import json
import random
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

from benchmarks.class_hands_in import Browser
from benchmarks.school import LOST, Start, class_of, patiently, published, teacher_of

PORT = 8740
SCOPE = {"range_v": 10, "duration_s": 0.5, "rate_hz": 1000, "ground": "sensor ground"}


class Learner(threading.Thread):
    """Saves one number after the other into one answer, and notes what was acknowledged."""

    def __init__(self, browser: Browser, card_id: int) -> None:
        super().__init__(daemon=True)
        self.browser = browser
        self.tried = self.acknowledged = 0
        self.count = 0
        self.over = threading.Event()
        self.sitting_id = patiently(lambda: browser.call("POST", f"/api/cards/{card_id}/sittings", {}))["id"]

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


class Hands(threading.Thread):
    """Moves the throttle of a trainer that runs, a little further each time, and notes what was acknowledged."""

    def __init__(self, browser: Browser, card_id: int) -> None:
        super().__init__(daemon=True)
        self.browser = browser
        self.tried = self.acknowledged = 0.0
        self.count = self.pictures = 0
        self.over = threading.Event()
        self.sitting_id = patiently(lambda: browser.call("POST", f"/api/cards/{card_id}/sittings", {}))["id"]
        self.path = f"/api/sittings/{self.sitting_id}/run"
        self.number = patiently(lambda: browser.call("POST", self.path, SCOPE))["run"]
        self._moved("key", 1.0)

    def _moved(self, control: str, value: float) -> None:
        move = {"at_s": 0.0, "control": control, "value": value}
        self.browser.call("POST", f"{self.path}/moves", {"run": self.number, "moves": [move], "wait_s": 0})

    def standing(self) -> float:
        """Where the throttle is, as the server has it; -1 if another run goes on."""
        told = patiently(lambda: self.browser.call("GET", self.path))["run"]
        return float(told["controls"].get("travel", 0.0)) if told["run"] == self.number else -1.0

    def run(self) -> None:
        while not self.over.is_set():
            self.tried = round(self.acknowledged + 0.001, 6) if self.acknowledged < 0.99 else 0.0
            try:
                self._moved("travel", self.tried)
            except LOST:
                if self.standing() != self.tried:
                    continue
            self.acknowledged, self.count = self.tried, self.count + 1
            time.sleep(0.3)

    def picture(self) -> bool:
        """Whether the scope shows something again, thirty seconds at most."""
        end = time.monotonic() + 30
        while time.monotonic() < end:
            try:
                with self.browser.opener.open(
                    f"{self.browser.url}{self.path}/events?run={self.number}", timeout=30
                ) as stream:
                    for line in stream:
                        if line.startswith(b"data:") and json.loads(line[5:])["lanes"]:
                            self.pictures += 1
                            return True
            except LOST:
                time.sleep(0.1)
        return False


def main() -> None:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    count = int(sys.argv[2]) if len(sys.argv) > 2 else 4
    what_of = sys.argv[3].split(",") if len(sys.argv) > 3 else ["database", "web server", "worker", "start"]
    drawn = random.Random(11)
    done: Counter[str] = Counter()
    lost = dark = 0
    with tempfile.TemporaryDirectory() as folder:
        start = Start(Path(folder), PORT)
        try:
            teacher, course_id = teacher_of(start)
            card_id = published(teacher, course_id)
            running = published(teacher, course_id, source={"kind": "trainer", "fault": "none"})
            class_ = class_of(teacher, course_id, count + 2)
            learners = [Learner(browser, card_id) for browser in class_[:count]]
            hands = [Hands(browser, running) for browser in class_[count:]]
            for thread in (*learners, *hands):
                thread.start()
            for _ in range(kills):
                time.sleep(drawn.uniform(0.2, 1.5))
                what = drawn.choice(what_of)
                start.kill(what)
                done[what] += 1
                for learner in learners:
                    before = learner.acknowledged
                    value = learner.seen()[0]
                    lost += not before <= value <= learner.tried
                for hand in hands:
                    before = hand.acknowledged
                    value = hand.standing()
                    lost += not before <= value <= max(hand.tried, hand.acknowledged)
                    dark += not hand.picture()
            for thread in (*learners, *hands):
                thread.over.set()
                thread.join()
            for learner in learners:
                lost += learner.seen()[0] != learner.acknowledged
                hand_in = f"/api/sittings/{learner.sitting_id}/hand-in"
                patiently(lambda b=learner.browser, path=hand_in: b.call("POST", path, {"incomplete_ok": True}))
            lost += sum(hand.standing() != hand.acknowledged for hand in hands)
            mine, end = {x.sitting_id for x in learners}, time.monotonic() + 120
            marked: list[int] = []
            while len(marked) < len(mine) and time.monotonic() < end:
                time.sleep(2)
                desk = teacher.call("GET", f"/api/courses/{course_id}/desk")
                marked = [d["id"] for d in desk if d["id"] in mine and d["certainty"] is not None]
            saved, moved = sum(x.count for x in learners), sum(x.count for x in hands)
            told = ", ".join(f"{n} {k}" for k, n in done.items())
            print(f"{kills} kills ({told}), {saved} acknowledged answers and {moved} moves, {lost} lost")
            print(f"{sum(h.pictures for h in hands)} pictures after a kill, {dark} that did not come")
            print(f"{len(marked)} of {len(mine)} sittings marked, {len(set(marked))} apart")
        finally:
            start.stop()


if __name__ == "__main__":
    main()
