"""References: drafts, publishing immutable versions, and what the shelf shows."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from tracebench.core.answer import Answer, Limit, Phase, Reading
from tracebench.core.cards.documents import COMPLAINTS
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.conditions import ALWAYS
from tracebench.core.circuits.events.reference import beside_reference
from tracebench.core.door import one_of
from tracebench.core.errors import BadOption
from tracebench.core.limits import limits_from_json
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases import captures
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.people import Person

Json = dict[str, Any]

PROVENANCE = ("vehicle", "engine", "conditions", "ground", "probe", "taken_by", "taken_on", "part")


def create(conn: Connection, person: Person, capture_id: int, title: str, document: Json, at: datetime) -> int:
    """A draft reference from a capture that the person may see."""
    person.must_be("instructor")
    head = captures.in_reach(conn, person, capture_id)
    reference_id: int = queries.shelf.add(
        conn,
        author_id=person.id,
        capture_id=capture_id,
        circuit=head["circuit"],
        title=_title(title),
        document=packed(checked(head["circuit"], document)),
        at=at,
    )
    return reference_id


def _title(title: str) -> str:
    title = title.strip()
    if not 1 <= len(title) <= 160:
        raise BadOption("title: 1 to 160 characters")
    return title


def checked(circuit: str, document: Mapping[str, Any]) -> Json:
    """A reference's document with defaults; raises BadOption that names the part."""
    kind = circuit_of(circuit)
    limits = limits_from_json({"limits": list(document.get("limits") or [])}, kind.reading_ids)
    provenance = document.get("provenance") or {}
    return {
        "phases": [_phase(p) for p in document.get("phases") or []],
        "options": {str(k): str(v) for k, v in (document.get("options") or {}).items()},
        "limits": [limit.as_json() for limit in limits],
        "complaint": one_of(document.get("complaint") or ALWAYS.key, COMPLAINTS, "complaint", BadOption),
        "tags": [_tag(t) for t in document.get("tags") or []],
        "provenance": {k: str(provenance.get(k, ""))[:300] for k in PROVENANCE},
        "notes": str(document.get("notes", ""))[:4000],
    }


def _phase(phase: Mapping[str, Any]) -> Json:
    return {"name": str(phase["name"]), "from": float(phase["from"]), "to": float(phase["to"])}


def _tag(tag: Mapping[str, Any]) -> Json:
    text = str(tag.get("text", "")).strip()
    if not 1 <= len(text) <= 300:
        raise BadOption("tag: write 1 to 300 characters")
    return {"from": float(tag["from"]), "to": float(tag["to"]), "lane": str(tag.get("lane", "signal")), "text": text}


def measured_as(conn: Connection, capture_id: int, circuit: str, document: Mapping[str, Any]) -> Answer:
    """What the core says about a reference's capture with its own phases, options and limits."""
    kind = circuit_of(circuit)
    return captures.measured(
        conn,
        capture_id,
        circuit,
        {**document["options"], "complaint": document.get("complaint", ALWAYS.key)},
        [Phase(p["name"], p["from"], p["to"]) for p in document["phases"]],
        limits_from_json({"limits": document["limits"]}, kind.reading_ids),
    )


def answer_of(conn: Connection, capture_id: int, circuit: str, document: Mapping[str, Any]) -> Json:
    """The answer of `measured_as` as the API sends it, with its events."""
    answer = measured_as(conn, capture_id, circuit, document)
    out: Json = answer.as_json()
    return {**out, "events": [e.as_json() for e in answer.events]}


def work_on(conn: Connection, person: Person, reference_id: int) -> Json:
    """A reference as it is worked on."""
    person.must_be("instructor")
    row = queries.shelf.by_id(conn, reference_id=reference_id)
    if row is None:
        raise NotFound("there is no such reference")
    reference: Json = unpacked(row, "document")
    return reference


def one(conn: Connection, person: Person, reference_id: int) -> Json:
    """A reference as it is worked on, with the core's answer and its versions."""
    reference = work_on(conn, person, reference_id)
    return {
        **reference,
        "answer": answer_of(conn, reference["capture_id"], reference["circuit"], reference["document"]),
        "versions": list(queries.shelf.versions(conn, reference_id=reference_id)),
    }


