"""Notes for the instructor on sittings that share a capture or their answers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from tracebench.core.grading.copies import Likeness, same_answers, same_recording
from tracebench.core.samples import Samples
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.sitting_rows import Sitting, sitting_of

MOST_COMPARED = 40
"""The latest sittings of the card that a new one is held against."""

LONGEST = 2_000_000
"""Longer captures are held against others by their beginning."""


@dataclass(frozen=True, slots=True)
class Found:
    other_id: int
    likeness: Likeness


def find(begin: Begin, sitting: Sitting) -> list[Found]:
    """Other learners' sittings of the same card that look alike. One short transaction for each that is read."""
    with begin() as conn:
        rows = list(
            queries.sittings.others_of_card(
                conn,
                card_id=sitting.card_id,
                sitting_id=sitting.id,
                learner_id=sitting.learner_id,
                limit_rows=MOST_COMPARED,
            )
        )
        ours = _samples(conn, sitting.capture_id)
    out: list[Found] = []
    for row in rows:
        other = sitting_of(row)
        alike = same_answers(sitting.answers, other.answers) if other.card == sitting.card else None
        if alike is not None:
            out.append(Found(other.id, alike))
        if ours is None or other.capture_id is None or sitting.card.first.source.given:
            continue
        if other.capture_id == sitting.capture_id:
            out.append(Found(other.id, Likeness("same", "the very same capture")))
            continue
        with begin() as conn:
            theirs = _samples(conn, other.capture_id)
        if theirs is not None and (same := same_recording(ours, theirs)) is not None:
            out.append(Found(other.id, same))
    return out


def _samples(conn: Connection, capture_id: int | None) -> Samples | None:
    """The first lane of a capture."""
    head = store.head(conn, capture_id) if capture_id is not None else None
    if head is None or capture_id is None or not head["lanes"]:
        return None
    return store.samples_of(conn, capture_id, head["lanes"][0]["lane"], 0, min(head["samples"], LONGEST))


def keep(conn: Connection, sitting_id: int, found: Sequence[Found]) -> None:
    for one in found:
        queries.sittings.add_likeness(
            conn,
            sitting_id=sitting_id,
            other_id=one.other_id,
            kind=one.likeness.kind,
            about=one.likeness.text,
        )


def of_sitting(conn: Connection, sitting_id: int) -> list[dict[str, Any]]:
    """What a sitting has in common with others, whichever was handed in later."""
    return list(queries.sittings.likenesses(conn, sitting_id=sitting_id))
