"""References whose shape looks like a stretch of one."""

from __future__ import annotations

import json
from typing import TypedDict, cast

import numpy as np

from tracebench.core.answer_rows import AnswerWithEvents
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.errors import BadOption
from tracebench.core.miniature import as_text, pictured
from tracebench.core.shape.alike import apart, part_of
from tracebench.core.shape.outline import COLUMNS, EVENT, MOST_SWEEPS, Outline, of_stretch
from tracebench.store import captures as store
from tracebench.store import outlines as kept
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import outlining, references

MOST_FOUND = 12


class AlikeReference(TypedDict):
    """A published reference, how far apart its shape is, and a picture of the stretch."""

    id: int
    title: str
    apart: float
    picture: str


class Alike(TypedDict):
    """The stretch that was asked for, how many were looked at and are left to be, and the nearest first."""

    name: str
    picture: str
    looked_at: int
    left: int
    found: list[AlikeReference]


def looks_like(begin: Begin, person: Person, reference_id: int, lane: str, from_s: float, to_s: float) -> Alike:
    """Published references whose same phase looks most like a stretch of one, nearest first.

    Raises BadOption where the stretch lies in no phase, is too short or flat.
    """
    sheet = references.one(begin, person, reference_id)
    circuit = sheet["circuit"]
    left = outlining.outline_all(begin, person.id, circuit)
    with begin() as conn:
        asked = _stretch(conn, circuit, sheet["capture_id"], sheet["answer"], lane, (from_s, to_s))
        whose, others = kept.alike(conn, person.id, circuit, lane, asked.name)
    part = slice(0, COLUMNS) if asked.name == EVENT else part_of(asked, from_s, to_s)
    # Sweeps of one reference, and itself, count once.
    far = apart(asked, others, part, (MOST_FOUND + 1) * MOST_SWEEPS)
    nearest: dict[int, int] = {}
    for k in np.argsort(far, kind="stable"):
        its = whose[k]
        if np.isfinite(far[k]) and its not in {reference_id, *nearest} and len(nearest) < MOST_FOUND:
            nearest[its] = int(k)
    with begin() as conn:
        told = {row["id"]: row for row in queries.shapes.titles(conn, ids=json.dumps(list(nearest)))}
    return {
        "name": asked.name,
        "picture": as_text(pictured(asked.low[part], asked.high[part])),
        "looked_at": len(set(whose)),
        "left": left,
        "found": [
            cast(
                AlikeReference,
                {
                    **told[its],
                    "apart": float(far[k]),
                    "picture": as_text(pictured(others[k][0][part], others[k][1][part])),
                },
            )
            for its, k in nearest.items()
            if its in told
        ],
    }


def _stretch(
    conn: Connection, circuit: str, capture_id: int, answer: AnswerWithEvents, lane: str, span: tuple[float, float]
) -> Outline:
    """What a stretch is a part of: an event that it lies in, of circuits that have them, else a phase."""
    head = store.head(conn, capture_id)
    if head is None or lane not in {row["lane"] for row in head["lanes"]}:
        raise NotFound(f"this capture has no lane {lane}")
    # Events are kept of the main lane alone.
    main = circuit_of(circuit).main_lane([row["lane"] for row in head["lanes"]])
    for one in outlining.event_outlines(conn, lane, capture_id, answer) if lane == main else ():
        if one.from_s <= span[0] and span[1] <= one.to_s:
            return one
    middle = 0.5 * (span[0] + span[1])
    phase = next((p for p in outlining.phases_of(answer, head) if p.from_s <= middle <= p.to_s), None)
    if phase is None:
        raise BadOption("this stretch lies in no phase: mark one that does, or give the phase its borders first")
    read = store.reader(conn, capture_id, lane, head["samples"])
    axis = (head["samples"], head["interval_s"], head["start_s"])
    own = of_stretch(phase.name, 1, lane, read, (phase.from_s, phase.to_s), axis)
    if own is None:
        raise BadOption("this phase has too few samples to look for its shape")
    return own
