"""Job cards: making, publishing, and what a person sees of them."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Mapping, Sequence, Set
from dataclasses import replace
from datetime import datetime
from typing import TypedDict, cast

from tracebench.bench.source import row_of
from tracebench.bench.sources import source as trainer_source
from tracebench.core.cards.card import AnyStep, Asked, Card
from tracebench.core.cards.documents import card_as_json, card_from_json
from tracebench.core.circuits.conditions import ALWAYS
from tracebench.core.circuits.events.attribution import order_told
from tracebench.core.errors import BadOption
from tracebench.core.steps.compare.step import FROM_SHELF, CompareStep, Other
from tracebench.formats.job_pdf import job_pdf
from tracebench.formats.sheet_pdf import Sheet
from tracebench.store import captures
from tracebench.store.pool import Connection, Row
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.people import courses, reach
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import captures as captures_of
from tracebench.usecases.shelf import versions
from tracebench.usecases.shelf.values import Version
from tracebench.usecases.sitting.rows import card_of


class CardSheet(TypedDict):
    """A card with its whole document, and what who asks may do with it."""

    id: int
    course_id: int
    author_id: int
    author: str
    title: str
    state: str
    revision: int
    document: CardDocument
    changed_at: datetime
    reach: str
    of_course: bool
    version: int
    may_change: bool
    owned: bool


CardDocument = Mapping[str, object]
"""A card as `card_from_json` reads it."""


def create(conn: Connection, person: Person, course_id: int, document: object, at: datetime) -> int:
    """A draft card in a course of the instructor's."""
    person.must_be("instructor")
    courses.in_reach(conn, person, course_id)
    card = _complete(conn, person, document, None)
    return _added(conn, person, course_id, card, "", at)


def _added(conn: Connection, person: Person, course_id: int, card: Card, why: str, at: datetime) -> int:
    card_id: int = queries.cards.add(
        conn, course_id=course_id, author_id=person.id, title=card.title, document=packed(card_as_json(card)), at=at
    )
    trail.write(conn, person, "card.add", ("card", card_id), card.title, at, why=why)
    return card_id


def copy(conn: Connection, person: Person, card_id: int, course_id: int, at: datetime) -> int:
    """A draft of one's own, in a course of one's own, of a card that one may see."""
    row = _seen(conn, person, card_id)
    courses.in_reach(conn, person, course_id)
    card = card_of(row["document"])
    card = replace(card, title=f"{card.title[:140]}, copy")
    return _added(conn, person, course_id, card, f"copied from card {card_id} of {row['author']}", at)


def _complete(conn: Connection, person: Person, document: object, before: Card | None) -> Card:
    """The checked card; without limits of its own it takes those of its reference.

    A reference must be in the person's reach, unless it stood on the card `before`.
    """
    card = card_from_json(document)
    stood = before.captures if before is not None else ()
    known = {a.reference_version_id for a in stood} | {a.source.version_id for a in stood}
    known |= {s.version_id for s in before.steps if isinstance(s, CompareStep)} if before is not None else set()
    made = replace(card, captures=tuple(_with_reference(conn, person, asked, known) for asked in card.captures))
    return replace(made, steps=tuple(_with_other(conn, person, made, step, known) for step in made.steps))


def _with_other(conn: Connection, person: Person, card: Card, step: AnyStep, known: Set[int | None]) -> AnyStep:
    """A comparing step with what its other capture gives; the card's own reference where it names none.

    What a card file brought along stays where no reference of this shelf is named.
    """
    if not isinstance(step, CompareStep) or step.against not in FROM_SHELF:
        return step
    asked = card.asked(step.capture)
    version_id = step.version_id
    if version_id is None and step.against == "reference":
        version_id = asked.reference_version_id
    if version_id is None:
        return step
    known = known | {asked.reference_version_id}
    version = _version(conn, person, version_id, known, asked.circuit.code, step.title)
    readings = (version["answer"] or {}).get("readings", [])
    of_step = (r for r in readings if r["id"] == step.reading and r["cylinder"] == step.cylinder and r["cycle"] is None)
    reading = next(of_step, None)
    if reading is None:
        raise BadOption(f"{step.title}: {version['title']} gives no such reading; choose another reference")
    other = Other(reading["value"], reading["uncertainty"], reading["from"], reading["to"])
    return replace(step, version_id=version_id, other=other)


