"""Learners with a running trainer each: how often their picture comes, how late it is, and what others wait meanwhile.

    .venv/bin/python -m benchmarks.live_trainers [LEARNERS] [MINUTES OF RUN BEFORE]

Two web processes, as ./start runs them, on a database of their own. Everybody's engine idles and is snapped now and
then; another person opens pages.
"""

from __future__ import annotations

import json
import sys
import tempfile
import threading
import time
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

from benchmarks.class_hands_in import Browser, timed, told
from tests.support.client import PASSWORD
from tests.support.database import fresh_settings, stop_shared
from tests.support.server import Served
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.sitting import sittings

NOW = datetime.now(UTC).replace(tzinfo=None)
CIRCUITS = ("manifold-pressure", "injector-voltage", "throttle-position", "secondary-voltage")
SECONDS = 30.0
SCOPES = {
    "manifold-pressure": {"range_v": 5, "duration_s": 20, "rate_hz": 1000},
    "injector-voltage": {"range_v": 100, "duration_s": 0.5, "rate_hz": 200_000},
    "throttle-position": {"range_v": 10, "duration_s": 20, "rate_hz": 1000},
    "secondary-voltage": {"range_v": 50, "duration_s": 0.2, "rate_hz": 500_000},
}


def prepared(pool: Pool, learners: int) -> list[tuple[int, str]]:
    """A course with an open sitting on the trainer for each learner: the sitting and its circuit."""
    out = []
    with pool.transaction() as conn:
        teacher_id = accounts.add(conn, "teacher", "Teacher", "instructor", PASSWORD, NOW)
        course_id = queries.courses.add(conn, title="One", at=NOW)
        queries.courses.join_course(conn, course_id=course_id, person_id=teacher_id)
        teacher = Person(teacher_id, "teacher", "Teacher", "instructor", 1)
        made = {}
        for code in CIRCUITS:
            document = {"circuit": code, "title": code, "brief": "x", "source": {"kind": "trainer", "fault": "none"}}
            steps = [{"kind": "capture", "prompt": ""}, {"kind": "call", "prompt": ""}]
            made[code] = job_cards.create(conn, teacher, course_id, document | {"steps": steps}, NOW)
            job_cards.publish(conn, teacher, made[code], NOW)
        for k in range(learners):
            learner_id = accounts.add(conn, f"learner{k}", f"Learner {k}", "learner", PASSWORD, NOW)
            queries.courses.join_course(conn, course_id=course_id, person_id=learner_id)
            code = CIRCUITS[k % len(CIRCUITS)]
            learner = Person(learner_id, f"learner{k}", f"Learner {k}", "learner", 1)
            out.append((sittings.start(conn, learner, made[code], NOW), code))
    return out


def watched(browser: Browser, sitting_id: int, code: str, minutes: float, gaps: list[float]) -> None:
    """Run a trainer and look at it; the gaps between pictures are noted."""
    path = f"/api/sittings/{sitting_id}/run"
    run = browser.call("POST", path, {**SCOPES[code], "ground": "sensor ground"})["run"]
    keys = [{"at_s": t, "control": "key", "value": v} for t, v in ((0.1, 1), (0.2, 2), (1.2, 1))]
    browser.call("POST", f"{path}/moves", {"run": run, "moves": keys, "wait_s": 0})
    time.sleep(1.5)
    for _ in range(round(minutes)):
        browser.call("POST", f"{path}/moves", {"run": run, "moves": [], "wait_s": 60})
    end, last = time.perf_counter() + SECONDS, None
    while time.perf_counter() < end:
        with browser.opener.open(f"{browser.url}{path}/events?run={run}", timeout=60) as stream:
            for line in stream:
                if not line.startswith(b"data:"):
                    continue
                now = time.perf_counter()
                if last is not None:
                    gaps.append(now - last)
                last = now
                at_s = json.loads(line[6:])["elapsed_s"]
                if len(gaps) % 7 == 0:
                    snap = [{"at_s": at_s + d, "control": "travel", "value": v} for d, v in ((0.0, 1), (0.5, 0))]
                    browser.call("POST", f"{path}/moves", {"run": run, "moves": snap, "wait_s": 0})
                if now > end:
                    break


def main() -> None:
    learners = int(sys.argv[1]) if len(sys.argv) > 1 else 12
    minutes = float(sys.argv[2]) if len(sys.argv) > 2 else 0.0
    with tempfile.TemporaryDirectory() as folder:
        settings = fresh_settings(Path(folder))
        pool = Pool(settings)
        rows = prepared(pool, learners)
        served = Served(settings, web_processes=2)
        try:
            class_ = [Browser(served.url) for _ in rows]
            for k, browser in enumerate(class_):
                browser.sign_in(f"learner{k}")
            teacher = Browser(served.url)
            teacher.sign_in("teacher")
            gaps: list[list[float]] = [[] for _ in rows]
            threads = [
                threading.Thread(target=watched, args=(class_[k], *row, minutes, gaps[k])) for k, row in enumerate(rows)
            ]
            for thread in threads:
                thread.start()
            pages: list[float] = []
            while any(t.is_alive() for t in threads):
                timed(pages, lambda: teacher.call("GET", "/api/today"))
                time.sleep(0.2)
            for code in CIRCUITS:
                own = [g for k, (_, c) in enumerate(rows) if c == code for g in gaps[k]]
                if own:
                    print(
                        f"{code:24s} {1 / float(np.mean(own)):.1f} pictures a second, the longest gap {max(own):.1f} s"
                    )
            told("other people's pages", pages, "aim: 300")
        finally:
            served.stop()
            pool.close()
            stop_shared()


if __name__ == "__main__":
    main()
