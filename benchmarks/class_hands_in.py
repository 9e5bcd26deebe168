"""Sixty learners hand in within ten seconds while five million rows are imported.

    .venv/bin/python -m benchmarks.class_hands_in

Two web processes and one worker, as ./start runs them, on a database of their own. Told are the times of hand-ins, of
answers saved meanwhile, of other people's pages, of sign-ins 30 at a time, and until all are marked. Whoever imports
and every ten learners are a process of their own, or they would wait for each other's interpreter and not for the
server.
"""

from __future__ import annotations

import json
import multiprocessing
import random
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from http.cookiejar import CookieJar
from multiprocessing.synchronize import Barrier
from pathlib import Path
from typing import Any

import numpy as np

from tests.support.client import CIRCUIT, PASSWORD, STEPS
from tests.support.database import fresh_settings, stop_shared
from tests.support.server import Served
from tests.support.waves import Sweep
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures
from tracebench.usecases.sitting import sittings

LEARNERS, WITHIN_S, ROWS = 60, 10.0, 5_000_000
A_PROCESS = 10
NOW = datetime.now(UTC).replace(tzinfo=None)


class Browser:
    """One person's connection, with cookie and token."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.csrf = ""

    def call(self, method: str, path: str, body: Any = None, raw: bytes | None = None) -> Any:
        kind = "application/octet-stream" if raw is not None else "application/json"
        data = raw if raw is not None else None if body is None else json.dumps(body).encode()
        headers = {"X-CSRFToken": self.csrf, "Content-Type": kind}
        request = urllib.request.Request(self.url + path, data, headers, method=method)
        with self.opener.open(request, timeout=120) as answer:
            return json.loads(answer.read() or b"null")

    def sign_in(self, name: str, password: str = PASSWORD) -> None:
        self.csrf = self.call("GET", "/api/session")["csrf"]
        self.csrf = self.call("POST", "/api/session", {"sign_in": name, "password": password})["csrf"]


def timed(times: list[float], what: Callable[[], Any]) -> Any:
    begun = time.perf_counter()
    done = what()
    times.append(time.perf_counter() - begun)
    return done


def told(name: str, times: list[float], aim: str) -> None:
    p50, p99 = (1000 * float(x) for x in np.percentile(times, (50, 99)))
    print(f"{name:34s} {len(times):4d} calls   p50 {p50:6.0f} ms   p99 {p99:6.0f} ms   {aim}", flush=True)


def prepared(pool: Pool) -> tuple[list[int], int]:
    """A course of sixty with a sitting each, recorded and half answered."""
    out = []
    with pool.transaction() as conn:
        teacher_id = accounts.add(conn, "teacher", "Teacher", "instructor", PASSWORD, NOW)
        course_id = queries.courses.add(conn, title="One", at=NOW)
        queries.courses.join_course(conn, course_id=course_id, person_id=teacher_id)
        teacher = Person(teacher_id, "teacher", "Teacher", "instructor", 1)
        document = {
            "circuit": CIRCUIT,
            "title": "Hesitates",
            "brief": "x",
            "source": {"kind": "upload"},
            "steps": STEPS,
        }
        card_id = job_cards.create(conn, teacher, course_id, document, NOW)
        job_cards.publish(conn, teacher, card_id, NOW)
        for k in range(LEARNERS):
            learner_id = accounts.add(conn, f"learner{k}", f"Learner {k}", "learner", PASSWORD, NOW)
            queries.courses.join_course(conn, course_id=course_id, person_id=learner_id)
            learner = Person(learner_id, f"learner{k}", f"Learner {k}", "learner", 1)
            capture = Sweep(rate_hz=1000, noise_v=0.004, bits=12, seed=k).capture()
            made = captures.Made(CIRCUIT, "own.csv", "file", capture, {})
            sitting_id = sittings.start(conn, learner, card_id, NOW)
            sittings.use_capture(conn, learner, sitting_id, captures.keep(conn, learner, made, NOW), NOW)
            out.append(sitting_id)
    return out, course_id


def long_file() -> bytes:
    rows = np.column_stack([np.arange(ROWS) / 1e5, 2 + np.sin(np.arange(ROWS) / 1e5)])
    return ("time (s),A (V)\n" + "\n".join(f"{t:.5f},{v:.4f}" for t, v in rows)).encode()


def import_rows(url: str, start: Barrier) -> None:
    browser, text = Browser(url), long_file()
    browser.sign_in("teacher")
    start.wait()
    sent = browser.call("POST", f"/api/uploads?filename=long.csv&circuit={CIRCUIT}", raw=text)
    body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": sent["mapping"], "interval_s": None}
    done = browser.call("POST", "/api/captures", body)
    while browser.call("GET", f"/api/jobs/{done['job']['id']}")["state"] in ("waiting", "running"):
        time.sleep(0.5)


def sign_in_all(url: str, count: int) -> list[Browser]:
    class_ = [Browser(url) for _ in range(count)]
    begun = time.perf_counter()
    with ThreadPoolExecutor(30) as crowd:
        list(crowd.map(lambda k: class_[k].sign_in(f"learner{k}"), range(count)))
    print(f"sixty sign-ins, thirty at a time: {time.perf_counter() - begun:.1f} s (aim: 5)")
    return class_


def sit(class_: list[Browser], ids: list[int], group: range, start: Barrier, times: Any) -> None:
    """Some of the class save an answer a second and hand in, each at an instant of its own."""
    saving: list[float] = []
    handing: list[float] = []

    def learner(k: int) -> None:
        end = time.perf_counter() + random.Random(k).uniform(0, WITHIN_S)
        browser, path = class_[k], f"/api/sittings/{ids[k]}"
        revision = browser.call("GET", path)["revision"]
        while time.perf_counter() < end - 1.0:
            body = {"step": "reading-closed_v", "answer": {"value": 0.7, "pegs": [0.5]}, "revision": revision}
            revision = timed(saving, lambda b=body: browser.call("PUT", f"{path}/answer", b))["revision"]
            time.sleep(1.0)
        time.sleep(max(0.0, end - time.perf_counter()))
        timed(handing, lambda: browser.call("POST", f"{path}/hand-in", {"incomplete_ok": True}))

    start.wait()
    with ThreadPoolExecutor(len(group)) as crowd:
        list(crowd.map(learner, group))
    times.put((saving, handing))


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        settings = fresh_settings(Path(folder))
        pool = Pool(settings)
        ids, course_id = prepared(pool)
        served = Served(settings, web_processes=2)
        try:
            run(served.url, ids, course_id)
        finally:
            served.stop()
            pool.close()
            stop_shared()


def run(url: str, ids: list[int], course_id: int) -> None:
    teacher = Browser(url)
    teacher.sign_in("teacher")
    class_ = sign_in_all(url, len(ids))
    pages: list[float] = []
    over = threading.Event()

    def others() -> None:
        while not over.is_set():
            timed(pages, lambda: teacher.call("GET", "/api/cards"))
            time.sleep(0.2)

    apart = multiprocessing.get_context("fork")
    times: multiprocessing.Queue[tuple[list[float], list[float]]] = apart.Queue()
    groups = [range(first, first + A_PROCESS) for first in range(0, len(ids), A_PROCESS)]
    start = apart.Barrier(len(groups) + 2)
    importing = apart.Process(target=import_rows, args=(url, start))
    learning = [apart.Process(target=sit, args=(class_, ids, group, start, times)) for group in groups]
    for process in (importing, *learning):
        process.start()
    looking = threading.Thread(target=others)
    start.wait()
    looking.start()
    begun = time.perf_counter()
    saving: list[float] = []
    handing: list[float] = []
    for _ in groups:
        saved, given = times.get()
        saving += saved
        handing += given
    handed = time.perf_counter()
    while any(d["certainty"] is None for d in teacher.call("GET", f"/api/courses/{course_id}/desk")):
        time.sleep(0.5)
    marked = time.perf_counter()
    over.set()
    importing.join()
    looking.join()
    told("hand-in", handing, "aims: 100 and 500")
    told("answers saved meanwhile", saving, "aim: p99 500")
    told("other people's pages", pages, "aim: p99 300")
    print(
        f"all marked {marked - handed:.1f} s after the last hand-in, {marked - begun:.1f} s after the first (aim: 60)"
    )


if __name__ == "__main__":
    main()
