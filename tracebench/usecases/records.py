"""Records typed beside a capture: kept with it and judged by the core whenever they are read."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from tracebench.core.answer import Finding
from tracebench.core.records.judging import checked, judged
from tracebench.core.records.kinds import KINDS
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases import captures, shelf
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people import Person


def kinds() -> list[dict[str, Any]]:
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


def beside(conn: Connection, person: Person, capture_id: int) -> list[dict[str, Any]]:
    """Records beside a capture, each judged; a log's actions are held against what the core finds in the capture."""
    person.must_be("instructor")
    head = captures.in_reach(conn, person, capture_id)
    rows = [unpacked(r, "document") for r in queries.captures.records_of(conn, capture_id=capture_id)]
    timed = any(KINDS[r["kind"]].timed for r in rows)
    found = _findings(conn, capture_id, head["circuit"]) if timed else ()
    return [
        {
            "id": r["id"],
            "kind": r["kind"],
            "title": KINDS[r["kind"]].title,
            "rows": r["document"]["rows"],
            "said": judged(r["kind"], r["document"]["rows"], found).as_json(),
            "author": r["author"],
            "created_at": r["created_at"],
        }
        for r in rows
    ]


def _findings(conn: Connection, capture_id: int, circuit: str) -> Sequence[Finding]:
    """What the core finds in a capture, with the options, phases and limits of the reference made of it."""
    row = queries.shelf.of_capture(conn, capture_id=capture_id)
    document = unpacked(row, "document")["document"] if row else {"options": {}, "phases": [], "limits": []}
    return shelf.measured_as(conn, capture_id, circuit, document).findings


def add(conn: Connection, person: Person, capture_id: int, kind: str, rows: Any, at: datetime) -> list[dict[str, Any]]:
    """Keep a record beside a capture; answers all of them. Raises BadOption that names row and column."""
    person.must_be("instructor")
    captures.in_reach(conn, person, capture_id)
    document = packed({"rows": checked(kind, rows)})
    queries.captures.add_record(conn, capture_id=capture_id, kind=kind, document=document, author_id=person.id, at=at)
    return beside(conn, person, capture_id)


def take_away(conn: Connection, person: Person, capture_id: int, record_id: int, at: datetime) -> list[dict[str, Any]]:
    """Take a record away; it stays in the database with the instant. Answers those that are left."""
    person.must_be("instructor")
    captures.in_reach(conn, person, capture_id)
    if not queries.captures.take_record_away(conn, record_id=record_id, capture_id=capture_id, at=at):
        raise NotFound("there is no such record beside this capture")
    return beside(conn, person, capture_id)
