"""Requests a second of the lists, in turns with a page with one row, on the demo: python -m benchmarks.list_rates"""

from __future__ import annotations

import gc
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

from tests.support.client import Caller
from tests.support.database import fresh_settings, stop_shared
from tracebench.demo import cast, seed
from tracebench.store.pool import Pool
from tracebench.web import create_app

ROUNDS = 150


def beside(caller: Caller, path: str, other: Caller, one: str) -> tuple[float, float]:
    """Middle time of a request for each of two pages, taken in turns, so that what else the machine does meets both."""
    took: tuple[list[float], list[float]] = ([], [])
    for _ in range(ROUNDS):
        for who, what, times in ((caller, path, took[0]), (other, one, took[1])):
            begun = time.perf_counter()
            assert who.get(what).status_code == 200, what
            times.append(time.perf_counter() - begun)
    return statistics.median(took[0]), statistics.median(took[1])


def main() -> None:
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool = Pool(settings)
    seed.load(pool, settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    app = create_app(settings)
    people = {}
    for name in (cast.INSTRUCTOR[0], "learner"):
        people[name] = Caller(app.test_client())
        people[name].sign_in(name, cast.PASSWORD)
    # As a web process does it once it has loaded.
    gc.collect()
    gc.freeze()
    teacher, learner = people[cast.INSTRUCTOR[0]], people["learner"]
    course = teacher.get("/api/courses").json[0]["id"]
    shelf = teacher.get("/api/references").json["items"]
    sheet = teacher.get(f"/api/courses/{course}/desk").json[0]["id"]
    for who, name, path in (
        (teacher, "today, instructor", "/api/today"),
        (learner, "today, learner", "/api/today"),
        (teacher, "shelf", "/api/references"),
        (teacher, "job cards", "/api/cards"),
        (learner, "job cards, learner", "/api/cards"),
        (teacher, "marking desk", f"/api/courses/{course}/desk"),
        (teacher, "skill map", f"/api/courses/{course}/skill-map"),
        (learner, "own sittings", "/api/sittings"),
        (teacher, "a sheet to settle", f"/api/marking/{sheet}"),
        (teacher, "a reference", f"/api/references/{shelf[0]['id']}"),
    ):
        took, one = beside(who, path, teacher, "/api/courses")
        size = len(who.get(path).data)
        print(f"{name:<24} {1 / took:4.0f} a second, one row {1 / one:4.0f}: {one / took:.2f}; {size / 1000:.1f} kB")
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
