"""One who guesses, one who exports and one who listens to everything at once: what do the others feel?

    .venv/bin/python -m benchmarks.rude_neighbours

Behind one address sixty learners sign in within a minute, each from a browser of their own, while eight threads guess
at their names as fast as they are answered. Then one learner asks for 64 exports of a long capture at once, and for 70
event streams, while others open pages. Two web processes, the load on the same machine.
"""

from __future__ import annotations

import json
import statistics
import tempfile
import threading
import time
from collections import Counter, defaultdict
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

from benchmarks.breaking_files import PASSWORD, Sender
from tests.support.database import fresh_settings, stop_shared
from tests.support.server import Served
from tracebench.core.capture import Capture, Lane
from tracebench.store import captures as store
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts

LEARNERS, GUESSERS, EXPORTS, STREAMS = 60, 8, 64, 70
SAMPLES = 1_500_000


class Guesser(Sender):
    """A browser that guesses: it never gets in."""

    def __init__(self, port: int) -> None:
        super().__init__(port, "nobody at all", "wrong one")

    def guess(self, name: str) -> int:
        body = json.dumps({"sign_in": name, "password": "wrong one"}).encode()
        return self.call("POST", "/api/session", body)[0]


def signing_in(port: int, names: list[str]) -> None:
    over, looked_at = threading.Event(), defaultdict[str, list[float]](list)

    def guess(k: int) -> None:
        who, n = Guesser(port), k
        while not over.is_set():
            name = names[n % len(names)]
            n += GUESSERS
            if who.guess(name) == 401:
                looked_at[name].append(time.monotonic())

    guessers = [threading.Thread(target=guess, args=(k,)) for k in range(GUESSERS)]
    for one in guessers:
        one.start()
    time.sleep(3)
    waits, learners = [], []

    def come_in(k: int) -> None:
        time.sleep(55 * k / LEARNERS)
        begun = time.monotonic()
        while True:
            who = Sender(port, names[k], PASSWORD)
            if who.call("GET", "/api/today", None)[0] == 200:
                break
            time.sleep(1)
        waits.append(time.monotonic() - begun)

    learners = [threading.Thread(target=come_in, args=(k,)) for k in range(LEARNERS)]
    for one in learners:
        one.start()
    for one in learners:
        one.join()
    over.set()
    for one in guessers:
        one.join()
    most = max((sum(t <= at < t + 60 for at in times) for times in looked_at.values() for t in times), default=0)
    guesses = sum(map(len, looked_at.values()))
    print(
        f"{LEARNERS} sign in beside {GUESSERS} who guess: "
        f"the longest {max(waits):.1f} s, half {statistics.median(waits):.2f} s;"
    )
    print(f"{guesses} guesses were looked at, at most {most} of a name in a minute", flush=True)


def others_feel(port: int, what: str, rude: list[threading.Thread], other: Sender) -> None:
    for one in rude:
        one.start()
    took = []
    end = time.monotonic() + 15
    while time.monotonic() < end:
        begun = time.monotonic()
        assert other.call("GET", "/api/today", None)[0] == 200
        took.append(time.monotonic() - begun)
    for one in rude:
        one.join()
    print(
        f"{what}: others' pages p50 {1000 * statistics.median(took):.0f} ms, longest {1000 * max(took):.0f} ms",
        flush=True,
    )


def main() -> None:
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool, now = Pool(settings), datetime.now(UTC).replace(tzinfo=None)
    names = [f"learner{k}" for k in range(LEARNERS)]
    hashed = accounts.hashed(PASSWORD)
    with pool.transaction() as conn:
        for name in names:
            queries.people.add(
                conn, sign_in=name, name=name, role="learner", password_hash=hashed, added_by=None, at=now
            )
        rng = np.random.default_rng(1)
        samples = np.round(rng.normal(2.5, 0.4, SAMPLES) * 400) / 400
        lanes = {n: Lane(n, samples, "V", n) for n in ("signal", "reference")}
        owner = queries.people.by_sign_in(conn, sign_in=names[0])
        assert owner is not None
        capture_id = store.add(
            conn, owner["id"], "throttle-position", "Long", "file", Capture(lanes, 1e-4, 0.0, SAMPLES, ()), {}, now
        )
        cursor = conn.cursor()
        cursor.execute(
            "INSERT INTO job (kind, about, owner_id, payload, not_before, created_at) "
            "VALUES ('import', 'waits', %s, '{}', '2099-01-01', %s)",
            (owner["id"], now),
        )
        job_id = cursor.lastrowid
    site = Served(settings, web_processes=2)
    try:
        signing_in(site.port, names)
        rude, other, statuses = Sender(site.port, names[0]), Sender(site.port, names[1]), Counter[int]()

        def ask(path: str) -> None:
            statuses[rude.call("GET", path, None)[0]] += 1

        for what, path, count in (
            (f"{EXPORTS} exports at once", f"/api/captures/{capture_id}/file?ending=csv", EXPORTS),
            (f"{STREAMS} event streams", f"/api/jobs/{job_id}/events", STREAMS),
        ):
            statuses.clear()
            others_feel(site.port, what, [threading.Thread(target=ask, args=(path,)) for _ in range(count)], other)
            print(f"  they were answered {dict(statuses)}", flush=True)
    finally:
        site.stop()
        pool.close()
        stop_shared()


if __name__ == "__main__":
    main()
