"""Records typed beside a capture: kept with it and judged by the core whenever they are read."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Any, TypedDict

from tracebench.core.answer import Answer
from tracebench.core.records.judging import SaidRow, checked, judged
from tracebench.core.records.kinds import KINDS
from tracebench.store.pool import Connection, Row
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, references
from tracebench.usecases.sitting.rows import Sitting


class Column(TypedDict):
    key: str
    title: str
    what: str
    unit: str
    needed: bool
    choices: list[str]


class RecordKind(TypedDict):
    """What may be recorded, column by column, with the cautions of taking it."""

    key: str
    title: str
    advice: str
    timed: bool
    columns: list[Column]
    cautions: list[str]


class RecordShown(TypedDict):
    """A record as it was typed; `said` is what it says, where that is told."""

    id: int
    kind: str
    title: str
    rows: list[dict[str, str]]
    said: SaidRow | None
    earlier: bool
    author: str
    created_at: datetime


def kinds() -> list[RecordKind]:
    """What may be recorded, column by column, with the cautions of taking it."""
    return [
        {
            "key": k.key,
            "title": k.title,
            "advice": k.advice,
            "timed": k.timed,
            "columns": [
                {
                    "key": c.key,
                    "title": c.title,
                    "what": c.what,
                    "unit": c.unit,
                    "needed": c.needed,
                    "choices": list(c.choices),
                }
                for c in k.columns
            ],
            "cautions": [c.text for c in k.cautions],
        }
        for k in KINDS.values()
    ]


def beside(conn: Connection, person: Person, capture_id: int) -> list[RecordShown]:
    """Records beside a capture, each judged; a log's actions are held against what the core finds in the capture."""
    person.must_be("instructor")
    head = captures.in_reach(conn, person, capture_id)
    rows = [unpacked(r, "document") for r in queries.captures.records_of(conn, capture_id=capture_id)]
    timed = any(KINDS[r["kind"]].timed for r in rows)
    found = _measured(conn, capture_id, head["circuit"]) if timed else None
    return [_shown(r, capture_id, True, found) for r in rows]


def of_sitting(conn: Connection, sitting: Sitting, measured: Callable[[], Answer | None] | None) -> list[RecordShown]:
    """Records that a learner typed in a sitting; those on its time axis are held against what was `measured` there.

    Without it, as before the release, records are as they were typed and nothing is said of them.
    """
    rows = [unpacked(r, "document") for r in queries.captures.records_of_sitting(conn, sitting_id=sitting.id)]
    found = measured() if measured is not None and any(KINDS[r["kind"]].timed for r in rows) else None
    return [_shown(r, sitting.capture_id, measured is not None, found) for r in rows]


def _shown(row: Row, capture_id: int | None, told: bool, found: Answer | None) -> RecordShown:
    """One record, with what it says where that is `told`.

    Its instants are those of the capture it was typed beside, which may have been taken again since.
    """
    rows, earlier = row["document"]["rows"], row["capture_id"] != capture_id
    return {
        "id": row["id"],
        "kind": row["kind"],
        "title": KINDS[row["kind"]].title,
        "rows": rows,
        "said": judged(row["kind"], rows, None if earlier else found).as_json() if told else None,
        "earlier": earlier and KINDS[row["kind"]].timed,
        "author": row["author"],
        "created_at": row["created_at"],
    }


def _measured(conn: Connection, capture_id: int, circuit: str) -> Answer:
    """What the core says of a capture, with the options, phases and limits of the reference made of it."""
    row = queries.shelf.of_capture(conn, capture_id=capture_id)
    document = unpacked(row, "document")["document"] if row else references.checked(circuit, {})
    return references.measured_as(conn, capture_id, circuit, document)


def add(conn: Connection, person: Person, capture_id: int, kind: str, rows: Any, at: datetime) -> list[RecordShown]:
    """Keep a record beside a capture; answers all of them. Raises BadOption that names row and column."""
    person.must_be("instructor")
    captures.in_reach(conn, person, capture_id)
    _kept(conn, person, capture_id, None, kind, rows, at)
    return beside(conn, person, capture_id)


def add_to_sitting(conn: Connection, person: Person, sitting: Sitting, kind: str, rows: Any, at: datetime) -> None:
    """Keep a record in a learner's open sitting, with its capture. Raises BadOption, or Conflict without a capture."""
    if sitting.capture_id is None:
        raise Conflict("take the capture first: a record is kept with the trace that it explains")
    _kept(conn, person, sitting.capture_id, sitting.id, kind, rows, at)


def take_from_sitting(conn: Connection, sitting_id: int, record_id: int, at: datetime) -> None:
    """Take a record of a sitting away; it stays in the database with the instant. Raises NotFound."""
    if not queries.captures.take_sitting_record_away(conn, record_id=record_id, sitting_id=sitting_id, at=at):
        raise NotFound("there is no such record in this sitting")


def _kept(
    conn: Connection, person: Person, capture_id: int, sitting_id: int | None, kind: str, rows: Any, at: datetime
) -> None:
    queries.captures.add_record(
        conn,
        capture_id=capture_id,
        sitting_id=sitting_id,
        kind=kind,
        document=packed({"rows": checked(kind, rows)}),
        author_id=person.id,
        at=at,
    )


def take_away(conn: Connection, person: Person, capture_id: int, record_id: int, at: datetime) -> list[RecordShown]:
    """Take a record away; it stays in the database with the instant. Answers those that are left."""
    person.must_be("instructor")
    captures.in_reach(conn, person, capture_id)
    if not queries.captures.take_record_away(conn, record_id=record_id, capture_id=capture_id, at=at):
        raise NotFound("there is no such record beside this capture")
    return beside(conn, person, capture_id)
