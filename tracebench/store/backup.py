"""A backup: one zip of open parts, read in one snapshot of the database while it is in use, and back again.

`tables/<name>.ndjson` holds a table, its columns in the first line and a row in each further one; bytes are
`{"b": base64}` and instants `{"t": ISO 8601}`. `uploads/` holds the files that wait to be imported. `manifest.json`,
the last, has the SHA-256 and rows of each part, and the migrations that the tables stand at.
"""

from __future__ import annotations

import base64
import hashlib
import json
import os
import zipfile
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, TypedDict

import pymysql
from pymysql.cursors import Cursor, SSCursor

from tracebench.core.errors import TraceBenchError
from tracebench.settings import Settings
from tracebench.store.migrate import applied, migrate

FORMAT, VERSION = "tracebench-backup", 1
MANIFEST = "manifest.json"
BATCH_BYTES = 8 * 1024 * 1024
OWN_TABLES = ("_yoyo", "yoyo_", "migration_progress")
"""Tables of the migrations' own library: made again by migrating."""


BEFORE = "before-upgrade-"
FAILED = "failed.json"
"""In the folder of backups, while the last one that was tried did not come about."""


def new_before_upgrade(folder: Path, at: datetime) -> Path:
    """Where the state before an upgrade that begins now is kept."""
    return folder / f"{BEFORE}{at:%Y%m%d-%H%M%S}.zip"


def before_upgrade(folder: Path) -> Path | None:
    """The state before the last upgrade, None where there was none."""
    return max(folder.glob(f"{BEFORE}*.zip"), default=None)


class BadBackup(TraceBenchError):
    """A backup that cannot be made or used; the message says what is wrong and what to do."""


class Part(TypedDict):
    sha256: str
    rows: int


class Manifest(TypedDict):
    format: str
    version: int
    taken_at: str
    migrations: list[str]
    parts: dict[str, Part]


