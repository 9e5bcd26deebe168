"""Notes for the instructor on sittings that share a capture or their answers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from tracebench.core.grading.copies import Likeness, same_answers, same_recording, unlikely_answers
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
    """Other learners' sittings that look alike: of the same card, and captures of the circuit's other cards.

    One short transaction for each that is read.
    """
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
        elsewhere = list(
            queries.sittings.others_of_circuit(
                conn,
                circuit=sitting.card.first.circuit.code,
                card_id=sitting.card_id,
                sitting_id=sitting.id,
                learner_id=sitting.learner_id,
                limit_rows=MOST_COMPARED,
            )
        )
        ours = _samples(conn, sitting.capture_id)
    class_answers = [sitting.answers, *(sitting_of(row).answers for row in rows)]
    out: list[Found] = []
    for row in rows:
        other = sitting_of(row)
        alike = None
        if other.card == sitting.card:
            alike = same_answers(sitting.answers, other.answers)
            alike = alike or unlikely_answers(sitting.answers, other.answers, class_answers)
        if alike is not None:
            out.append(Found(other.id, alike))
        if ours is None or other.capture_id is None or sitting.card.first.source.given:
            continue
        out += _same(begin, sitting, ours, other.id, other.capture_id)
    if ours is not None and not sitting.card.first.source.given:
        for row in elsewhere:
            out += _same(begin, sitting, ours, row["id"], row["capture_id"])
    return out


@dataclass(frozen=True, slots=True)
class First:
    """The first lane of a capture."""

    samples: Samples
    interval_s: float


SAME_RATE = 1e-6
"""Part of each other by which two rates are one."""


def _same(begin: Begin, sitting: Sitting, ours: First, other_id: int, capture_id: int) -> list[Found]:
    """The note on another sitting's capture, if it is the same recording."""
    if capture_id == sitting.capture_id:
        return [Found(other_id, Likeness("same", "the very same capture"))]
    with begin() as conn:
        theirs = _samples(conn, capture_id)
    if theirs is None:
        return []
    rate = theirs.interval_s / ours.interval_s
    same = same_recording(ours.samples, theirs.samples, 1.0 if abs(rate - 1) < SAME_RATE else rate)
    return [Found(other_id, same)] if same is not None else []


def _samples(conn: Connection, capture_id: int | None) -> First | None:
    """The first lane of a capture."""
    head = store.head(conn, capture_id) if capture_id is not None else None
    if head is None or capture_id is None or not head["lanes"]:
        return None
    samples = store.samples_of(conn, capture_id, head["lanes"][0]["lane"], 0, min(head["samples"], LONGEST))
    return First(samples, float(head["interval_s"]))


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