def _with_reference(conn: Connection, person: Person, asked: Asked, known: Set[int | None]) -> Asked:
    made_by = trainer_source(asked.circuit.code)
    part = asked.source.part
    if asked.source.kind == "trainer":
        for fault in (str(part.get("fault", "none")), *asked.source.instead):
            made_by.check_fault(fault)
    if asked.source.version_id is not None:
        _version(conn, person, asked.source.version_id, known, asked.circuit.code, "source")
    if asked.reference_version_id is not None:
        version_id = asked.reference_version_id
        version = _version(conn, person, version_id, known, asked.circuit.code, "reference")
        document = version["document"]
        complaint = document.get("complaint", ALWAYS.key) if asked.complaint == ALWAYS.key else asked.complaint
        asked = replace(
            asked,
            options={**document["options"], **asked.options},
            limits=asked.limits or versions.limits_of(version),
            complaint=complaint,
        )
    if asked.options.get("firing_order"):
        order_told(asked.options["firing_order"])
    if asked.source.kind == "trainer":
        if made_by.by_cylinder:
            # Nobody told an order: it is the usual one, so that the marks name cylinders and not places in a row.
            usual = "-".join(map(str, row_of(part)))
            asked = replace(asked, options={"firing_order": usual, **asked.options})
        order = asked.options.get("firing_order")
        made_by.check_engine({**part, **({"firing_order": order} if order else {})})
    return asked


def _version(
    conn: Connection, person: Person, version_id: int, known: Set[int | None], circuit: str, what: str
) -> Version:
    """A version of a reference that fits a card's circuit and is in the person's reach, or stood on the card before."""
    reach_of = versions.version_of(conn, version_id) if version_id in known else None
    version = reach_of or versions.version_in_reach(conn, person, version_id)
    if version is None:
        raise BadOption(f"{what}: that version does not exist for you; choose one from the shelf")
    if version["circuit"] != circuit:
        raise BadOption(f"{what}: it is of {version['circuit']}, the card of {circuit}; choose another")
    return version


def _seen(conn: Connection, person: Person, card_id: int) -> Row:
    """A card that an instructor sees, with whether they are of its course."""
    person.must_be("instructor")
    row = queries.cards.by_id(conn, card_id=card_id)
    of_course = row is not None and bool(
        queries.courses.is_member(conn, course_id=row["course_id"], person_id=person.id)
    )
    if row is None or not reach.sees_card({**row, "of_course": of_course}, person):
        raise NotFound("there is no such job card for you")
    return {**row, "of_course": of_course}


def _to_change(conn: Connection, person: Person, card_id: int) -> Row:
    row = _seen(conn, person, card_id)
    if not reach.changes_card(row, person):
        raise NotAllowed(f"this card is {row['author']}'s; copy it into a course of yours to change it")
    return row


def one(conn: Connection, person: Person, card_id: int) -> CardSheet:
    """A card with its whole document, for an instructor who sees it, and what they may do with it."""
    row = _seen(conn, person, card_id)
    version = queries.cards.latest_version(conn, card_id=card_id)
    # A card from before some setting existed is shown with the setting's usual value.
    document = card_as_json(card_of(row["document"]))
    shown = {
        **row,
        "document": document,
        "version": version["version"] if version else 0,
        "may_change": reach.changes_card(row, person),
        "owned": row["author_id"] == person.id,
    }
    return cast(CardSheet, shown)


def job_sheet(conn: Connection, person: Person, card_id: int, address: str, reference: bool) -> bytes:
    """The card to print; with its reference's strip where the instructor wants that on paper."""
    card = card_of(_seen(conn, person, card_id)["document"])
    version_id = card.first.reference_version_id
    version = versions.version_of(conn, version_id) if reference and version_id else None
    shown = None
    if version is not None:
        sheet = Sheet(version["title"], "", "", {**version["document"], "tags": []}, version["answer"])
        shown = (sheet, captures.load(conn, version["capture_id"]))
    return job_pdf(card, address, shown)


