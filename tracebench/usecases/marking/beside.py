"""What is laid over or beneath a sitting's trace, for each who may see it."""

from __future__ import annotations

from collections.abc import Callable

from tracebench.core.answer import Answer
from tracebench.store.pool import Begin, Connection
from tracebench.usecases.errors import NotFound
from tracebench.usecases.marking import grading, second_marking
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import corridors, parades
from tracebench.usecases.sitting import sittings
from tracebench.usecases.sitting.rows import Sitting

Opened = Callable[[Connection, Person, int], tuple[Sitting, Answer]]
"""A sitting and its capture's answer with its events; raises where this person may not see them."""


def _released_in_course(conn: Connection, person: Person, sitting_id: int) -> tuple[Sitting, Answer]:
    """The trace is the learner's own, what is made of the course's references is for those who are in it."""
    sitting, measured = sittings.released_events(conn, person, sitting_id)
    if not sittings.in_course(conn, sitting):
        raise NotFound("references of a course are shown to those who are in it")
    return sitting, measured


AT_THE_DESK: Opened = grading.events_of
UNSEEN: Opened = second_marking.events_of
RELEASED: Opened = sittings.released_events
RELEASED_IN_COURSE: Opened = _released_in_course


def parade(conn: Connection, person: Person, sitting_id: int, opened: Opened) -> parades.Parade:
    """Events of a sitting's capture laid over each other."""
    sitting, answer = opened(conn, person, sitting_id)
    return parades.of_capture(conn, sitting.capture_id or 0, answer)


def corridor(begin: Begin, person: Person, sitting_id: int, opened: Opened) -> corridors.Laid:
    """The corridor of the fleet of a card's reference, laid on what the learner captured."""
    with begin() as conn:
        sitting, measured = opened(conn, person, sitting_id)
    return corridors.beneath(begin, sitting.card.first.reference_version_id, sitting.capture_id, measured)
