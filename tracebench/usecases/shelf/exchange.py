"""References out to a bundle and in again: what would change is told first, nothing of ours is written over.

A reference is known by its uid wherever it goes. A version that is there already is left alone; one that is not is
added; where ours went another way, the bundle's stands beside it as a copy.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Literal, TypedDict

from tracebench.core import preparing
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.errors import BadFile
from tracebench.core.strip_picture import strip_svg
from tracebench.formats import apart, bundle
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries, unpacked
from tracebench.usecases.errors import NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.people import reach
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import captures, references, uploads

TAKE = "bundle"
"""The kind of job that takes references in."""

MOST_AT_ONCE = 500
Sheet = Mapping[str, Any]
What = Literal["new", "same", "versions", "copy"]
STATES = ("draft", "published", "retired")


class Change(TypedDict):
    """What taking one sheet in would do: `versions` are the numbers that would be added."""

    uid: str
    title: str
    circuit: str
    what: What
    versions: list[int]


def export(begin: Begin, person: Person, ids: Sequence[int], path: Path, samples: str, at: datetime) -> int:
    """Write references that the person sees into a bundle; how many. Raises NotFound before anything is written."""
    with begin() as conn:
        for reference_id in ids:
            references.work_on(conn, person, reference_id)
    with bundle.writing(path, samples, "References of Trace Bench", _told(at)) as out:
        for reference_id in dict.fromkeys(ids):
            with begin() as conn:
                sheet, held = _sheet(conn, person, reference_id)
                loaded = {name: store.load(conn, capture_id) for name, capture_id in held.items()}
            for name, capture in loaded.items():
                out.capture(name, capture)
            newest = sheet["versions"][-1]["answer"] if sheet["versions"] else {"phases": sheet["document"]["phases"]}
            picture = strip_svg(loaded[sheet["capture"]], newest["phases"], sheet["document"]["tags"], sheet["title"])
            out.sheet(sheet, picture)
    return len(dict.fromkeys(ids))


def _sheet(conn: Connection, person: Person, reference_id: int) -> tuple[dict[str, Any], dict[str, int]]:
    """A reference as a bundle has it, and its captures by the name of their samples."""
    reference = references.work_on(conn, person, reference_id)
    versions = [
        unpacked(row, "document", "answer") for row in queries.shelf.whole_versions(conn, reference_id=reference_id)
    ]
    shown = [reference["capture_id"], *(v["capture_id"] for v in versions)]
    raw = {capture_id: int(queries.captures.raw_of(conn, capture_id=capture_id)) for capture_id in shown}
    ids = dict.fromkeys([*shown, *raw.values()])
    held = {_name(conn, capture_id): capture_id for capture_id in ids}
    names = {capture_id: name for name, capture_id in held.items()}
    sheet = {
        "uid": queries.shelf.uid_of(conn, reference_id=reference_id),
        "circuit": reference["circuit"],
        "title": reference["title"],
        "state": reference["state"],
        "author": reference["author"],
        "created_at": _told(reference["created_at"]),
        "changed_at": _told(reference["changed_at"]),
        "document": reference["document"],
        "capture": names[reference["capture_id"]],
        "captures": {
            name: {**_capture(conn, capture_id), "raw": names[raw.get(capture_id, capture_id)]}
            for name, capture_id in held.items()
        },
        "versions": [
            {
                "version": v["version"],
                "title": v["title"],
                "author": v["author"],
                "published_at": _told(v["published_at"]),
                "document": v["document"],
                "answer": v["answer"],
                "capture": names[v["capture_id"]],
            }
            for v in versions
        ],
    }
    return sheet, held


def _name(conn: Connection, capture_id: int) -> str:
    """The name of a capture's samples; made where it was stored before they had any."""
    return str(
        queries.captures.fingerprint(conn, capture_id=capture_id) or store.fingerprint(store.load(conn, capture_id))
    )


