"""Many files at once: each is looked at by a job, said what it most likely is, and made a draft when confirmed.

A file that cannot be read stands there with the reason, and does not hold up the others.
"""

from __future__ import annotations

import errno
import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import IO, Any, TypedDict

import numpy as np

from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits import measure
from tracebench.core.errors import BadFile
from tracebench.core.miniature import as_text, miniature
from tracebench.core.proposal.draft import tags_of, title_of
from tracebench.core.proposal.propose import Column, Proposal, propose
from tracebench.core.robust.series import bridged, runs
from tracebench.core.samples import Samples
from tracebench.formats import apart, archive, bundle
from tracebench.formats.mapping import Mapped, guessed_mapping, to_capture
from tracebench.formats.table import Layout, Table
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.turns import WORKER_PATIENCE_S, turn
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import exchange, profiles, references, uploads
from tracebench.usecases.shelf.values import InboxItem, Proposed

LOOK, DRAFT = "look", "draft"
"""Kinds of job: say what a file holds; make a draft reference of it."""

MOST_COLUMNS = 12
"""So many columns of a file are looked at; scopes of more channels name them."""

MOST_PROPOSED = 5

State = str
"""looking, ready, refused, making, made."""


class Received(TypedDict):
    """The items of a file or archive, or what a bundle would change, which waits."""

    ids: list[int]
    bundle: exchange.BundleReceived | None


def receive(begin: Begin, folder: Path, person: Person, filename: str, stream: IO[bytes], at: datetime) -> Received:
    """Keep a file, or each file of a zip, and have it looked at; the ids of the items.

    Of a bundle of references it is told instead what each would change, and it waits. Raises NoRoom, BadFile.
    """
    person.must_be("instructor")
    path = uploads.arrived(begin, folder, person, stream)
    with path.open("rb") as head:
        packed_up = archive.looks_like(head.read(4))
    if not packed_up:
        return {"ids": [_added(begin, person, filename, path, at)], "bundle": None}
    kept = False
    try:
        with turn(folder, person.id):
            kept = bundle.is_bundle(apart.names(path))
            if kept:
                return {"ids": [], "bundle": exchange.receive(begin, person, path, filename, at)}
        return {"ids": _unpacked(begin, folder, person, path, at), "bundle": None}
    finally:
        if not kept:
            path.unlink(missing_ok=True)


def _unpacked(begin: Begin, folder: Path, person: Person, path: Path, at: datetime) -> list[int]:
    """Each file of an archive as an item; none of them where the archive breaks off."""
    items: list[int] = []
    try:
        with turn(folder, person.id):
            found = apart.unpack(path, folder, path.name, disk.RESERVE_BYTES, archive.MOST_BYTES)
    except OSError as full:
        if full.errno != errno.ENOSPC:
            raise
        raise disk.nearly_full() from None
    if not found:
        raise BadFile("the archive holds no file", 1)
    waiting = [(folder / stored_as, name) for stored_as, name in found]
    try:
        while waiting:
            items.append(_added(begin, person, waiting[0][1], waiting[0][0], at))
            waiting.pop(0)
    except BaseException:
        for own, _ in waiting:
            own.unlink(missing_ok=True)
        give_up(begin, folder, person, items)
        raise
    return items


def _added(begin: Begin, person: Person, filename: str, path: Path, at: datetime) -> int:
    try:
        with begin() as conn:
            upload_id = uploads.add_upload(conn, person, filename, path, at)
            item_id: int = queries.inbox.add(
                conn,
                owner_id=person.id,
                upload_id=upload_id,
                filename=filename[:255],
                bytes=path.stat().st_size,
                problem=None,
                at=at,
            )
            _ask(conn, person, item_id, LOOK, {queue.FILE: filename}, at)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return item_id


def _ask(conn: Connection, person: Person, item_id: int, kind: str, asked: Mapping[str, Any], at: datetime) -> None:
    """The job of an item; a new one each time, so that a later wish is not taken for an earlier."""
    about = f"{kind}:{item_id}:{at.timestamp():.3f}"
    payload = {"item_id": item_id, "owner_id": person.id, **asked}
    job_id = queue.add(conn, kind, about, payload, person.id, at)
    queries.inbox.set_job(conn, item_id=item_id, job_id=job_id)


def listed(conn: Connection, person: Person) -> list[InboxItem]:
    """A person's files, in the order they were sent, with what was found in each."""
    person.must_be("instructor")
    return [_item(row) for row in queries.inbox.of_owner(conn, owner_id=person.id)]


def _item(row: Mapping[str, Any]) -> InboxItem:
    looked = json.loads(row["looked"]) if row["looked"] else None
    running = row["job_state"] in ("waiting", "running")
    if row["reference_id"] is not None:
        state = "made"
    elif running:
        state = "making" if row["job_kind"] == DRAFT else "looking"
    elif row["problem"] is not None or row["job_state"] == "cancelled":
        state = "refused"
    else:
        state = "ready"
    return {
        "id": row["id"],
        "filename": row["filename"],
        "bytes": row["bytes"],
        "state": state,
        "problem": row["problem"] or ("stopped" if row["job_state"] == "cancelled" else None),
        "reference_id": row["reference_id"],
        "looked": looked,
    }


