"""Outlines of captures: made of each published version when first needed, and kept for comparing shapes."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import numpy as np
import pymysql

from tracebench.core.answer import Event, Phase
from tracebench.core.answer_rows import AnswerWithEvents
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.parade import laid_over
from tracebench.core.shape.outline import EVENT, Outline, columns, outlines
from tracebench.store import captures as store
from tracebench.store import outlines as kept
from tracebench.store.pool import Begin, Connection, is_full
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound

AT_ONCE = 300
"""So many references that were never looked at are outlined while somebody waits; the rest when asked again."""

WHOLE = "record"
MOST_EVENTS_SHOWN = 24


def outline_all(begin: Begin, person_id: int, circuit: str) -> int:
    """Outline what is published of a circuit in reach and was not yet; how many are left for the next time."""
    with begin() as conn:
        rows = list(queries.shapes.not_outlined(conn, person_id=person_id, circuit=circuit, size=AT_ONCE + 1))
    for row in rows[:AT_ONCE]:
        try:
            with begin() as conn:
                kept.keep(conn, row["id"], outlined(conn, circuit, row["capture_id"], json.loads(row["answer"])))
        except pymysql.err.OperationalError as problem:
            if not is_full(problem):
                raise
            # On a full disk what was kept before is compared with.
            return len(rows)
    return max(0, len(rows) - AT_ONCE)


def outlined(conn: Connection, circuit: str, capture_id: int, answer: AnswerWithEvents) -> list[Outline]:
    """Outlines of a capture's lanes, from what was measured on it."""
    head = store.head(conn, capture_id)
    if head is None:
        raise NotFound("the capture is gone")
    kind, recorded = circuit_of(circuit), [lane["lane"] for lane in head["lanes"]]
    main = kind.main_lane(recorded)
    phases, events = phases_of(answer, head), _events(answer)
    axis = (head["samples"], head["interval_s"], head["start_s"])
    found = []
    for lane in (name for name in recorded if kind.lane(name).role != "sync"):
        read = store.reader(conn, capture_id, lane, head["samples"])
        found += outlines(lane, read, axis, phases, events if lane == main else ())
    return found


def phases_of(answer: AnswerWithEvents, head: Mapping[str, Any]) -> list[Phase]:
    """What was found; of a record without phases and events, all of it."""
    if not answer["phases"] and not answer.get("events"):
        return [Phase(WHOLE, head["start_s"], head["start_s"] + head["samples"] * head["interval_s"])]
    return [Phase(p["name"], p["from"], p["to"], p["cycle"]) for p in answer["phases"]]


def _events(answer: AnswerWithEvents) -> list[Event]:
    return [
        Event(e["number"], e["from"], e["to"], e["cylinder"], e["unusual"], e["by"]) for e in answer.get("events", [])
    ]


def event_outlines(conn: Connection, lane: str, capture_id: int, answer: AnswerWithEvents) -> list[Outline]:
    """Each shown event's own course, in seconds of the record."""
    events = _events(answer)
    head = store.head(conn, capture_id)
    if len(events) < 2 or head is None:
        return []
    read = store.reader(conn, capture_id, lane, head["samples"])
    made = laid_over(events, read, head["samples"], head["interval_s"], head["start_s"])
    out = []
    for course in made.courses[:MOST_EVENTS_SHOWN]:
        if np.isfinite(course.values).all():
            at = course.event.from_s
            low, high = columns(course.values)
            out.append(Outline(EVENT, course.event.number, lane, at + made.from_s, at + made.to_s, low, high))
    return out