def _capture(conn: Connection, capture_id: int) -> dict[str, Any]:
    head = store.head(conn, capture_id)
    if head is None:
        raise NotFound("there is no such capture")
    detail = {key: value for key, value in head["detail"].items() if key != "notes"}
    return {
        "title": head["title"],
        "origin": head["origin"],
        "interval_s": head["interval_s"],
        "start_s": head["start_s"],
        "source_samples": head["source_samples"],
        "notes": head["detail"]["notes"],
        "detail": detail,
        "lanes": [{key: lane[key] for key in ("lane", "unit", "column_name", "factor")} for lane in head["lanes"]],
    }


class BundleReceived(TypedDict):
    """A bundle that has arrived and waits, with what each sheet would change."""

    upload_id: int
    filename: str
    changes: list[Change]


def receive(begin: Begin, person: Person, path: Path, filename: str, at: datetime) -> BundleReceived:
    """Keep a bundle that has arrived until it is said what of it to take; what each sheet would change.

    Raises BadFile; then nothing is kept.
    """
    person.must_be("instructor")
    try:
        found = apart.bundle_of(path)
        with begin() as conn:
            changes = plan(conn, person, found)
            upload_id = uploads.add_upload(conn, person, filename, path, at)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return {"upload_id": upload_id, "filename": filename, "changes": changes}


def plan(conn: Connection, person: Person, found: apart.Bundle) -> list[Change]:
    """What taking each sheet of a bundle in would change. Nothing does yet."""
    return [_change(conn, person, sheet) for sheet in found.sheets]


def _change(conn: Connection, person: Person, sheet: Sheet) -> Change:
    row = queries.shelf.by_uid(conn, uid=sheet["uid"], person_id=person.id)
    numbers = [v["version"] for v in sheet["versions"]]
    what: What = "new"
    if row is not None:
        ours = {v["version"]: v for v in queries.shelf.whole_versions(conn, reference_id=row["id"])}
        apart = any(v["version"] in ours and not _alike(v, ours[v["version"]]) for v in sheet["versions"])
        numbers = [n for n in numbers if n not in ours]
        drafts_differ = not _alike(sheet, row) and not _held(sheet, ours)
        untouched = _held(row, ours) or _held_by(row, sheet["versions"])
        adds = bool(numbers) or drafts_differ
        not_theirs = not reach.sees_reference(row, person) or (adds and not reach.changes_reference(row, person))
        beside = not_theirs or apart or (drafts_differ and not untouched)
        what = "copy" if beside else "versions" if adds else "same"
    if what == "copy":
        copy = queries.shelf.by_uid(conn, uid=_copy_uid(sheet, person), person_id=person.id)
        what, numbers = ("copy", [v["version"] for v in sheet["versions"]]) if copy is None else ("same", [])
    return {
        "uid": sheet["uid"],
        "title": str(sheet["title"])[:160],
        "circuit": sheet["circuit"],
        "what": what,
        "versions": numbers,
    }


def _alike(theirs: Mapping[str, Any], ours: Mapping[str, Any]) -> bool:
    """Whether two say the same of the same samples."""
    document = ours["document"] if isinstance(ours["document"], dict) else json.loads(ours["document"])
    capture = ours.get("fingerprint") or ours.get("capture")
    return (theirs["title"], theirs["document"], theirs.get("capture")) == (ours["title"], document, capture)


def _held(one: Mapping[str, Any], versions: Mapping[int, Mapping[str, Any]]) -> bool:
    """Whether work is no more than what a version of ours has."""
    document = one["document"] if isinstance(one["document"], dict) else json.loads(one["document"])
    capture = one.get("capture") or one.get("fingerprint")
    told = {"title": one["title"], "document": document, "capture": capture}
    return any(_alike(told, v) for v in versions.values())


def _held_by(row: Mapping[str, Any], versions: Sequence[Mapping[str, Any]]) -> bool:
    return any(_alike(v, row) for v in versions)


def _copy_uid(sheet: Sheet, person: Person) -> str:
    """Of a copy beside another's: the same sheet brought in twice is one copy."""
    told = packed([sheet["uid"], sheet["title"], sheet["document"], sheet["versions"], person.id])
    return hashlib.blake2b(told.encode(), digest_size=16).hexdigest()