def choose(
    conn: Connection,
    person: Person,
    item_id: int,
    circuit: str,
    mapping: Sequence[Mapping[str, Any]] | None,
    interval_s: float | None,
    at: datetime,
) -> None:
    """Take it for another circuit, or its columns for other lanes; it is looked at again. Raises NotFound, Conflict."""
    circuit_of(circuit)
    row = _open_item(conn, person, item_id)
    if _being_made(row):
        raise Conflict(f"{row['filename']}: a draft is being made of this file; change it there")
    asked = {
        queue.FILE: row["filename"],
        "circuit": circuit,
        "mapping": None if mapping is None else list(mapping),
        "interval_s": interval_s,
    }
    _ask(conn, person, item_id, LOOK, asked, at)


def accept(conn: Connection, person: Person, item_ids: Sequence[int], at: datetime) -> None:
    """Make drafts of files as they were proposed, once however often it is asked.

    Raises NotFound, Conflict that names the file.
    """
    for item_id in dict.fromkeys(item_ids):
        row = _open_item(conn, person, item_id)
        if _being_made(row):
            continue
        if row["looked"] is None:
            raise Conflict(f"{row['filename']}: it is not known yet what this file holds")
        _ask(conn, person, item_id, DRAFT, {queue.FILE: row["filename"]}, at)


def _open_item(conn: Connection, person: Person, item_id: int) -> dict[str, Any]:
    person.must_be("instructor")
    row = queries.inbox.hold(conn, item_id=item_id, owner_id=person.id)
    if row is None:
        raise NotFound("that file is no longer here; bring it in again")
    if row["reference_id"] is not None:
        raise Conflict(f"{row['filename']}: a draft was made of this file already")
    return dict(row)


def _being_made(row: Mapping[str, Any]) -> bool:
    return row["job_kind"] == DRAFT and row["job_state"] in ("waiting", "running")


def give_up(begin: Begin, folder: Path, person: Person, item_ids: Sequence[int]) -> None:
    """Take files off the list: those that wait are forgotten, drafts that were made stay on the shelf."""
    person.must_be("instructor")
    gone = []
    with begin() as conn:
        for item_id in item_ids:
            row = queries.inbox.by_id(conn, item_id=item_id, owner_id=person.id)
            if row is not None:
                queries.inbox.drop_item(conn, item_id=item_id, owner_id=person.id)
                if row["upload_id"] is not None:
                    queries.captures.drop_upload(conn, upload_id=row["upload_id"])
                    gone.append(row["stored_as"])
    for name in gone:
        (folder / name).unlink(missing_ok=True)


