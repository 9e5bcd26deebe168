"""The blind floor of a card: what somebody would earn on it who never looks at the trace."""

from __future__ import annotations

from typing import Any

from tracebench.bench.circuits import source as trainer_source
from tracebench.core.capture import Capture
from tracebench.core.cards.card import Card
from tracebench.core.cards.step import FIRST
from tracebench.core.grading.attempt import Taken, measured_under
from tracebench.core.grading.blind import STRATEGIES, floor_of
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.usecases import captures, cards, shelf
from tracebench.usecases.person import Person
from tracebench.usecases.sitting_rows import card_of

SEED = 7


def floor(begin: Begin, person: Person, card_id: int) -> dict[str, Any]:
    """Each blind strategy's part of the points for reading the trace, on a capture such as the card asks for.

    A trainer's card is played on a recording with its own part, a vehicle's on its reference; `on` says which, and is
    None where there is no capture to play it on yet.
    """
    with begin() as conn:
        card = card_of(cards.document_of(conn, person, card_id))
        reference = _reference(conn, card)
    capture = capture_like(card) if card.first.source.kind == "trainer" else reference
    if capture is None:
        return {"on": None, "strategies": []}
    floors = floor_of(card, {FIRST: Taken(measured_under(card, FIRST, capture))})
    return {
        "on": "trainer" if card.first.source.kind == "trainer" else "reference",
        "strategies": [{"key": s.key, "title": s.title, "share": round(floors[s.key], 3)} for s in STRATEGIES],
    }


def capture_like(card: Card) -> Capture:
    """What the trainer records for a card with the settings that it proposes."""
    made_by = trainer_source(card.first.circuit.code)
    settings = {
        "range_v": made_by.range_v,
        "duration_s": made_by.manoeuvres[0].duration_s,
        "rate_hz": made_by.rate_hz,
        "ground": "sensor ground",
    }
    return captures.made_on_trainer(card.first.circuit.code, card.trainer_part(), settings, SEED).capture


def _reference(conn: Connection, card: Card) -> Capture | None:
    version_id = card.first.reference_version_id
    version = shelf.version_of(conn, version_id) if version_id is not None else None
    return store.load(conn, version["capture_id"]) if version is not None else None
