"""Files on their way to a capture: kept until they are mapped, read at once or by a job."""

from __future__ import annotations

import os
import secrets
import time
import zlib
from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from pathlib import Path
from typing import IO, Any

import numpy as np

from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadOption
from tracebench.formats import apart
from tracebench.formats.mapping import Mapped, guessed_mapping, to_capture
from tracebench.formats.table import Layout
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.turns import WORKER_PATIENCE_S, turn
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import captures, profiles
from tracebench.usecases.shelf.values import Preview, Upload

PART_BEGUN, PART_READ = 0.05, 0.55
"""Parts of an import that are done when reading begins, and when all that is left is to keep what was read."""

KEEP_UPLOADS = timedelta(days=1)


def receive(
    begin: Begin, folder: Path, person: Person, filename: str, stream: IO[bytes], circuit: str, at: datetime
) -> Upload:
    """Keep an uploaded file until it is mapped; answers what was understood. A file not understood is not kept.

    Raises NoRoom. Nothing is held while it arrives and is looked at.
    """
    kind = circuit_of(circuit)
    path = arrived(begin, folder, person, stream)
    try:
        with turn(folder, person.id):
            layout = apart.understand(path)
        with begin() as conn:
            upload_id = add_upload(conn, person, filename, path, at)
            told = profiles.of(conn, person.id, layout, circuit)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return {"upload_id": upload_id, "filename": filename, **_preview(layout, kind, told)}