def work_look_out(folder: Path, begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job that says what a file holds. Raises what is wrong with it, in words for whoever sent it."""
    person, row = _of_job(begin, payload)
    path = folder / row["stored_as"]
    with turn(folder, person.id, WORKER_PATIENCE_S):
        layout, table, columns = _read(path)
    interval_s = payload.get("interval_s") or layout.interval_s or _step_of(table)
    if interval_s is None:
        # Nothing but the order of the rows is known: figures in samples still tell levels and shapes.
        raise BadFile("the file tells neither times nor a sampling interval; say how far apart its samples are", 1)
    proposals = propose(columns, interval_s, row["filename"].rsplit(".", 1)[0])
    code = payload.get("circuit") or proposals[0].circuit
    with begin() as conn:
        profile = profiles.of(conn, person.id, layout, code)
    mapping = _mapping(layout, code, payload.get("mapping"), profile, proposals)
    told_s = None if layout.time_position is not None or layout.interval_s is not None else interval_s
    capture = to_capture(layout, table, mapping, circuit_of(code), told_s)
    answer = measure(capture, code)
    circuit = circuit_of(code)
    looked = {
        "format": layout.format,
        "samples": capture.samples,
        "rate_hz": capture.rate_hz,
        "duration_s": capture.duration_s,
        "columns": [{"position": c.position, "name": c.name, "unit": c.unit} for c in layout.value_columns],
        "proposals": [_told(p) for p in proposals[:MOST_PROPOSED]],
        "circuit": code,
        "mapping": [{"position": m.position, "lane": m.lane, "factor": m.factor} for m in mapping],
        "remembered": profile is not None and payload.get("mapping") is None,
        "interval_s": told_s,
        "missing_lanes": [x.title for x in circuit.lanes if x.required and x.name not in capture.lanes],
        "call": answer.call,
        "title": title_of(circuit, answer),
        "tags": tags_of(circuit, answer),
        "phases": [p.as_json() for p in answer.phases],
        "readings": sum(r.cycle is None and r.cylinder is None for r in answer.readings),
        "picture": as_text(miniature(capture.lanes[circuit.main_lane(capture.lanes)].samples)),
    }
    found = store.fingerprint(capture)

    def keep(conn: Connection) -> None:
        rows = references.with_samples(conn, person, found)
        queries.inbox.keep_look(conn, item_id=row["id"], looked=packed({**looked, "same": rows}))

    return keep


def _read(path: Path) -> tuple[Layout, Table, list[Column]]:
    """A file's layout and first columns, missing cells bridged for looking at. Raises BadFile."""
    layout, table = apart.both(path, None, MOST_COLUMNS)
    if table is None:
        raise BadFile("the file has a time column and nothing beside it", layout.data_line)
    wanted = layout.value_columns[:MOST_COLUMNS]
    return layout, table, [Column(c.name, c.unit, _whole(table.values[c.position])) for c in wanted]


def _whole(values: Samples) -> Samples:
    """Missing cells bridged by straight lines; readers refuse a column that holds no number at all."""
    return bridged(values, runs(~np.isfinite(values)))


def _step_of(table: Table) -> float | None:
    """The usual step of a file's times, None where there are none that go on."""
    if table.times_s is None or table.times_s.size < 2:
        return None
    step = float(np.nanmean(np.diff(table.times_s)))
    return step if np.isfinite(step) and step > 0 else None


def _mapping(
    layout: Layout,
    code: str,
    wished: Sequence[Mapping[str, Any]] | None,
    profile: profiles.Profile | None,
    proposals: Sequence[Proposal],
) -> list[Mapped]:
    """Lanes as they were wished, else as the last file of this kind was mapped, else by names, units and what moves."""
    circuit = circuit_of(code)
    if wished is not None:
        return uploads.lanes_chosen(layout, circuit, wished, None)
    if profile is not None:
        return list(profile.mapping)
    guessed = guessed_mapping(layout, circuit)
    known = next((p for p in proposals if p.circuit == code), None)
    if known is None or not guessed:
        return guessed
    # The column that the circuit is known by is the lane it is known by, unless names say otherwise.
    position = layout.value_columns[known.column].position
    by_name = {m.position: m.lane for m in guessed}
    if by_name.get(position) == known.lane or any(m.lane == known.lane and _named(layout, m) for m in guessed):
        return guessed
    swapped = {m.lane: m for m in guessed}
    before = swapped.get(known.lane)
    freed = by_name.get(position)
    factor = next((m.factor for m in guessed if m.position == position), 1.0)
    if before is not None and freed is not None:
        swapped[freed] = replace(before, lane=freed)
    elif freed is not None:
        del swapped[freed]
    swapped[known.lane] = Mapped(position, known.lane, factor)
    order = [lane.name for lane in circuit.lanes]
    return sorted(swapped.values(), key=lambda m: order.index(m.lane))


def _named(layout: Layout, mapped: Mapped) -> bool:
    """Whether a column bears the name of its lane."""
    name = layout.columns[mapped.position - 1].name.lower().replace("_", " ")
    return mapped.lane.replace("_", " ") in name


def _told(proposal: Proposal) -> Proposed:
    return {"circuit": proposal.circuit, "share": round(proposal.share, 4), "reasons": list(proposal.reasons)}


def work_draft_out(folder: Path, begin: Begin, payload: queue.Payload, at: datetime) -> queue.Outcome:
    """The job that makes a draft reference of a file as it was proposed."""
    person, row = _of_job(begin, payload)
    looked, path = json.loads(row["looked"]), folder / row["stored_as"]
    circuit = circuit_of(looked["circuit"])
    with turn(folder, person.id, WORKER_PATIENCE_S):
        made = uploads.read_file(path, row["filename"], circuit, looked["mapping"], looked["interval_s"])
    document = references.checked(
        circuit.code,
        {
            "tags": looked["tags"],
            "provenance": {"taken_by": person.name},
            "notes": f"From the file {row['filename']}.",
        },
    )
    answer = packed(references.as_sent(measure(made.capture, circuit.code)))

    def keep(conn: Connection) -> dict[str, int]:
        capture_id = uploads.kept_of_upload(conn, person.id, row["upload_id"], made, at, drop=False)
        reference_id = references.add_draft(
            conn, person, capture_id, circuit.code, looked["title"][:160], document, answer, at, "from a file of many"
        )
        queries.inbox.keep_reference(conn, item_id=row["id"], reference_id=reference_id)
        queries.captures.drop_upload(conn, upload_id=row["upload_id"])
        return {"reference_id": reference_id}

    return queue.Outcome(keep, lambda: path.unlink(missing_ok=True))


def _of_job(begin: Begin, payload: queue.Payload) -> tuple[Person, dict[str, Any]]:
    """Whose item a job is about, and the item. Raises NotFound where it was given up."""
    with begin() as conn:
        owner = queries.people.by_id(conn, person_id=payload["owner_id"])
        row = queries.inbox.by_id(conn, item_id=payload["item_id"], owner_id=payload["owner_id"])
    if owner is None or row is None or row["stored_as"] is None:
        raise NotFound("that file is no longer here; bring it in again")
    return Person(owner["id"], owner["sign_in"], owner["name"], owner["role"], 0), dict(row)
