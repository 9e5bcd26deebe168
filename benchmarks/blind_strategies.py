"""What blind strategies earn of the points for reading the trace, on every card of the demo, and over them all, with
the shares of the cards' own rubric and with the usual ones: python -m benchmarks.blind_strategies"""

from __future__ import annotations

import json
import tempfile
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

from tests.support.database import fresh_settings, stop_shared
from tracebench.core.cards.card import Card
from tracebench.core.cards.documents import card_from_json
from tracebench.core.cards.rubric import Rubric
from tracebench.core.grading.attempt import Taken, measured_under
from tracebench.core.grading.blind import STRATEGIES, Around, floor_of
from tracebench.demo import seed
from tracebench.demo.ready_cards import ready_cards
from tracebench.store import captures as store
from tracebench.store.pool import Connection, Pool
from tracebench.store.queries import queries
from tracebench.usecases.cards.before_publishing import around, capture_like
from tracebench.usecases.sitting.rows import card_of


def played(conn: Connection, card_id: int) -> tuple[Card, Taken, Around]:
    """A card with the capture that it is played on."""
    card = card_of(queries.cards.by_id(conn, card_id=card_id)["document"])
    if card.first.source.kind == "trainer":
        capture = capture_like(card)
    else:
        version = queries.shelf.version_by_id(conn, version_id=card.first.reference_version_id)
        capture = store.load(conn, version["capture_id"])
    return card, Taken(measured_under(card, "first", capture)), around(card, capture)


def alone(card: Card) -> tuple[Card, Taken, Around]:
    """A trainer's card with what somebody gets of it who is the first."""
    capture = capture_like(card)
    return card, Taken(measured_under(card, "first", capture)), around(card, capture)


def show(rows: Sequence[tuple[Card, Taken, Around]]) -> None:
    shares = [(card.title, taken.measured.call, floor_of(card, {"first": taken}, near)) for card, taken, near in rows]
    print(f"{'card':<34} {'shows':<13}" + "".join(f" {s.key:>15}" for s in STRATEGIES))
    for title, call, by in shares:
        print(f"{title[:33]:<34} {call:<13}" + "".join(f" {100 * by.get(s.key, np.nan):>13.0f} %" for s in STRATEGIES))
    mean = {s.key: float(np.mean([by[s.key] for _, _, by in shares if s.key in by])) for s in STRATEGIES}
    print(f"{'all of them':<34} {'':<13}" + "".join(f" {100 * mean[s.key]:>13.0f} %" for s in STRATEGIES))


def main() -> None:
    uploads = Path(tempfile.mkdtemp(prefix="tracebench-blind-"))
    pool = Pool(fresh_settings(uploads))
    seed.load(pool, uploads, datetime.now(UTC).replace(tzinfo=None))
    with pool.transaction() as conn:
        instructor = next(p for p in queries.people.everyone(conn) if p["role"] == "instructor")
        listed = json.loads(queries.cards.of_courses_of(conn, person_id=instructor["id"]))
        rows = [played(conn, r["id"]) for r in listed]
    print("with the shares of each card's rubric")
    show(rows)
    print("\nwith the usual shares")
    show([(replace(card, rubric=Rubric()), taken, near) for card, taken, near in rows])
    pool.close()
    stop_shared()
    ready = [card_from_json(document) for _, _, document in ready_cards()]
    print("\nready cards, with the usual shares")
    show([alone(replace(card, rubric=Rubric())) for card in ready])


if __name__ == "__main__":
    main()
