"""How the installation is doing: version, room, queue, backups, and which pages are slow; for the administrator."""

from __future__ import annotations

import json
import shutil
import statistics
from collections import defaultdict
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from importlib.metadata import version
from pathlib import Path
from typing import Any, TypedDict

from tracebench.core import ENGINE_VERSION
from tracebench.store.backup import FAILED
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.people.person import Person
from tracebench.usecases.school.disk import RESERVE_BYTES

LAST = timedelta(days=1)
READ_BYTES = 4_000_000
"""Of each file of requests, from its end: some twenty thousand requests."""

SLOWEST = 12
BACKUP_LATE = timedelta(days=2)


class Route(TypedDict):
    """A page by how long it took: times in milliseconds."""

    route: str
    count: int
    median_ms: float
    p95_ms: float
    longest_ms: float
    errors: int


class Crash(TypedDict):
    at: str
    id: str
    error: str
    place: str


class Backup(TypedDict):
    name: str
    at: datetime
    bytes: int


class Health(TypedDict):
    version: str
    engine: str
    database: str
    schema: str
    disk_free_bytes: int
    disk_bytes: int
    database_bytes: int
    uploads_bytes: int
    jobs_waiting: int
    jobs_running: int
    jobs_failed: int
    oldest_job_at: datetime | None
    signed_in: int
    last_backup: Backup | None
    slow: list[Route]
    crashes: list[Crash]
    warnings: list[str]


def state(conn: Connection, person: Person, folder: Path, at: datetime) -> Health:
    """How the installation in `folder` is doing, with what an administrator should do about it."""
    person.must_be("administrator")
    row = queries.health.state(conn, since=at - LAST, used_since=at - timedelta(hours=14))
    assert row is not None
    disk = shutil.disk_usage(folder)
    uploads = folder / "uploads"
    lines = list(_lines(folder / "logs", at - LAST))
    last = _last_backup(folder / "backups")
    return {
        "version": version("tracebench"),
        "engine": ENGINE_VERSION,
        "database": str(row["server"]),
        "schema": str(row["migration"]),
        "disk_free_bytes": disk.free,
        "disk_bytes": disk.total,
        "database_bytes": int(row["bytes"]),
        "uploads_bytes": sum(p.stat().st_size for p in uploads.iterdir()) if uploads.is_dir() else 0,
        "jobs_waiting": int(row["waiting"]),
        "jobs_running": int(row["running"]),
        "jobs_failed": int(row["failed"]),
        "oldest_job_at": row["oldest"],
        "signed_in": int(row["signed_in"]),
        "last_backup": last,
        "slow": _slow(lines),
        "crashes": _crashes(lines),
        "warnings": [*_warnings(disk.free, row, last, at), *_failed_backup(folder / "backups")],
    }


def _warnings(free: int, row: dict[str, Any], last: Backup | None, at: datetime) -> list[str]:
    out = []
    if free < 4 * RESERVE_BYTES:
        out.append("the disk is nearly full: make room, or nothing can be brought in")
    if last is None or at - last["at"] > BACKUP_LATE:
        out.append("there is no backup of the last two days: start with ./start, or run tracebench backup")
    if row["failed"]:
        out.append("work in the background failed in the last day: look under Background work")
    if row["oldest"] is not None and at - row["oldest"] > timedelta(minutes=10):
        out.append("work has waited for ten minutes: is a worker running, or is one too few?")
    return out


def _failed_backup(folder: Path) -> list[str]:
    """That the last backup which was tried failed, while it is so."""
    try:
        at = datetime.fromisoformat(json.loads((folder / FAILED).read_text())["at"])
    except (OSError, ValueError, KeyError):
        return []
    return [f"the backup of {at:%d %B %H:%M} UTC failed; it is tried again every 15 minutes: is there room?"]


def _last_backup(folder: Path) -> Backup | None:
    found = sorted(folder.glob("*.zip"), key=lambda p: p.stat().st_mtime) if folder.is_dir() else []
    if not found:
        return None
    told = found[-1].stat()
    at = datetime.fromtimestamp(told.st_mtime, UTC).replace(tzinfo=None)
    return {"name": found[-1].name, "at": at, "bytes": told.st_size}


def _lines(folder: Path, since: datetime) -> Iterator[dict[str, Any]]:
    """What was written of requests and crashes since an instant, of every web process."""
    for path in sorted(folder.glob("requests-*.jsonl*")) if folder.is_dir() else ():
        with path.open("rb") as stream:
            stream.seek(max(0, path.stat().st_size - READ_BYTES))
            for line in stream:
                try:
                    told = json.loads(line)
                except ValueError:
                    # The first may be cut, and the last may still be written.
                    continue
                if told["at"] >= since.isoformat():
                    yield told


def _slow(lines: list[dict[str, Any]]) -> list[Route]:
    """The routes whose 95th percentile is longest."""
    took: dict[str, list[float]] = defaultdict(list)
    errors: dict[str, int] = defaultdict(int)
    for line in lines:
        if line["kind"] == "request":
            took[line["route"]].append(line["ms"])
            errors[line["route"]] += line["status"] >= 500
    routes: list[Route] = [
        {
            "route": route,
            "count": len(ms),
            "median_ms": statistics.median(ms),
            "p95_ms": sorted(ms)[min(len(ms) - 1, int(0.95 * len(ms)))],
            "longest_ms": max(ms),
            "errors": errors[route],
        }
        for route, ms in took.items()
    ]
    return sorted(routes, key=lambda r: -r["p95_ms"])[:SLOWEST]


def _crashes(lines: list[dict[str, Any]]) -> list[Crash]:
    """The last crashes, newest first, with the place nearest to the error."""
    found = [line for line in lines if line["kind"] == "crash"]
    return [
        {"at": c["at"], "id": c["id"], "error": c["error"], "place": c["at_frames"][-1] if c["at_frames"] else ""}
        for c in sorted(found, key=lambda c: str(c["at"]), reverse=True)[:SLOWEST]
    ]
