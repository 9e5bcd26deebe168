"""References: drafts made of captures, worked on, and published as versions that never change."""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import datetime
from typing import Any, cast

from tracebench.core import ENGINE_VERSION
from tracebench.core.answer import Answer, Limit, Phase
from tracebench.core.answer_rows import AnswerWithEvents
from tracebench.core.capture import Capture
from tracebench.core.cards.documents import COMPLAINTS
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits import measure
from tracebench.core.circuits.conditions import ALWAYS
from tracebench.core.errors import BadOption
from tracebench.core.json_fields import one_of
from tracebench.core.limits import limits_from_json
from tracebench.core.preparing import words as step_words
from tracebench.formats.sheet_pdf import Sheet, sheet_pdf
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.people import courses, reach
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import captures, second_look
from tracebench.usecases.shelf.values import (
    Document,
    Pair,
    Paired,
    Reference,
    ReferenceSheet,
    SameSamples,
    StepRow,
    Tag,
    ToldPhase,
    VersionHead,
)

PROVENANCE = ("vehicle", "engine", "conditions", "ground", "probe", "taken_by", "taken_on", "part")


def create(
    begin: Begin,
    person: Person,
    capture_id: int,
    title: str,
    document: Mapping[str, Any],
    at: datetime,
    word: bool = False,
) -> int:
    """A draft reference from a capture that the person may see; measured before it is kept.

    A learner's capture is copied without its owner's name, and only on the instructor's `word` that the learner
    agrees; Conflict without it. Raises BadOption where the name stands in what was written, or where the core cannot
    measure with what was told.
    """
    person.must_be("instructor")
    with begin() as conn:
        head = captures.in_reach(conn, person, capture_id)
        title, kept, why = _title(title), checked(head["circuit"], document), ""
        owner = queries.people.by_id(conn, person_id=head["owner_id"])
        of_learner = owner is not None and owner["role"] == "learner"
        if of_learner and not word:
            raise Conflict("this is a learner's capture: say that they agree to its use, then their name is taken off")
        if owner is not None and of_learner:
            _nameless(owner, title, kept)
        capture = store.load(conn, capture_id)
    answer = packed(answer_of(capture, head["circuit"], kept))
    with begin() as conn:
        if of_learner:
            capture_id = captures.copied(conn, person, capture_id, title, at)
            why = "of a learner's capture, the name taken off, by the instructor's word that the learner agrees"
        return add_draft(conn, person, capture_id, head["circuit"], title, kept, answer, at, why)


def add_draft(
    conn: Connection,
    person: Person,
    capture_id: int,
    circuit: str,
    title: str,
    kept: Document,
    answer: str,
    at: datetime,
    why: str = "",
) -> int:
    """A draft of what was checked and measured already; its id."""
    reference_id: int = queries.shelf.add(
        conn,
        author_id=person.id,
        capture_id=capture_id,
        circuit=circuit,
        title=title,
        document=packed(kept),
        at=at,
    )
    keep_answer(conn, reference_id, 1, answer)
    queries.shelf.list_anew(conn, reference_id=reference_id)
    trail.write(conn, person, "reference.add", ("reference", reference_id), title, at, why=why)
    return reference_id


def keep_answer(conn: Connection, reference_id: int, revision: int, answer: str) -> None:
    """Keep what this engine says of a revision of a reference."""
    queries.shelf.keep_answer(conn, reference_id=reference_id, revision=revision, engine=ENGINE_VERSION, answer=answer)


def _nameless(owner: Mapping[str, Any], title: str, document: Document) -> None:
    """Raises BadOption that says where a learner's name stands."""
    names = {str(owner["name"]).casefold(), str(owner["sign_in"]).casefold()}
    written = {**document["provenance"], "title": title, "notes": document["notes"], "tags": document["tags"]}
    for place, value in written.items():
        if any(name in packed(value).casefold() for name in names):
            raise BadOption(f"{place.replace('_', ' ')}: the learner's name stands there; a reference carries none")


def of_same_samples(conn: Connection, person: Person, capture_id: int) -> list[SameSamples]:
    """References in reach whose captures hold the very samples of one: brought in before."""
    person.must_be("instructor")
    captures.in_reach(conn, person, capture_id)
    return with_samples(conn, person, queries.captures.fingerprint(conn, capture_id=capture_id))