def arrived(begin: Begin, folder: Path, person: Person, stream: IO[bytes]) -> Path:
    """A stream as a file of nobody's reach but ours. Raises NoRoom; then no half of it is left."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    with begin() as conn:
        waiting = queries.captures.waiting_of(conn, owner_id=person.id)
    disk.check(folder, int(waiting["files"]) if waiting else 0, int(waiting["bytes"]) if waiting else 0)
    path = folder / secrets.token_hex(16)
    try:
        with own_file(path) as kept:
            while block := stream.read(1 << 20):
                kept.write(block)
                disk.check_reserve(folder)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


def own_file(path: Path) -> IO[bytes]:
    """A new file that only we can read."""
    return os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb")


def add_upload(conn: Connection, person: Person, filename: str, path: Path, at: datetime) -> int:
    """The row of a file that waits; its id."""
    upload_id: int = queries.captures.add_upload(
        conn,
        owner_id=person.id,
        filename=filename[:255],
        stored_as=path.name,
        bytes=path.stat().st_size,
        at=at,
    )
    return upload_id


def sweep(begin: Begin, folder: Path, at: datetime) -> int:
    """Forget uploads that nobody came back to, and files without a row or rows without a file; how many files went.

    Rows go first, and a file only after that is sure; one that has just arrived has no row yet and is left alone.
    """
    with begin() as conn:
        for old in list(queries.captures.uploads_before(conn, before=at - KEEP_UPLOADS)):
            queries.captures.drop_upload(conn, upload_id=old["id"])
        known = set()
        for row in queries.captures.every_upload(conn):
            if (folder / row["stored_as"]).exists():
                known.add(row["stored_as"])
            else:
                queries.captures.drop_upload(conn, upload_id=row["id"])
    count = 0
    for path in folder.iterdir() if folder.is_dir() else ():
        if path.name in known:
            continue
        if time.time() - path.stat().st_mtime > KEEP_UPLOADS.total_seconds():
            path.unlink(missing_ok=True)
            count += 1
    return count


def _preview(layout: Layout, kind: Circuit, told: profiles.Profile | None) -> Preview:
    mapping = guessed_mapping(layout, kind) if told is None else told.mapping
    return {
        "remembered": told is not None,
        "layout": {
            "format": layout.format,
            "delimiter": {"\t": "tab", " ": "blank"}.get(layout.delimiter, layout.delimiter),
            "decimal": layout.decimal,
            "encoding": layout.encoding,
            "data_line": layout.data_line,
            "header": list(layout.header),
            "columns": [
                {
                    "position": c.position,
                    "cell": c.cell,
                    "name": c.name,
                    "unit": c.unit,
                    "first_values": list(c.first_values),
                    "is_time": c.position == layout.time_position,
                }
                for c in layout.columns
            ],
            "time_known": layout.time_position is not None or layout.interval_s is not None,
            "interval_s": layout.interval_s or (told.interval_s if told else None),
        },
        "mapping": [{"position": m.position, "lane": m.lane, "factor": m.factor} for m in mapping],
    }


IMPORT = "import"
"""The kind of job that reads a large file and measures nothing: samples, codes, pyramid."""


AT_ONCE_BYTES = 16_000_000
"""Files up to this are read in the request, in less than half a second; larger ones by a worker."""


def import_upload(
    begin: Begin,
    folder: Path,
    person: Person,
    upload_id: int,
    circuit: str,
    mapping: Sequence[Mapping[str, Any]],
    interval_s: float | None,
    at: datetime,
) -> int | queue.Job:
    """Read an uploaded file with the lanes chosen and store it as a capture; nothing is stored on any error.

    The file is read while no transaction is open. The capture's id, or the job that reads a large file; what is wrong
    with the lanes chosen is said at once either way.
    """
    with begin() as conn:
        upload = queries.captures.upload_of(conn, upload_id=upload_id, owner_id=person.id)
    if upload is None:
        raise NotFound("that file is no longer here; choose it again")
    path, kind = folder / upload["stored_as"], circuit_of(circuit)
    if path.stat().st_size > AT_ONCE_BYTES:
        with turn(folder, person.id):
            lanes_chosen(apart.understand(path), kind, mapping, interval_s)
        asked = {"circuit": circuit, "mapping": list(mapping), "interval_s": interval_s}
        payload = {"upload_id": upload_id, "owner_id": person.id, queue.FILE: upload["filename"], **asked}
        # Asked once more in the same way it is the same job; with other lanes it is another.
        about = f"{IMPORT}:{upload_id}:{zlib.crc32(repr(sorted(asked.items())).encode()):08x}"
        with begin() as conn:
            return queue.asked(conn, person, IMPORT, about, payload, at)
    with turn(folder, person.id):
        made = read_file(path, upload["filename"], kind, mapping, interval_s)
    with begin() as conn:
        capture_id = kept_of_upload(conn, person.id, upload_id, made, at)
    # Only when that is sure: a file without a row is swept away later, a row without its file would be a loss.
    path.unlink(missing_ok=True)
    return capture_id


def kept_of_upload(
    conn: Connection, owner_id: int, upload_id: int, made: captures.Made, at: datetime, drop: bool = True
) -> int:
    """Store what was read of a waiting file, and remember how it was mapped. Raises NotFound where it is gone.

    Its row is dropped, unless something else still hangs on that.
    """
    if queries.captures.hold_upload(conn, upload_id=upload_id, owner_id=owner_id) is None:
        raise NotFound("that file has been imported already; choose it again to import it once more")
    captures.check_share(conn, owner_id)
    capture_id = store.add(conn, owner_id, made.circuit, made.title, made.origin, made.capture, made.detail, at)
    if made.layout is not None:
        profiles.keep(conn, owner_id, made.layout, made.circuit, made.detail["mapping"], made.detail["interval_s"], at)
    if drop:
        queries.captures.drop_upload(conn, upload_id=upload_id)
    return capture_id


def work_import_out(folder: Path, begin: Begin, payload: queue.Payload, at: datetime) -> queue.Outcome:
    """The job of a large file. Raises what is wrong with the file, in words for whoever sent it."""
    upload_id, owner_id = payload["upload_id"], payload["owner_id"]
    with begin() as conn:
        upload = queries.captures.upload_of(conn, upload_id=upload_id, owner_id=owner_id)
    if upload is None:
        raise NotFound("that file is no longer here; choose it again")
    path = folder / upload["stored_as"]
    queue.report(PART_BEGUN)
    with turn(folder, owner_id, WORKER_PATIENCE_S):
        made = read_file(
            path, upload["filename"], circuit_of(payload["circuit"]), payload["mapping"], payload["interval_s"]
        )
    queue.report(PART_READ)

    def keep(conn: Connection) -> dict[str, int]:
        return {"capture_id": kept_of_upload(conn, owner_id, upload_id, made, at)}

    return queue.Outcome(keep, lambda: path.unlink(missing_ok=True))


def lanes_chosen(
    layout: Layout, kind: Circuit, mapping: Sequence[Mapping[str, Any]], interval_s: float | None
) -> list[Mapped]:
    """The lanes chosen, if a file of this layout can be read with them. Raises BadOption."""
    lanes = [_mapped(m, layout, kind) for m in mapping]
    if len({m.lane for m in lanes}) != len(lanes):
        raise BadOption("two columns are mapped to the same lane; choose one")
    for lane in kind.lanes:
        if lane.required and not any(m.lane == lane.name for m in lanes):
            raise BadOption(f"map a column to the lane {lane.title!r}; {kind.title.lower()} needs it")
    if interval_s is not None and not 0 < interval_s <= 100:
        raise BadOption("sampling interval: a number of seconds between 0 and 100")
    return lanes


def read_file(
    path: Path, filename: str, kind: Circuit, mapping: Sequence[Mapping[str, Any]], interval_s: float | None
) -> captures.Made:
    """Read a file with the lanes chosen. Raises BadFile, BadOption."""
    layout, table = apart.both(path, [m["position"] for m in mapping])
    lanes = lanes_chosen(layout, kind, mapping, interval_s)
    if table is None:
        raise BadOption("map a column to each lane that is wanted")
    capture = to_capture(layout, table, lanes, kind, interval_s)
    detail = {"filename": filename, "mapping": list(mapping), "interval_s": interval_s}
    return captures.Made(kind.code, filename, "file", capture, detail, layout)


def _mapped(row: Mapping[str, Any], layout: Layout, kind: Circuit) -> Mapped:
    if not 1 <= row["position"] <= len(layout.columns):
        raise BadOption(f"the file has no column {row['position']}")
    if row["lane"] not in {lane.name for lane in kind.lanes}:
        raise BadOption(f"{kind.title} has no lane {row['lane']!r}")
    factor = float(row.get("factor", 1.0))
    if not np.isfinite(factor) or factor == 0:
        raise BadOption(f"the factor of lane {row['lane']} must be a number other than 0")
    return Mapped(row["position"], row["lane"], factor)
