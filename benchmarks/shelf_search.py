"""A shelf of 20,000 references, its first screen, pages and searches by the API: python -m benchmarks.shelf_search"""

from __future__ import annotations

import random
import tempfile
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np

from tests.support.client import PASSWORD, Caller
from tests.support.database import fresh_settings, stop_shared
from tests.support.variations import Variation
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.shape.outline import Outline, outlines
from tracebench.store import outlines as store
from tracebench.store.pool import Pool
from tracebench.store.queries import packed, queries
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, references
from tracebench.web import create_app

COUNT = 20_000
TRIES = 30
VEHICLES = (
    "Sallow 1.2",
    "Linnet 1.6",
    "Osier 2.0 D",
    "Dunnock 1.4 T",
    "Wold 3.0",
    "Fenland 1.0",
    "Brack 2.5",
    "Sedge 1.8",
)
CONDITIONS = ("warm", "cold", "at altitude", "under load", "after a wet night", "key on only")
PARTS = ("design A", "design B", "inductive", "two-level", "heated, four wires", "series 3")
WORDS = (
    "closed level",
    "worn track",
    "idle rest",
    "surge",
    "overrun fall",
    "gap in the row",
    "burn line",
    "needle dip",
)


def fill(pool: Pool, person: Person, begun: datetime) -> None:
    """References of every circuit on one capture each, with provenance and tags drawn from lists of words."""
    rng = random.Random(7)
    with pool.transaction() as conn:
        stored, drawn, answers = {}, {}, {}
        for code in CIRCUITS:
            capture = Variation(code, 3).capture()
            stored[code] = captures.keep(conn, person, captures.Made(code, "x", "trainer", capture, {}), begun)
            lane = CIRCUITS[code].main_lane(capture.lanes)
            answer = measure(capture, code)
            axis = (capture.samples, capture.interval_s, capture.start_s)
            samples = capture.lanes[lane].samples
            drawn[code] = outlines(lane, lambda a, b, s=samples: s[a:b], axis, answer.phases, answer.events)[:4]
            answers[code] = packed({"call": answer.call, "because": [], "phases": [], "limits": []})
    codes = list(stored)
    for start in range(0, COUNT, 500):
        with pool.transaction() as conn:
            for k in range(start, start + 500):
                code = codes[k % len(codes)]
                provenance = dict.fromkeys(references.PROVENANCE, "") | {
                    "vehicle": rng.choice(VEHICLES),
                    "engine": f"engine {rng.randrange(400)}",
                    "conditions": rng.choice(CONDITIONS),
                    "part": rng.choice(PARTS),
                }
                tags = [{"from": 0, "to": 1, "lane": "signal", "text": t} for t in rng.sample(WORDS, 3)]
                document = {"phases": [], "options": {}, "limits": [], "tags": tags, "provenance": provenance}
                reference_id = queries.shelf.add(
                    conn,
                    author_id=person.id,
                    capture_id=stored[code],
                    circuit=code,
                    title=f"{CIRCUITS[code].title} {k}",
                    document=packed({**document, "notes": ""}),
                    at=begun + timedelta(seconds=k),
                )
                version_id = queries.shelf.publish(
                    conn,
                    reference_id=reference_id,
                    version=1,
                    capture_id=stored[code],
                    title=f"{CIRCUITS[code].title} {k}",
                    document=packed({**document, "notes": ""}),
                    answer=answers[code],
                    author_id=person.id,
                    at=begun,
                )
                queries.shelf.set_state(
                    conn, reference_id=reference_id, state="published", at=begun + timedelta(seconds=k)
                )
                store.keep(conn, version_id, [_varied(one, k) for one in drawn[code]])
                queries.shelf.list_anew(conn, reference_id=reference_id)


def _varied(one: Outline, seed: int) -> Outline:
    """The same stretch of another part: its height, its size and a wave of its own."""
    rng = np.random.default_rng(seed)
    wave = 0.2 * np.ptp(one.high) * np.sin(np.linspace(0, rng.uniform(3, 30), one.low.size) + rng.uniform(0, 6))
    size = rng.uniform(0.8, 1.2)
    return replace(one, low=size * one.low + wave, high=size * one.high + wave)


def _alike(caller: Caller) -> None:
    """What looks like a whole phase of one reference of every circuit."""
    took, looked = [], []
    for code in CIRCUITS:
        item = caller.get(f"/api/references?circuit={code}&size=1").json["items"][0]
        answer = caller.get(f"/api/references/{item['id']}").json["answer"]
        lane = CIRCUITS[code].main_lane(row["lane"] for row in answer["capture"]["lanes"])
        for phase in answer["phases"][:2]:
            query = f"lane={lane}&from={phase['from']}&to={phase['to']}"
            clock = time.perf_counter()
            found = caller.get(f"/api/references/{item['id']}/alike?{query}")
            if found.status_code == 200:  # a flat phase has no shape
                took.append(1000 * (time.perf_counter() - clock))
                looked.append(found.json["looked_at"])
    middle, high = np.percentile(took, (50, 95))
    print(
        f"what looks like a phase: {len(took)} asked, {int(np.median(looked))} looked at each, "
        f"p50 {middle:.0f} ms, p95 {high:.0f} ms"
    )


def main() -> None:
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool = Pool(settings)
    begun = datetime.now(UTC).replace(tzinfo=None)
    with pool.transaction() as conn:
        person = Person(accounts.add(conn, "ann", "Ann", "instructor", PASSWORD, begun), "ann", "Ann", "instructor", 1)
    clock = time.perf_counter()
    fill(pool, person, begun)
    print(f"{COUNT:,} references made in {time.perf_counter() - clock:.0f} s")
    app = create_app(settings)
    caller = Caller(app.test_client())
    caller.sign_in("ann")
    for name, path in (
        ("first screen", "?size=60"),
        ("page 100", "?after=6000"),
        ("the last page", f"?after={COUNT - 60}"),
        ("one circuit", "?circuit=crank-position"),
        ("two words", "?words=linnet warm"),
        ("a vehicle's engine", "?words=engine 137"),
        ("words of tags and part", "?words=needle dip inductive"),
        ("the beginning of a word", "?words=osie"),
        ("a word of many", "?words=engine"),
        ("a word of none", "?words=zzzz"),
        ("two letters", "?words=1.6"),
    ):
        took = []
        for _ in range(TRIES):
            clock = time.perf_counter()
            answer = caller.get(f"/api/references{path}")
            took.append(1000 * (time.perf_counter() - clock))
        found = answer.json["total"]
        middle, high = np.percentile(took, (50, 95))
        print(
            f"{name:<28} {found:6,} found, p50 {middle:5.0f} ms, p95 {high:5.0f} ms, {len(answer.data) / 1000:.0f} kB"
        )
    _alike(caller)
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
