"""Parades: the events of a capture laid over each other."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.answer_rows import EventRow, Span
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.parade import laid_over
from tracebench.store import captures as store
from tracebench.store.pool import Connection
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references


class EventCourse(EventRow):
    """An event with its values along the common axis; none outside of its record."""

    values: list[float | None]


class Parade(Span):
    lane: str
    title: str
    unit: str
    total: int
    courses: list[EventCourse]


def of_reference(conn: Connection, person: Person, reference_id: int) -> Parade:
    """Courses of a reference's events for one picture. Raises NotFound where the circuit has no events."""
    reference = references.work_on(conn, person, reference_id)
    answer = references.measured_as(conn, reference["capture_id"], reference["circuit"], reference["document"])
    return of_capture(conn, reference["capture_id"], answer)


def of_capture(conn: Connection, capture_id: int, answer: Answer) -> Parade:
    """The same of any capture with its answer."""
    events = answer.events
    if len(events) < 2:
        raise NotFound("this capture has no row of events to lay over each other")
    head = store.head(conn, capture_id)
    if head is None:
        raise NotFound("the capture is gone")
    names = {x["lane"] for x in head["lanes"]}
    lane = next(x for x in circuit_of(answer.circuit).lanes if x.role != "sync" and x.name in names)
    read = store.reader(conn, capture_id, lane.name, head["samples"])
    made = laid_over(events, read, head["samples"], head["interval_s"], head["start_s"])
    return {
        "lane": lane.name,
        "title": lane.title,
        "unit": lane.unit,
        "from": made.from_s,
        "to": made.to_s,
        "total": len(events),
        "courses": [
            {**c.event.as_json(), "values": [None if np.isnan(v) else round(float(v), 5) for v in c.values]}
            for c in made.courses
        ],
    }
