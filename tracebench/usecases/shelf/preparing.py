"""Steps on a reference's capture: made anew from the raw samples each time, and taken back the same way."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from tracebench.core import preparing
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import captures, references
from tracebench.usecases.shelf.values import Document, ReferenceSheet


def set_steps(
    begin: Begin, person: Person, reference_id: int, revision: int, steps: Sequence[Mapping[str, Any]], at: datetime
) -> ReferenceSheet:
    """Make a reference's capture of its raw samples by these steps; none gives the raw ones back.

    Told phases and tags move with the time axis. Raises BadOption that names the step, Conflict where it is stale.
    """
    wanted = preparing.checked(steps)
    with begin() as conn:
        reference = references.to_change(conn, person, reference_id)
        before_id = reference["capture_id"]
        raw_id = int(queries.captures.raw_of(conn, capture_id=before_id))
        before = references.steps_of(store.head(conn, before_id))
        raw, head = store.load(conn, raw_id), store.head(conn, raw_id)
    capture = preparing.prepared(raw, wanted) if wanted else raw
    by = preparing.shifted_by(wanted) - preparing.shifted_by(before)
    document = _moved(reference["document"], by)
    answer = packed(references.answer_of(capture, reference["circuit"], document))
    with begin() as conn:
        capture_id = raw_id
        if wanted and head is not None:
            detail = {key: value for key, value in head["detail"].items() if key != "notes"} | {"steps": wanted}
            made = captures.Made(head["circuit"], head["title"], head["origin"], capture, detail)
            capture_id = captures.keep(conn, person, made, at)
            queries.captures.set_raw(conn, capture_id=capture_id, raw_id=raw_id)
        if not queries.shelf.set_capture(
            conn,
            reference_id=reference_id,
            revision=revision,
            capture_id=capture_id,
            document=packed(document),
            at=at,
        ):
            raise Conflict("someone else, or another window, has saved this reference since; reload to see their work")
        references.keep_answer(conn, reference_id, revision + 1, answer)
        queries.shelf.list_anew(conn, reference_id=reference_id)
        if reference["state"] == "published":
            queries.shelf.set_state(conn, reference_id=reference_id, state="draft", at=at)
        about = ("reference", reference_id)
        told = [{"steps": [preparing.words(s) for s in steps]} for steps in (before, wanted)]
        trail.write(conn, person, "reference.save", about, reference["title"], at, before=told[0], after=told[1])
        _forget(conn, person, before_id, raw_id)
    return references.one(begin, person, reference_id)


def _forget(conn: Connection, person: Person, capture_id: int, raw_id: int) -> None:
    """What steps had made before, if nothing holds it: it can be made again."""
    if capture_id != raw_id and capture_id in {r["id"] for r in queries.captures.unused(conn, owner_id=person.id)}:
        queries.captures.give_up(conn, capture_id=capture_id, owner_id=person.id)


def _moved(document: Document, by: float) -> Document:
    """Told phases and tags on a time axis that was moved."""
    return {
        **document,
        "phases": [{**row, "from": row["from"] + by, "to": row["to"] + by} for row in document["phases"]],
        "tags": [{**row, "from": row["from"] + by, "to": row["to"] + by} for row in document["tags"]],
    }


def split(begin: Begin, person: Person, reference_id: int, from_s: float, to_s: float, at: datetime) -> int:
    """A draft of its own of a stretch of a reference, for an event or a condition; its id."""
    with begin() as conn:
        reference = references.work_on(conn, person, reference_id)
        steps = [
            *references.steps_of(store.head(conn, reference["capture_id"])),
            {"kind": "crop", "from": from_s, "to": to_s},
        ]
        raw = store.load(conn, int(queries.captures.raw_of(conn, capture_id=reference["capture_id"])))
    # What cannot be cut out leaves no copy behind.
    preparing.prepared(raw, preparing.checked(steps))
    with begin() as conn:
        copy_id = references.copy(conn, person, reference_id, at)
    set_steps(begin, person, copy_id, 1, steps, at)
    return copy_id