def as_file(conn: Connection, person: Person, card_id: int) -> CardDocument:
    """The card's document for another installation: its reference stays here."""
    card = card_as_json(card_of(_seen(conn, person, card_id)["document"]))
    source = _elsewhere(card["source"])
    steps = [_elsewhere(step) for step in cast(list[CardDocument], card["steps"])]
    return {**card, "source": source, "steps": steps, "reference_version_id": None}


def _elsewhere(row: object) -> CardDocument:
    """A part of a card's document without the version of a reference, which another installation does not have."""
    return {k: v for k, v in cast(CardDocument, row).items() if k != "version_id"}


def document_of(conn: Connection, person: Person, card_id: int) -> str:
    """A card's stored document, for an instructor who sees it."""
    return str(_seen(conn, person, card_id)["document"])


def set_reach(conn: Connection, person: Person, card_id: int, wanted: str, at: datetime) -> CardSheet:
    """Say who reaches one's own card: oneself, its course's instructors, or every instructor, to copy it."""
    row = _seen(conn, person, card_id)
    reach.must_be_owner(row, person)
    queries.cards.set_reach(conn, card_id=card_id, reach=wanted)
    before, after = {"reach": row["reach"]}, {"reach": wanted}
    trail.write(conn, person, "card.reach", ("card", card_id), row["title"], at, before=before, after=after)
    return one(conn, person, card_id)


def save(conn: Connection, person: Person, card_id: int, revision: int, document: object, at: datetime) -> CardSheet:
    """Save work on a card. Sittings keep the version they began with."""
    card = _to_change(conn, person, card_id)
    before = card_of(card["document"])
    checked = _complete(conn, person, document, before)
    if not queries.cards.save_draft(
        conn, card_id=card_id, revision=revision, title=checked.title, document=packed(card_as_json(checked)), at=at
    ):
        raise Conflict("someone else, or another window, has saved this card since; reload to see their work")
    if card["state"] == "published":
        queries.cards.set_state(conn, card_id=card_id, state="draft", at=at)
    old, new = card_as_json(before), card_as_json(checked)
    trail.write(conn, person, "card.save", ("card", card_id), checked.title, at, before=old, after=new)
    return one(conn, person, card_id)


def publish(conn: Connection, person: Person, card_id: int, at: datetime) -> CardSheet:
    """Freeze the draft as the version that new sittings use."""
    _to_change(conn, person, card_id)
    card = one(conn, person, card_id)
    if card["state"] == "published":
        raise Conflict("this version is published already; change something first")
    checked = card_of(packed(card["document"]))
    before = queries.cards.latest_version(conn, card_id=card_id)
    given, given_version = _given(conn, person, before, checked, at)
    beside = _beside(conn, person, before, checked, at)
    version_id: int = queries.cards.publish(
        conn,
        card_id=card_id,
        version=card["version"] + 1,
        document=packed(card["document"]),
        given_capture_id=given,
        given_version_id=given_version,
        at=at,
    )
    for step_id, (shown, capture_id) in beside.items():
        queries.cards.show_beside(
            conn, card_version_id=version_id, step_id=step_id, version_id=shown, capture_id=capture_id
        )
    queries.cards.set_state(conn, card_id=card_id, state="published", at=at)
    after = {"version": card["version"] + 1}
    trail.write(conn, person, "card.publish", ("card", card_id), card["title"], at, before={}, after=after)
    return one(conn, person, card_id)


def _beside(
    conn: Connection, person: Person, before: Row | None, card: Card, at: datetime
) -> dict[str, tuple[int, int]]:
    """By comparing step: the reference's version that it shows, and a copy of its capture without its name.

    The copies of the version before are shown on. Raises BadOption for a step that has nothing to compare with.
    """
    rows = queries.cards.shown_beside(conn, card_version_id=before["id"]) if before is not None else ()
    copies: dict[int, int] = {row["version_id"]: row["capture_id"] for row in rows}
    out = {}
    for step in card.steps:
        if not isinstance(step, CompareStep) or step.against not in FROM_SHELF:
            continue
        if step.other is None:
            raise BadOption(f"{step.title}: choose the reference from the shelf that it is held against")
        if step.version_id is None:
            continue
        if step.version_id not in copies:
            version = versions.version_of(conn, step.version_id)
            if version is None:
                raise BadOption(f"{step.title}: that version does not exist any more; choose another from the shelf")
            copies[step.version_id] = captures_of.copied(conn, person, version["capture_id"], BESIDE_TITLE, at)
        out[step.id] = (step.version_id, copies[step.version_id])
    return out