STARTER = Path(__file__).parents[2] / "starter" / "shelf.zip"
"""References of every circuit, sound and faulty, made by the trainer: scripts/starter_shelf.py."""


def ask_starter(begin: Begin, folder: Path, person: Person, at: datetime) -> queue.Job:
    """Have the starter shelf that ships with the application taken in."""
    person.must_be("instructor")
    with STARTER.open("rb") as stream:
        path = uploads.arrived(begin, folder, person, stream)
    told = receive(begin, person, path, STARTER.name, at)
    with begin() as conn:
        return ask(conn, person, told["upload_id"], [c["uid"] for c in told["changes"]], at)


def ask(conn: Connection, person: Person, upload_id: int, uids: Sequence[str], at: datetime) -> queue.Job:
    """Have sheets of a bundle taken in by a job. Raises NotFound."""
    person.must_be("instructor")
    upload = queries.captures.upload_of(conn, upload_id=upload_id, owner_id=person.id)
    if upload is None:
        raise NotFound("that bundle is no longer here; bring it in again")
    payload = {"upload_id": upload_id, "owner_id": person.id, queue.FILE: upload["filename"], "uids": list(uids)}
    job_id = queue.add(conn, TAKE, f"{TAKE}:{upload_id}:{at.timestamp():.3f}", payload, person.id, at)
    return queue.one(conn, person, job_id)


def work_take_in(folder: Path, begin: Begin, payload: queue.Payload, at: datetime) -> queue.Outcome:
    """The job. Each sheet is taken whole in a transaction of its own: begun again, it goes on where it was."""
    with begin() as conn:
        owner = queries.people.by_id(conn, person_id=payload["owner_id"])
        upload = queries.captures.upload_of(conn, upload_id=payload["upload_id"], owner_id=payload["owner_id"])
    if owner is None or upload is None:
        raise NotFound("that bundle is no longer here; bring it in again")
    person = Person(owner["id"], owner["sign_in"], owner["name"], owner["role"], 0)
    path = folder / upload["stored_as"]
    counts = take(begin, person, path, payload["uids"], at)

    def keep(conn: Connection) -> dict[str, int]:
        queries.captures.drop_upload(conn, upload_id=payload["upload_id"])
        return counts

    return queue.Outcome(keep, lambda: path.unlink(missing_ok=True))


def take(begin: Begin, person: Person, path: Path, uids: Sequence[str] | None, at: datetime) -> dict[str, int]:
    """Take sheets of a bundle in, all where no uids are given; how many were new, same, versions, copy."""
    counts = dict.fromkeys(("new", "same", "versions", "copy"), 0)
    found = apart.bundle_of(path)
    for place, sheet in enumerate(found.sheets):
        queue.report(place / len(found.sheets))
        if uids is None or sheet["uid"] in uids:
            counts[_taken(begin, person, found, sheet, at)] += 1
    return counts