def write(settings: Settings, path: Path, at: datetime) -> Manifest:
    """Write a backup of everything to `path`, which is there whole or not at all. Raises BadBackup."""
    half = path.with_name(path.name + ".part")
    parts: dict[str, Part] = {}
    try:
        descriptor = os.open(half, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with (
            os.fdopen(descriptor, "wb") as out,
            zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as pack,
        ):
            connection = _connected(settings)
            with connection, connection.cursor(Cursor) as cursor:
                cursor.execute("SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ")
                cursor.execute("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY")
                for table in _tables(cursor):
                    _put(pack, parts, f"tables/{table}.ndjson", _lines(connection, table))
                cursor.execute("SELECT stored_as FROM upload")
                for (name,) in cursor.fetchall():
                    file = settings.uploads / name
                    # One that was imported since the snapshot is a capture by now, and its row is history.
                    if file.is_file():
                        _put(pack, parts, f"uploads/{name}", iter([file.read_bytes()]))
            manifest: Manifest = {
                "format": FORMAT,
                "version": VERSION,
                "taken_at": at.isoformat(),
                "migrations": applied(settings),
                "parts": parts,
            }
            pack.writestr(MANIFEST, json.dumps(manifest, indent=1))
        with half.open("rb") as kept:
            os.fsync(kept.fileno())
        half.rename(path)
    except (pymysql.err.OperationalError, pymysql.err.InterfaceError):
        half.unlink(missing_ok=True)
        raise BadBackup("the database went away while it was read; no backup was written: try again") from None
    except OSError as problem:
        half.unlink(missing_ok=True)
        raise BadBackup(f"the backup cannot be written: {problem.strerror}; choose another place") from None
    except BaseException:
        half.unlink(missing_ok=True)
        raise
    return manifest


def _put(pack: zipfile.ZipFile, parts: dict[str, Part], name: str, lines: Iterator[bytes]) -> None:
    digest, rows = hashlib.sha256(), 0
    with pack.open(name, "w", force_zip64=True) as out:
        for line in lines:
            digest.update(line)
            out.write(line)
            rows += 1
    # The first line of a table is its columns.
    parts[name] = {"sha256": digest.hexdigest(), "rows": rows - 1 if name.startswith("tables/") else rows}


def _lines(connection: Any, table: str) -> Iterator[bytes]:
    with connection.cursor(SSCursor) as cursor:
        cursor.execute(f"SELECT * FROM `{table}`")  # noqa: S608 - a name that the server itself gave
        yield json.dumps([column[0] for column in cursor.description]).encode() + b"\n"
        for row in cursor:
            yield json.dumps([_told(value) for value in row], ensure_ascii=False).encode() + b"\n"


def _told(value: Any) -> Any:
    if isinstance(value, bytes):
        return {"b": base64.b64encode(value).decode()}
    if isinstance(value, datetime):
        return {"t": value.isoformat()}
    return value


def _value(told: Any) -> Any:
    if isinstance(told, dict):
        return base64.b64decode(told["b"]) if "b" in told else datetime.fromisoformat(told["t"])
    return told


def checked(path: Path) -> Manifest:
    """The manifest of a backup whose parts are all as they were written. Raises BadBackup."""
    try:
        with zipfile.ZipFile(path) as pack:
            manifest: Manifest = json.loads(pack.read(MANIFEST))
            if manifest["format"] != FORMAT or manifest["version"] > VERSION:
                raise BadBackup("this is no backup that this version can read; use the version that wrote it")
            for name, part in manifest["parts"].items():
                digest = hashlib.sha256()
                with pack.open(name) as stream:
                    while block := stream.read(1 << 20):
                        digest.update(block)
                if digest.hexdigest() != part["sha256"]:
                    raise BadBackup(f"{name} in the backup is damaged; use another backup")
    except FileNotFoundError:
        raise BadBackup(f"there is no file {path.name}; check the name") from None
    except (OSError, KeyError, ValueError, zipfile.BadZipFile) as problem:
        raise BadBackup(f"{path.name} is no whole backup ({problem}); use another one") from None
    return manifest


def restore(settings: Settings, path: Path, up_to_date: bool = True) -> Manifest:
    """Put a backup into an empty database, then bring it up to date. Raises BadBackup; on an error nothing is left.

    Left as it was written, it is for the version that wrote it.
    """
    manifest = checked(path)
    migrate(settings, only=manifest["migrations"])
    connection = _connected(settings)
    with connection, connection.cursor(Cursor) as cursor, zipfile.ZipFile(path) as pack:
        tables = _tables(cursor)
        for table in tables:
            cursor.execute(f"SELECT 1 FROM `{table}` LIMIT 1")  # noqa: S608
            if cursor.fetchone() is not None:
                raise BadBackup("there are people or captures in this database already; restore into an empty folder")
        cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
        for name, part in manifest["parts"].items():
            if name.startswith("tables/"):
                kept = _load(cursor, pack, name, tables)
                if kept != part["rows"]:
                    raise BadBackup(f"{name}: {kept} of {part['rows']} rows were kept; nothing was restored")
        settings.uploads.mkdir(parents=True, exist_ok=True, mode=0o700)
        for name in manifest["parts"]:
            if name.startswith("uploads/"):
                place = settings.uploads / Path(name).name
                with os.fdopen(os.open(place, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
                    out.write(pack.read(name))
        connection.commit()
    if up_to_date:
        migrate(settings)
    return manifest


def _load(cursor: Any, pack: zipfile.ZipFile, name: str, tables: list[str]) -> int:
    table = Path(name).stem
    if table not in tables:
        raise BadBackup(f"the table {table} of the backup is not known here; use the version that wrote it")
    kept, batch, size = 0, [], 0
    with pack.open(name) as stream:
        columns = json.loads(stream.readline())
        names, places = ", ".join(f"`{c}`" for c in columns), ", ".join(["%s"] * len(columns))
        statement = f"INSERT INTO `{table}` ({names}) VALUES ({places})"  # noqa: S608 - names are the schema's own
        for line in stream:
            batch.append([_value(v) for v in json.loads(line)])
            size += len(line)
            if size > BATCH_BYTES:
                kept += cursor.executemany(statement, batch)
                batch, size = [], 0
    if batch:
        kept += cursor.executemany(statement, batch)
    return kept


def _tables(cursor: Any) -> list[str]:
    cursor.execute("SHOW TABLES")
    return sorted(name for (name,) in cursor.fetchall() if not name.startswith(OWN_TABLES))


def _connected(settings: Settings) -> Any:
    return pymysql.connect(
        host=settings.db_host,
        port=settings.db_port,
        user=settings.db_user,
        password=settings.db_password,
        database=settings.db_name,
        charset="utf8mb4",
        autocommit=False,
        max_allowed_packet=256 * 1024 * 1024,
        ssl_disabled=settings.db_is_here,
    )