def _given(
    conn: Connection, person: Person, before: Row | None, card: Card, at: datetime
) -> tuple[int | None, int | None]:
    """The capture that a card gives: a copy without its reference's name, the same as long as the version is.

    With the version of the reference that it is a copy of. Raises BadOption where none was chosen.
    """
    source = card.first.source
    if not source.given:
        return None, None
    if source.version_id is None:
        raise BadOption("source: say which capture from the shelf the learners are given")
    if before is not None and before["given_version_id"] == source.version_id:
        return before["given_capture_id"], source.version_id
    version = versions.version_of(conn, source.version_id)
    if version is None:
        raise BadOption("source: that version does not exist any more; choose another from the shelf")
    return captures_of.copied(conn, person, version["capture_id"], GIVEN_TITLE, at), source.version_id


GIVEN_TITLE = "The capture of the card"
BESIDE_TITLE = "What is compared with"


def retire(conn: Connection, person: Person, card_id: int, at: datetime) -> CardSheet:
    """No new sittings; those begun go on."""
    row = _to_change(conn, person, card_id)
    queries.cards.set_state(conn, card_id=card_id, state="retired", at=at)
    trail.write(conn, person, "card.retire", ("card", card_id), row["title"], at)
    return one(conn, person, card_id)


class CardItem(TypedDict):
    """A card in a list. `taken` are a learner's own attempts; an instructor's counts sittings and those waiting."""

    id: int
    course_id: int
    course: str
    title: str
    state: str
    version: int
    circuit: str
    source: str
    due: str | None
    opens: str | None
    minutes: int | None
    mode: str
    attempts: int
    steps: int
    sittings: int
    waiting: int
    taken: list[Row]


def listed(conn: Connection, person: Person) -> list[CardItem]:
    """An instructor's cards; a learner's only once published, and without what they must not know."""
    if person.role == "instructor":
        return [_item(row) for row in json.loads(queries.cards.of_courses_of(conn, person_id=person.id) or "[]")]
    taken: dict[int, list[Row]] = defaultdict(list)
    for row in queries.sittings.attempts_of_learner(conn, learner_id=person.id):
        taken[row["card_id"]].append(row)
    return [
        _item({**row, "sittings": len(taken[row["id"]]), "waiting": 0}, taken[row["id"]])
        for row in queries.cards.of_learner(conn, person_id=person.id)
    ]


def _item(row: Row, taken: Sequence[Row] = ()) -> CardItem:
    return {
        "id": row["id"],
        "course_id": row["course_id"],
        "course": row["course"],
        "title": row["title"],
        "state": row["state"],
        "version": row["version"],
        "circuit": row["circuit"],
        "source": row["source"],
        "due": row["due"],
        "opens": row["opens"],
        "minutes": row["minutes"],
        "mode": row["mode"],
        "attempts": row["attempts"],
        "steps": row["steps"],
        "sittings": row["sittings"],
        "waiting": row["waiting"],
        "taken": list(taken),
    }


class SharedCard(TypedDict):
    """A card of another course that the school may copy."""

    id: int
    course: str
    author: str
    title: str
    circuit: str
    steps: int


def of_the_school(conn: Connection, person: Person) -> list[SharedCard]:
    """Published cards of courses that the instructor is not in, to be copied."""
    person.must_be("instructor")
    out: list[SharedCard] = []
    for row in queries.cards.of_the_school(conn, person_id=person.id):
        card = card_of(row["document"])
        out.append(
            {
                "id": row["id"],
                "course": row["course"],
                "author": row["author"],
                "title": card.title,
                "circuit": card.first.circuit.code,
                "steps": len(card.steps),
            }
        )
    return out
