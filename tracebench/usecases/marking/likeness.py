"""Notes for the instructor on sittings that share a capture or their answers, and on files that are the shelf's or the
trainer's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import cast

from tracebench.core.grading.copies import same_recording
from tracebench.core.grading.like_answers import ClassAnswers, same_answers
from tracebench.core.grading.likeness import Likeness
from tracebench.core.samples import Samples
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection, Row
from tracebench.store.queries import queries
from tracebench.usecases.marking.values import LikenessRow
from tracebench.usecases.sitting.rows import Sitting, sitting_of

MOST_COMPARED = 40
"""The latest sittings of the card, of other cards, and references, that a new one is held against, of each."""

LONGEST = 2_000_000
"""Longer captures are held against others by their beginning."""


@dataclass(frozen=True, slots=True)
class Found:
    """What was found, and where: another sitting, a reference of the shelf, or a capture that the trainer gave."""

    likeness: Likeness
    other_id: int | None = None
    reference_id: int | None = None
    capture_id: int | None = None


def find(begin: Begin, sitting: Sitting) -> list[Found]:
    """What looks alike: other learners' sittings of the card, captures of the circuit's other cards, of the shelf, and
    of the trainer.

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
        ours = None if sitting.card.first.source.given else _samples(conn, sitting.capture_id)
        shelf, trainer = _brought_from(conn, sitting) if ours is not None else ([], [])
    of_card = [other for row in rows if (other := sitting_of(row)).card == sitting.card]
    class_answers = ClassAnswers([sitting.answers, *(other.answers for other in of_card)])
    out: list[Found] = []
    for k, other in enumerate(of_card, start=1):
        alike = same_answers(sitting.answers, other.answers) or class_answers.unlikely(0, k)
        out += [Found(alike, other.id)] if alike is not None else []
    for row in rows:
        same = _same(begin, sitting, ours, row["capture_id"])
        out += [Found(same, row["id"])] if same is not None else []
    for row in elsewhere:
        same = _same(begin, sitting, ours, row["capture_id"])
        out += [Found(same, row["id"])] if same is not None else []
    for row in shelf:
        same = _same(begin, sitting, ours, row["capture_id"])
        out += [Found(same, reference_id=row["id"])] if same is not None else []
    for row in trainer:
        same = _same(begin, sitting, ours, row["id"])
        out += [Found(same, capture_id=row["id"])] if same is not None else []
    return out


def _brought_from(conn: Connection, sitting: Sitting) -> tuple[list[Row], list[Row]]:
    """Where a file that a learner brings may come from: the shelf, and what the trainer gave anybody, also them."""
    if sitting.card.first.source.kind != "upload":
        return [], []
    asked = {"circuit": sitting.card.first.circuit.code, "before": sitting.handed_in_at, "limit_rows": MOST_COMPARED}
    by_trainer = queries.sittings.of_the_trainer(
        conn, learner_id=sitting.learner_id, capture_id=sitting.capture_id, **asked
    )
    return list(queries.sittings.on_the_shelf(conn, **asked)), list(by_trainer)


@dataclass(frozen=True, slots=True)
class First:
    """The first lane of a capture."""

    samples: Samples
    interval_s: float


SAME_RATE = 1e-6
"""Part of each other by which two rates are one."""


def _same(begin: Begin, sitting: Sitting, ours: First | None, capture_id: int | None) -> Likeness | None:
    """What is said of another capture, if it is the same recording."""
    if ours is None or capture_id is None:
        return None
    if capture_id == sitting.capture_id:
        return Likeness("same", "the very same capture")
    with begin() as conn:
        theirs = _samples(conn, capture_id)
    if theirs is None:
        return None
    rate = theirs.interval_s / ours.interval_s
    return same_recording(ours.samples, theirs.samples, 1.0 if abs(rate - 1) < SAME_RATE else rate)


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
            reference_id=one.reference_id,
            capture_id=one.capture_id,
            kind=one.likeness.kind,
            about=one.likeness.text,
        )


def of_sitting(conn: Connection, sitting_id: int) -> list[LikenessRow]:
    """What a sitting has in common with others, whichever was handed in later, and with the shelf."""
    return [cast(LikenessRow, row) for row in queries.sittings.likenesses(conn, sitting_id=sitting_id)]
