"""Stored captures: kept, looked at by whom they are for, measured, copied and given up."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure as measure_capture
from tracebench.formats.table import Layout
from tracebench.store import captures as store
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import disk
from tracebench.usecases.shelf.values import CaptureHead, LaneValues, OwnCaptures, Unused, Values


@dataclass(frozen=True, slots=True)
class Made:
    """A capture that is ready to be stored."""

    circuit: str
    title: str
    origin: str
    capture: Capture
    detail: Mapping[str, Any]
    layout: Layout | None = None
    """Of the file it was read from."""


def keep(conn: Connection, person: Person, made: Made, at: datetime) -> int:
    """Store a capture; returns its id. Raises NoRoom."""
    check_share(conn, person.id)
    return store.add(conn, person.id, made.circuit, made.title, made.origin, made.capture, made.detail, at)


def check_share(conn: Connection, owner_id: int) -> None:
    """Raises NoRoom where a person's captures take all of their share."""
    owner = queries.people.by_id(conn, person_id=owner_id)
    if owner is not None:
        disk.check_share(int(queries.captures.stored_bytes_of(conn, owner_id=owner_id)), owner["role"])


def unused(conn: Connection, person: Person) -> OwnCaptures:
    """What one's captures take of one's share, and those that no reference, sitting or record holds."""
    return {
        "taken_bytes": int(queries.captures.stored_bytes_of(conn, owner_id=person.id)),
        "share_bytes": disk.SHARE_BYTES[person.role],
        "captures": [cast(Unused, row) for row in queries.captures.unused(conn, owner_id=person.id)],
    }


def give_up(conn: Connection, person: Person, capture_ids: Sequence[int]) -> None:
    """Delete captures of one's own that nothing holds, all or none. Raises Conflict or NotFound that names one."""
    free = {row["id"] for row in queries.captures.unused(conn, owner_id=person.id)}
    for capture_id in dict.fromkeys(capture_ids):
        if capture_id not in free:
            in_reach(conn, person, capture_id)
            raise Conflict(f"capture {capture_id} is held by a reference, a sitting or a record; it stays")
        queries.captures.give_up(conn, capture_id=capture_id, owner_id=person.id)


def in_reach(conn: Connection, person: Person, capture_id: int) -> CaptureHead:
    """The capture's head if the person may look at it. Raises NotFound otherwise."""
    head = cast(CaptureHead | None, store.head(conn, capture_id))
    # One's own is seen by everybody: nothing else has to be asked.
    if head is None or not (head["owner_id"] == person.id or _may_see(conn, person, capture_id)):
        raise NotFound("there is no such capture for you")
    return head


def _may_see(conn: Connection, person: Person, capture_id: int) -> bool:
    may = {
        "learner": queries.captures.learner_may_see,
        "instructor": queries.captures.instructor_may_see,
        "administrator": queries.captures.learner_may_see,
    }[person.role]
    return bool(may(conn, capture_id=capture_id, person_id=person.id))


def is_own(conn: Connection, person: Person, head: CaptureHead) -> bool:
    """Whether it is the person's own: taken or brought in by them, or given to them to read."""
    own = head["owner_id"] == person.id
    return own or bool(queries.captures.sits_with(conn, capture_id=head["id"], person_id=person.id))


def copied(conn: Connection, person: Person, capture_id: int, title: str, at: datetime) -> int:
    """A copy of a capture that is the person's own, without its file's name; returns its id."""
    check_share(conn, person.id)
    copy_id: int = queries.captures.copy_head(conn, capture_id=capture_id, owner_id=person.id, title=title, at=at)
    for part in (queries.captures.copy_lanes, queries.captures.copy_chunks, queries.captures.copy_envelopes):
        part(conn, capture_id=capture_id, copy_id=copy_id)
    return copy_id


def values_at(conn: Connection, person: Person, capture_id: int, instants_s: Sequence[float]) -> Values:
    """Each lane's sample at the instants, and its level, least and most between the first and the last."""
    head = in_reach(conn, person, capture_id)
    end = head["samples"] - 1.0
    indices = [round(min(max((t - head["start_s"]) / head["interval_s"], 0.0), end)) for t in instants_s]
    lanes: list[LaneValues] = []
    for lane in head["lanes"]:
        low, high = min(indices), max(indices)
        part = store.samples_of(conn, capture_id, lane["lane"], low, high + 1)
        lanes.append(
            {
                "lane": lane["lane"],
                "unit": lane["unit"],
                "at": [float(part[i - low]) for i in indices],
                "level": float(np.median(part)),
                "least": float(part.min()),
                "most": float(part.max()),
            }
        )
    return {"instants": [head["start_s"] + i * head["interval_s"] for i in indices], "lanes": lanes}


MOST_KEPT = 24


_KEPT: dict[str, Answer] = {}
"""Answers of captures as they were measured last, by capture and settings, the oldest first."""


def measured(
    conn: Connection, capture_id: int, circuit: str, options: Mapping[str, str], phases: Any = (), limits: Any = ()
) -> Answer:
    """The core's answer for a stored capture.

    Captures never change, so that the last few answers are kept: a sheet, its parade and its log ask for one in a row.
    """
    key = repr((store.head(conn, capture_id), circuit, sorted(options.items()), tuple(phases), tuple(limits)))
    answer = _KEPT.pop(key, None)
    if answer is None:
        answer = measure_capture(store.load(conn, capture_id), circuit, phases, options, limits)
    _KEPT[key] = answer
    while len(_KEPT) > MOST_KEPT:
        _KEPT.pop(next(iter(_KEPT)), None)
    return answer
