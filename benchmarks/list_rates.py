"""Requests a second of the lists, beside those of a page with one row, on the demo: python -m benchmarks.list_rates"""

from __future__ import annotations

import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

from tests.support.client import Caller
from tests.support.database import fresh_settings, stop_shared
from tracebench.demo import cast, seed
from tracebench.store.pool import Pool
from tracebench.web import create_app

SECONDS = 2.0


def rate(caller: Caller, path: str) -> float:
    """Requests a second, one after the other, after a first that loads what is loaded once."""
    assert caller.get(path).status_code == 200, path
    count, begun = 0, time.perf_counter()
    while time.perf_counter() - begun < SECONDS:
        caller.get(path)
        count += 1
    return count / (time.perf_counter() - begun)


def main() -> None:
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool = Pool(settings)
    seed.load(pool, settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    app = create_app(settings)
    people = {}
    for name in (cast.INSTRUCTOR[0], "learner"):
        people[name] = Caller(app.test_client())
        people[name].sign_in(name, cast.PASSWORD)
    teacher, learner = people[cast.INSTRUCTOR[0]], people["learner"]
    course = teacher.get("/api/courses").json[0]["id"]
    shelf = teacher.get("/api/references").json["items"]
    sheet = teacher.get(f"/api/courses/{course}/desk").json[0]["id"]
    one = rate(teacher, "/api/courses")
    print(f"{'a page with one row':<34} {one:6.0f} a second")
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
        found = rate(who, path)
        size = len(who.get(path).data)
        print(f"{name:<34} {found:6.0f} a second, {found / one:.2f} of that; {size / 1000:.1f} kB")
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