def with_samples(conn: Connection, person: Person, fingerprint: str | None) -> list[SameSamples]:
    """The same by the name of the samples, before they are stored."""
    rows = queries.shelf.of_same_samples(conn, fingerprint=fingerprint, person_id=person.id)
    seen = (row for row in rows if reach.sees_reference(row, person))
    return [{"id": row["id"], "title": row["title"], "state": row["state"]} for row in seen]


def copy(conn: Connection, person: Person, reference_id: int, at: datetime) -> int:
    """A draft of one's own of a reference that one may see, on the same capture."""
    row = work_on(conn, person, reference_id)
    copy_id: int = queries.shelf.add(
        conn,
        author_id=person.id,
        capture_id=row["capture_id"],
        circuit=row["circuit"],
        title=row["title"][:150] + ", copy",
        document=packed(row["document"]),
        at=at,
    )
    queries.shelf.list_anew(conn, reference_id=copy_id)
    why = f"copied from reference {reference_id} of {row['author']}"
    trail.write(conn, person, "reference.add", ("reference", copy_id), row["title"], at, why=why)
    return copy_id


def _title(title: str) -> str:
    title = title.strip()
    if not 1 <= len(title) <= 160:
        raise BadOption("title: 1 to 160 characters")
    return title


def checked(circuit: str, document: Mapping[str, Any]) -> Document:
    """A reference's document with defaults; raises BadOption that names the part."""
    kind = circuit_of(circuit)
    limits = limits_from_json({"limits": list(document.get("limits") or [])}, kind.reading_ids)
    provenance = document.get("provenance") or {}
    checked: Document = {
        "phases": [_phase(p) for p in document.get("phases") or []],
        "options": {str(k): str(v) for k, v in (document.get("options") or {}).items()},
        "limits": [limit.as_json() for limit in limits],
        "complaint": one_of(document.get("complaint") or ALWAYS.key, COMPLAINTS, "complaint", BadOption),
        "tags": [_tag(t) for t in document.get("tags") or []],
        "provenance": {k: str(provenance.get(k, ""))[:300] for k in PROVENANCE},
        "notes": str(document.get("notes", ""))[:4000],
    }
    if document.get("pair"):
        checked["pair"] = _pair(document["pair"])
    return checked


PAIRS = {
    "before": "before the repair",
    "after": "after the repair",
    "sound": "a sound one",
    "faulty": "a faulty one",
    "sibling": "a sibling",
}
"""What a reference that is drawn together with another is to it."""


def _pair(pair: Mapping[str, Any]) -> Pair:
    return {"uid": str(pair["uid"])[:32], "how": one_of(pair["how"], tuple(PAIRS), "pair", BadOption)}


def _phase(phase: Mapping[str, Any]) -> ToldPhase:
    return {"name": str(phase["name"]), "from": float(phase["from"]), "to": float(phase["to"])}


def _tag(tag: Mapping[str, Any]) -> Tag:
    text = str(tag.get("text", "")).strip()
    if not 1 <= len(text) <= 300:
        raise BadOption("tag: write 1 to 300 characters")
    return {"from": float(tag["from"]), "to": float(tag["to"]), "lane": str(tag.get("lane", "signal")), "text": text}


def measured_as(conn: Connection, capture_id: int, circuit: str, document: Document) -> Answer:
    """What the core says about a reference's capture with its own phases, options and limits."""
    head = store.head(conn, capture_id)
    span = (head["start_s"], head["samples"] * head["interval_s"]) if head else (0.0, 0.0)
    told, phases, limits = _told(circuit, document, *span)
    return captures.measured(conn, capture_id, circuit, told, phases, limits)


def _told(
    circuit: str, document: Document, start_s: float, duration_s: float
) -> tuple[dict[str, str], list[Phase], tuple[Limit, ...]]:
    """What a reference's document tells the core of a record: options, phases that lie in it, and limits.

    A record that was cropped keeps its other phases for when the crop is taken back.
    """
    end_s = start_s + duration_s
    inside = [(p["name"], max(p["from"], start_s), min(p["to"], end_s)) for p in document["phases"]]
    return (
        {**document["options"], "complaint": document.get("complaint", ALWAYS.key)},
        [Phase(*p) for p in inside if p[2] > p[1]],
        limits_from_json({"limits": document["limits"]}, circuit_of(circuit).reading_ids),
    )