def _taken(begin: Begin, person: Person, found: apart.Bundle, sheet: Sheet, at: datetime) -> What:
    """Take one sheet in: captures and answers worked out with nothing held, then kept together."""
    if sheet["circuit"] not in CIRCUITS or sheet["state"] not in STATES:
        raise BadFile(f"{sheet['title']!r}: of a circuit or state that this version does not know", 1)
    with begin() as conn:
        change = _change(conn, person, sheet)
    if change["what"] == "same":
        return "same"
    code = sheet["circuit"]
    held = {name: found.capture(name, told) for name, told in sheet["captures"].items()}
    for name, capture in held.items():
        if store.fingerprint(capture) != name:
            raise BadFile(f"{sheet['title']!r}: the samples of a capture are not those that the sheet was made of", 1)
        missing = [lane for lane in capture.lanes if lane not in {x.name for x in circuit_of(code).lanes}]
        if missing:
            raise BadFile(f"{sheet['title']!r}: {circuit_of(code).title} has no lane {missing[0]!r}", 1)
    names = {sheet["capture"], *(v.get("capture") for v in sheet["versions"])}
    if not names <= set(held):
        raise BadFile(f"{sheet['title']!r}: a capture that it is made of is not told of", 1)
    document = references.checked(code, sheet["document"])
    answer = packed(references.answer_of(held[sheet["capture"]], code, document))
    versions = [
        {
            **v,
            "document": (checked := references.checked(code, v["document"])),
            "answer": packed(references.answer_of(held[v["capture"]], code, checked)),
            "published_at": _read(v["published_at"]),
        }
        for v in sheet["versions"]
        if v["version"] in change["versions"]
    ]
    with begin() as conn:
        if _change(conn, person, sheet) != change:
            # Somebody else was quicker: what is there now decides.
            return _taken(begin, person, found, sheet, at)
        stored = _Stored(conn, person, code, sheet, held, at)
        if change["what"] == "versions":
            row = queries.shelf.by_uid(conn, uid=sheet["uid"], person_id=person.id)
            reference_id = int(row["id"]) if row else 0
            queries.shelf.take_over(
                conn,
                reference_id=reference_id,
                title=sheet["title"][:160],
                document=packed(document),
                state=sheet["state"],
                at=at,
            )
        else:
            reference_id = queries.shelf.add_with_uid(
                conn,
                author_id=person.id,
                capture_id=stored.id_of(sheet["capture"]),
                circuit=code,
                title=sheet["title"][:160],
                document=packed(document),
                uid=sheet["uid"] if change["what"] == "new" else _copy_uid(sheet, person),
                state=sheet["state"],
                created_at=_read(sheet["created_at"]),
                at=at,
            )
            references.keep_answer(conn, reference_id, 1, answer)
        for v in versions:
            queries.shelf.publish(
                conn,
                reference_id=reference_id,
                version=v["version"],
                capture_id=stored.id_of(v["capture"]),
                title=str(v["title"])[:160],
                document=packed(v["document"]),
                answer=v["answer"],
                author_id=person.id,
                at=v["published_at"],
            )
        queries.shelf.list_anew(conn, reference_id=reference_id)
        why = f"from a bundle, where it is {sheet['author'][:100]}'s"
        trail.write(conn, person, "reference.add", ("reference", reference_id), sheet["title"][:160], at, why=why)
    return change["what"]


class _Stored:
    """Captures of a sheet in the database, each stored when it is first needed."""

    def __init__(
        self, conn: Connection, person: Person, code: str, sheet: Sheet, held: Mapping[str, Any], at: datetime
    ) -> None:
        self._conn, self._person, self._code, self._sheet, self._held, self._at = conn, person, code, sheet, held, at
        self._ids: dict[str, int] = {}

    def id_of(self, name: str) -> int:
        if name not in self._ids:
            told = self._sheet["captures"][name]
            origin = told["origin"] if told["origin"] in ("file", "trainer", "instrument") else "file"
            detail = dict(told["detail"]) if isinstance(told["detail"], dict) else {}
            if "steps" in detail:
                detail["steps"] = preparing.checked(detail["steps"])
            made = captures.Made(self._code, str(told["title"])[:255], origin, self._held[name], detail)
            self._ids[name] = captures.keep(self._conn, self._person, made, self._at)
            raw = told.get("raw", name)
            if raw != name and raw in self._sheet["captures"]:
                queries.captures.set_raw(self._conn, capture_id=self._ids[name], raw_id=self.id_of(raw))
        return self._ids[name]


def _told(at: datetime) -> str:
    return at.isoformat() + "Z"


def _read(text: Any) -> datetime:
    """An instant as bundles tell it. Raises BadFile."""
    try:
        at = datetime.fromisoformat(str(text))
        return at.astimezone(UTC).replace(tzinfo=None) if at.tzinfo else at
    except (ValueError, OverflowError):
        raise BadFile(f"{str(text)[:40]!r} is no date and time", 1) from None
