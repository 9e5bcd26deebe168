"""A sitting as it stands in the database, parsed once: its card and its answers are values from here on."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Literal, TypedDict

from tracebench.core.cards.answers import answers_from_json, unanswered
from tracebench.core.cards.card import Card
from tracebench.core.cards.documents import card_from_json
from tracebench.core.cards.step import Given
from tracebench.store.pool import Row

State = Literal["open", "handed_in", "released"]


class SittingHead(TypedDict):
    """What is told of a sitting on every page that shows one."""

    id: int
    card_id: int
    attempt: int
    state: State
    capture_id: int | None
    handed_in_at: datetime | None
    released_at: datetime | None
    practice: bool
    ends_at: datetime | None


@dataclass(frozen=True, slots=True)
class Sitting:
    id: int
    card_version_id: int
    card_id: int
    course_id: int
    learner_id: int
    learner: str
    trial: bool
    attempt: int
    state: State
    capture_id: int | None
    card: Card
    answers: dict[str, Given]
    hints: frozenset[str]
    """Steps whose hint was taken."""
    revision: int
    started_at: datetime
    saved_at: datetime
    handed_in_at: datetime | None
    released_at: datetime | None
    practice: bool
    """Its marks are the tool's own, told at once, and count for nothing."""
    ends_at: datetime | None
    """When its time is up."""

    @property
    def answered(self) -> frozenset[str]:
        """Steps of which nothing is open."""
        left = {u["step"] for u in unanswered(self.card, self.answers, self.capture_id is not None)}
        return frozenset(s.id for s in self.card.steps) - left

    @property
    def seen_by_learner(self) -> bool:
        """True once marks and feedback may be seen by whoever sat it; an instructor's own trial has no release."""
        return self.state == "released" or (self.trial and self.state != "open")

    @property
    def head(self) -> SittingHead:
        return {
            "id": self.id,
            "card_id": self.card_id,
            "attempt": self.attempt,
            "state": self.state,
            "capture_id": self.capture_id,
            "handed_in_at": self.handed_in_at,
            "released_at": self.released_at,
            "practice": self.practice,
            "ends_at": self.ends_at,
        }


@lru_cache(maxsize=256)
def card_of(document: str) -> Card:
    """The card of a stored document; versions never change, so that each is parsed once."""
    return card_from_json(json.loads(document))


def sitting_of(row: Row) -> Sitting:
    card = card_of(row["card"])
    return Sitting(
        id=row["id"],
        card_version_id=row["card_version_id"],
        card_id=row["card_id"],
        course_id=row["course_id"],
        learner_id=row["learner_id"],
        learner=row["learner"],
        trial=bool(row["trial"]),
        attempt=row["attempt"],
        state=row["state"],
        capture_id=row["capture_id"],
        card=card,
        answers=answers_from_json(card, json.loads(row["answers"])),
        hints=frozenset(json.loads(row["hints"])),
        revision=row["revision"],
        started_at=row["started_at"],
        saved_at=row["saved_at"],
        handed_in_at=row["handed_in_at"],
        released_at=row["released_at"],
        practice=bool(row["practice"]),
        ends_at=row["ends_at"],
    )