def work_on(conn: Connection, person: Person, reference_id: int) -> Reference:
    """A reference as it is worked on, for those who may see it."""
    person.must_be("instructor")
    row = queries.shelf.by_id(conn, reference_id=reference_id, person_id=person.id)
    if row is None or not reach.sees_reference(row, person):
        raise NotFound("there is no such reference for you")
    return cast(Reference, unpacked(row, "document"))


def one(begin: Begin, person: Person, reference_id: int) -> ReferenceSheet:
    """A reference as it is worked on, with the core's answer, its versions and what the person may do with it.

    The answer is kept beside the reference until that or the engine changes; it is measured with nothing held.
    """
    with begin() as conn:
        reference = work_on(conn, person, reference_id)
        versions = [cast(VersionHead, row) for row in queries.shelf.versions(conn, reference_id=reference_id)]
        head = store.head(conn, reference["capture_id"])
        raw_id = queries.captures.raw_of(conn, capture_id=reference["capture_id"])
        pair, review = _paired(conn, person, reference), second_look.of(conn, reference)
        kept = queries.shelf.kept_answer(conn, reference_id=reference_id, engine=ENGINE_VERSION)
        capture = None if kept else store.load(conn, reference["capture_id"])
    if capture is not None:
        kept = packed(answer_of(capture, reference["circuit"], reference["document"]))
        with begin() as conn:
            keep_answer(conn, reference_id, reference["revision"], kept)
    return {
        **reference,
        "may_change": reach.changes_reference(reference, person),
        "owned": reference["author_id"] == person.id,
        "answer": json.loads(kept),
        "raw_id": int(raw_id),
        "pair": pair,
        "review": review,
        "steps": steps_of(head),
        "versions": versions,
    }


def steps_of(head: Mapping[str, Any] | None) -> list[StepRow]:
    """Steps that a capture was made with, each with its words."""
    steps = head["detail"].get("steps", []) if head else []
    return [cast(StepRow, {**step, "words": step_words(step)}) for step in steps]


def _paired(conn: Connection, person: Person, reference: Reference) -> Paired | None:
    """The reference that one is drawn together with, if there is one that the person sees."""
    pair = reference["document"].get("pair")
    row = None if pair is None else queries.shelf.by_uid(conn, uid=pair["uid"], person_id=person.id)
    if pair is None or row is None or not reach.sees_reference(row, person):
        return None
    return {"id": row["id"], "title": row["title"], "how": pair["how"], "words": PAIRS[pair["how"]]}


def set_pair(
    begin: Begin, person: Person, reference_id: int, revision: int, other_id: int | None, how: str, at: datetime
) -> ReferenceSheet:
    """Draw a reference together with another of its circuit, or with none. Raises BadOption, Conflict."""
    with begin() as conn:
        reference = to_change(conn, person, reference_id)
        document = {key: value for key, value in reference["document"].items() if key != "pair"}
        if other_id is not None:
            other = work_on(conn, person, other_id)
            if other_id == reference_id or other["circuit"] != reference["circuit"]:
                raise BadOption("a pair is two references of one circuit")
            document["pair"] = {"uid": queries.shelf.uid_of(conn, reference_id=other_id), "how": how}
    return save(begin, person, reference_id, revision, reference["title"], document, at)


def printed(begin: Begin, person: Person, reference_id: int) -> bytes:
    """The sheet as PDF, as it stands now."""
    reference = one(begin, person, reference_id)
    with begin() as conn:
        capture = store.load(conn, reference["capture_id"])
    latest = reference["versions"][0]["version"] if reference["versions"] else 0
    stage = f"Version {latest}" if reference["state"] == "published" else reference["state"].capitalize()
    sheet = Sheet(reference["title"], stage, reference["author"], reference["document"], reference["answer"])
    return sheet_pdf(sheet, circuit_of(reference["circuit"]), capture)


def answer_of(capture: Capture, circuit: str, document: Document) -> AnswerWithEvents:
    """The answer as the API sends it, with its events."""
    told, phases, limits = _told(circuit, document, capture.start_s, capture.duration_s)
    return as_sent(measure(capture, circuit, phases, told, limits))


def as_sent(answer: Answer) -> AnswerWithEvents:
    """An answer as it is kept beside a reference, with its events."""
    return {**answer.as_json(), "events": [e.as_json() for e in answer.events]}