def save(
    conn: Connection, person: Person, reference_id: int, revision: int, title: str, document: Json, at: datetime
) -> Json:
    """Save work on a reference; a published one becomes a draft of its next version. Raises Conflict if stale."""
    reference = _own(conn, person, reference_id)
    saved = queries.shelf.save_draft(
        conn,
        reference_id=reference_id,
        revision=revision,
        title=_title(title),
        document=packed(checked(reference["circuit"], document)),
        at=at,
    )
    if not saved:
        raise Conflict("someone else, or another window, has saved this reference since; reload to see their work")
    if reference["state"] == "published":
        queries.shelf.set_state(conn, reference_id=reference_id, state="draft", at=at)
    return one(conn, person, reference_id)


def _own(conn: Connection, person: Person, reference_id: int) -> Json:
    person.must_be("instructor")
    row = queries.shelf.by_id(conn, reference_id=reference_id)
    if row is None:
        raise NotFound("there is no such reference")
    return unpacked(row, "document")


def publish(conn: Connection, person: Person, reference_id: int, at: datetime) -> Json:
    """Freeze the draft as the next version."""
    reference = _own(conn, person, reference_id)
    if reference["state"] == "published":
        raise Conflict("this version is published already; change something first")
    version = queries.shelf.latest_version(conn, reference_id=reference_id) + 1
    queries.shelf.publish(
        conn,
        reference_id=reference_id,
        version=version,
        capture_id=reference["capture_id"],
        title=reference["title"],
        document=packed(reference["document"]),
        answer=packed(answer_of(conn, reference["capture_id"], reference["circuit"], reference["document"])),
        author_id=person.id,
        at=at,
    )
    queries.shelf.set_state(conn, reference_id=reference_id, state="published", at=at)
    return one(conn, person, reference_id)


def retire(conn: Connection, person: Person, reference_id: int, at: datetime) -> Json:
    """Take a reference off the shelf; cards that use a version of it keep it."""
    _own(conn, person, reference_id)
    queries.shelf.set_state(conn, reference_id=reference_id, state="retired", at=at)
    return one(conn, person, reference_id)


def listed(conn: Connection, person: Person) -> list[Json]:
    """Every reference with its newest version's call."""
    person.must_be("instructor")
    out = []
    for row in queries.shelf.on_shelf(conn):
        item = unpacked(row, "document", "answer")
        answer = item.pop("answer")
        document = item.pop("document")
        out.append(
            {
                **item,
                "call": answer["call"] if answer else None,
                "because": answer["because"] if answer else [],
                "provenance": document["provenance"],
                "options": document["options"],
                "tags": len(document["tags"]),
            }
        )
    return out


def version_in_reach(conn: Connection, version_id: int) -> Json | None:
    """A published version, or None."""
    row = queries.shelf.version_by_id(conn, version_id=version_id)
    return unpacked(row, "document", "answer") if row else None


def beside(conn: Connection, version_id: int | None, measured: Mapping[str, Any] | None) -> Json:
    """What is laid beneath a learner's trace: the reference's capture, title, phases to align by, and its cylinders
    beside those that were measured."""
    version = version_in_reach(conn, version_id) if version_id else None
    rows = [a["readings"] if a else [] for a in (measured, version["answer"] if version else None)]
    ours, theirs = ([Reading.from_json(r) for r in readings] for readings in rows)
    return {
        "beside_reference": [b.as_json() for b in beside_reference(ours, theirs)],
        "reference_capture_id": version["capture_id"] if version else None,
        "reference_title": version["title"] if version else None,
        "reference_phases": version["answer"]["phases"] if version else [],
    }


def limits_of(version: Mapping[str, Any]) -> tuple[Limit, ...]:
    """The limits a card takes over from a reference version: those that decide, whole, in the version's answer."""
    deciding = [limit for limit in version["answer"]["limits"] if limit["decides"]]
    return limits_from_json({"limits": deciding}, circuit_of(version["circuit"]).reading_ids)
