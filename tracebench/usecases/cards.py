"""Job cards: making, publishing, and what a person sees of them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from tracebench.bench.circuits import source as trainer_source
from tracebench.bench.source import row_of
from tracebench.core.circuits.events.attribution import order_told
from tracebench.core.errors import BadOption
from tracebench.core.jobcard import checked_card, engine_of, learner_view
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases import shelf
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.people import Person, course_in_reach

Json = dict[str, Any]


def create(conn: Connection, person: Person, course_id: int, document: Json, at: datetime) -> int:
    """A draft card in a course of the instructor's."""
    person.must_be("instructor")
    course_in_reach(conn, person, course_id)
    card = _complete(conn, document)
    card_id: int = queries.cards.add(
        conn, course_id=course_id, author_id=person.id, title=card["title"], document=packed(card), at=at
    )
    return card_id


def _complete(conn: Connection, document: Json) -> Json:
    """The checked document; without limits of its own it takes those of its reference."""
    card = checked_card(document)
    made_by = trainer_source(card["circuit"])
    if card["source"]["kind"] == "trainer":
        made_by.check_fault(str(card["source"].get("fault", "none")))
    version_id = card["reference_version_id"]
    if version_id is not None:
        version = shelf.version_in_reach(conn, version_id)
        if version is None:
            raise BadOption("reference: that version does not exist; choose one from the shelf")
        if version["circuit"] != card["circuit"]:
            raise BadOption(f"reference: it is of {version['circuit']}, the card of {card['circuit']}; choose another")
        card["options"] = {**version["document"]["options"], **card["options"]}
        if not card["limits"]:
            card["limits"] = list(shelf.limits_of(version))
    if card["options"].get("firing_order"):
        order_told(card["options"]["firing_order"])
    if card["source"]["kind"] == "trainer":
        if made_by.by_cylinder:
            # Nobody told an order: it is the usual one, so that the marks name cylinders and not places in a row.
            card["options"].setdefault("firing_order", "-".join(map(str, row_of(card["source"]))))
        made_by.check_engine(engine_of(card))
    return card


def one(conn: Connection, person: Person, card_id: int) -> Json:
    """A card with its whole document, for an instructor of its course."""
    person.must_be("instructor")
    row = queries.cards.by_id(conn, card_id=card_id)
    if row is None or not queries.courses.is_member(conn, course_id=row["course_id"], person_id=person.id):
        raise NotFound("there is no such job card for you")
    version = queries.cards.latest_version(conn, card_id=card_id)
    return {**unpacked(row, "document"), "version": version["version"] if version else 0}


def save(conn: Connection, person: Person, card_id: int, revision: int, document: Json, at: datetime) -> Json:
    """Save work on a card. Sittings keep the version they began with."""
    card = one(conn, person, card_id)
    checked = _complete(conn, document)
    if not queries.cards.save_draft(
        conn, card_id=card_id, revision=revision, title=checked["title"], document=packed(checked), at=at
    ):
        raise Conflict("someone else, or another window, has saved this card since; reload to see their work")
    if card["state"] == "published":
        queries.cards.set_state(conn, card_id=card_id, state="draft", at=at)
    return one(conn, person, card_id)


def publish(conn: Connection, person: Person, card_id: int, at: datetime) -> Json:
    """Freeze the draft as the version that new sittings use."""
    card = one(conn, person, card_id)
    if card["state"] == "published":
        raise Conflict("this version is published already; change something first")
    queries.cards.publish(conn, card_id=card_id, version=card["version"] + 1, document=packed(card["document"]), at=at)
    queries.cards.set_state(conn, card_id=card_id, state="published", at=at)
    return one(conn, person, card_id)


def retire(conn: Connection, person: Person, card_id: int, at: datetime) -> Json:
    """No new sittings; those begun go on."""
    one(conn, person, card_id)
    queries.cards.set_state(conn, card_id=card_id, state="retired", at=at)
    return one(conn, person, card_id)


def listed(conn: Connection, person: Person) -> list[Json]:
    """An instructor's cards whole; a learner's only once published, and without what they must not know."""
    rows = [unpacked(r, "document", "version_document") for r in queries.cards.of_courses_of(conn, person_id=person.id)]
    if person.role == "instructor":
        return [_for_instructor(row) for row in rows]
    out = []
    for row in rows:
        if row["version_document"] is None or row["state"] == "retired":
            continue
        attempts = list(queries.sittings.of_card_and_learner(conn, card_id=row["id"], learner_id=person.id))
        out.append(_for_learner(row, attempts))
    return out


def _for_instructor(row: Json) -> Json:
    document = row["document"]
    return {
        "id": row["id"],
        "course_id": row["course_id"],
        "course": row["course"],
        "title": row["title"],
        "state": row["state"],
        "version": row["version"] or 0,
        "circuit": document["circuit"],
        "source": document["source"]["kind"],
        "due": document["due"],
        "attempts": document["attempts"],
        "steps": len(document["steps"]),
        "sittings": row["sittings"],
        "waiting": row["waiting"],
        "taken": [],
    }


def _for_learner(row: Json, attempts: list[Json]) -> Json:
    view = learner_view(row["version_document"])
    return {
        "id": row["id"],
        "course_id": row["course_id"],
        "course": row["course"],
        "title": view["title"],
        "state": "published",
        "version": row["version"],
        "circuit": view["circuit"],
        "source": view["source"]["kind"],
        "due": view["due"],
        "attempts": view["attempts"],
        "steps": len(view["steps"]),
        "sittings": len(attempts),
        "waiting": 0,
        "taken": attempts,
    }