def save(
    begin: Begin,
    person: Person,
    reference_id: int,
    revision: int,
    title: str,
    document: Mapping[str, Any],
    at: datetime,
) -> ReferenceSheet:
    """Save work on a reference; a published one becomes a draft of its next version. Raises Conflict if stale.

    What the core cannot measure with is refused before anything is kept: else the sheet could never be opened again.
    """
    with begin() as conn:
        reference = to_change(conn, person, reference_id)
        kept, title = checked(reference["circuit"], document), _title(title)
        capture = store.load(conn, reference["capture_id"])
    answer = packed(answer_of(capture, reference["circuit"], kept))
    with begin() as conn:
        if not queries.shelf.save_draft(
            conn, reference_id=reference_id, revision=revision, title=title, document=packed(kept), at=at
        ):
            raise Conflict("someone else, or another window, has saved this reference since; reload to see their work")
        keep_answer(conn, reference_id, revision + 1, answer)
        queries.shelf.list_anew(conn, reference_id=reference_id)
        if reference["state"] == "published":
            queries.shelf.set_state(conn, reference_id=reference_id, state="draft", at=at)
        before, after = {"title": reference["title"], **reference["document"]}, {"title": title, **kept}
        about = ("reference", reference_id)
        trail.write(conn, person, "reference.save", about, title, at, before=before, after=after)
    return one(begin, person, reference_id)


def to_change(conn: Connection, person: Person, reference_id: int) -> Reference:
    """A reference that the person may change. Raises NotFound, or NotAllowed that says what to do instead."""
    reference = work_on(conn, person, reference_id)
    if not reach.changes_reference(reference, person):
        raise NotAllowed(f"this reference is {reference['author']}'s; copy it, and the copy is yours to change")
    return reference


def set_reach(
    conn: Connection, person: Person, reference_id: int, wanted: str, course_id: int | None, at: datetime
) -> None:
    """Say who reaches one's own reference: oneself, the instructors of a course, or every instructor."""
    reference = work_on(conn, person, reference_id)
    reach.must_be_owner(reference, person)
    if wanted == "course":
        if course_id is None:
            raise BadOption("choose the course whose instructors reach it")
        courses.in_reach(conn, person, course_id)
    kept_course = course_id if wanted == "course" else None
    queries.shelf.set_reach(conn, reference_id=reference_id, reach=wanted, course_id=kept_course)
    moved = kept_course != reference["course_id"]
    if moved and reference["state"] == "published" and second_look.of(conn, reference) is not None:
        # Published where nobody had to look twice: it goes on as a draft, which waits for that.
        queries.shelf.set_state(conn, reference_id=reference_id, state="draft", at=at)
    before = {"reach": reference["reach"], "course": reference["course_id"]}
    after = {"reach": wanted, "course": kept_course}
    about = ("reference", reference_id)
    trail.write(conn, person, "reference.reach", about, reference["title"], at, before=before, after=after)


def publish(begin: Begin, person: Person, reference_id: int, at: datetime) -> ReferenceSheet:
    """Freeze the draft as the next version, with what the core says of it."""
    with begin() as conn:
        to_change(conn, person, reference_id)
    sheet = one(begin, person, reference_id)
    with begin() as conn:
        held = queries.shelf.lock_by_id(conn, reference_id=reference_id)
        reference = to_change(conn, person, reference_id)
        if held is None or held["revision"] != sheet["revision"]:
            raise Conflict("someone has changed this reference at this moment; look at it and publish again")
        if reference["state"] == "published":
            raise Conflict("this version is published already; change something first")
        second_look.must_be_reviewed(conn, person, reference)
        version = int(queries.shelf.latest_version(conn, reference_id=reference_id)) + 1
        queries.shelf.publish(
            conn,
            reference_id=reference_id,
            version=version,
            capture_id=reference["capture_id"],
            title=reference["title"],
            document=packed(reference["document"]),
            answer=packed(sheet["answer"]),
            author_id=person.id,
            at=at,
        )
        queries.shelf.set_state(conn, reference_id=reference_id, state="published", at=at)
        queries.shelf.list_anew(conn, reference_id=reference_id)
        about, after = ("reference", reference_id), {"version": version}
        trail.write(conn, person, "reference.publish", about, reference["title"], at, before={}, after=after)
    return one(begin, person, reference_id)


def retire(conn: Connection, person: Person, reference_id: int, at: datetime) -> None:
    """Take a reference off the shelf; cards that use a version of it keep it."""
    reference = to_change(conn, person, reference_id)
    queries.shelf.set_state(conn, reference_id=reference_id, state="retired", at=at)
    trail.write(conn, person, "reference.retire", ("reference", reference_id), reference["title"], at)
