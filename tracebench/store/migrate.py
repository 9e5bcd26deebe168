"""Bring a database's schema up to date."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import quote

from yoyo import get_backend, read_migrations

from tracebench.core.errors import TraceBenchError
from tracebench.settings import Settings

MIGRATIONS = Path(__file__).with_name("migrations")


class MigrationFailed(TraceBenchError):
    """The schema stands where it stood; the message names the migration and what the database said."""


LOCK_S = 60
"""How long another process that changes the same database is waited for."""

DONE_ALREADY = frozenset((1022, 1050, 1054, 1060, 1061, 1062, 1068, 1091, 1359, 1826))
"""What MariaDB says of a statement that was carried out just before its process was killed: the table, column, key,
row or trigger is there already, or what it renames or drops is not there any more."""

GONE_ALREADY = frozenset((1051, 1054, 1091, 1146, 1360))


def migrate(settings: Settings, only: Sequence[str] | None = None) -> int:
    """Apply the migrations that have not run, or those of them named in `only`; returns how many did.

    Raises MigrationFailed, and takes back what it has done: each is one statement, which MariaDB does whole or not.
    Killed at any moment, it is gone on with the next time: what it is at is written down before and after.
    """
    with _backend(settings) as backend, _Progress(backend) as progress:
        migrations = read_migrations(str(MIGRATIONS))
        if only is not None:
            migrations = migrations.filter(lambda m: m.id in only)
        if progress.was_taking_back():
            _take_back(backend, progress)
        count = 0
        for migration in backend.to_apply(migrations):
            begun_before = progress.began(migration.id)
            try:
                _apply(backend, migration, begun_before)
            except Exception as problem:
                # What this upgrade has changed is taken back, so that the version before can go on with all its data.
                _take_back(backend, progress, but=migration.id)
                raise MigrationFailed(f"{migration.id} could not be applied: {_first(problem)}") from problem
            progress.did(migration.id)
            count += 1
        progress.ended()
        return count


def _apply(backend: Any, migration: Any, begun_before: bool) -> None:
    """Apply one; what was killed between the statement and its being written down is done already."""
    try:
        backend.apply_one(migration)
    except Exception as problem:
        if not begun_before or _code(problem) not in DONE_ALREADY:
            raise
        with backend.transaction():
            backend.mark_one(migration)


def _take_back(backend: Any, progress: _Progress, but: str = "") -> None:
    """Undo all that this upgrade has applied, the last first; `but` is what failed, of which nothing is left."""
    by_id = {m.id: m for m in read_migrations(str(MIGRATIONS))}
    applied_now = {m.id for m in backend.to_rollback(read_migrations(str(MIGRATIONS)))}
    progress.takes_back()
    for name in reversed(progress.done()):
        if name == but or name not in by_id or name not in applied_now:
            continue
        try:
            backend.rollback_one(by_id[name])
        except Exception as problem:
            if _code(problem) not in GONE_ALREADY:
                raise
            with backend.transaction():
                backend.unmark_one(by_id[name])
    progress.ended()


class _Progress:
    """What an upgrade is at, kept beside what it changes, so that the next start knows where it was killed."""

    def __init__(self, backend: Any) -> None:
        self._backend = backend

    def __enter__(self) -> _Progress:
        _take_lock(self._backend)
        # A process that was killed left the library's own lock behind; whoever has ours is alone.
        self._backend.break_lock()
        self._do(
            "CREATE TABLE IF NOT EXISTS migration_progress (place INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, "
            "id VARCHAR(255) NOT NULL UNIQUE, state VARCHAR(16) NOT NULL)"
        )
        return self

    def __exit__(self, *_: object) -> None:
        _let_go(self._backend)

    def began(self, name: str) -> bool:
        """Note that one is begun; True if it was begun by an upgrade that did not end."""
        before = bool(self._asked("SELECT 1 FROM migration_progress WHERE id = :id", id=name))
        if not before:
            self._do("INSERT INTO migration_progress (id, state) VALUES (:id, 'begun')", id=name)
        return before

    def did(self, name: str) -> None:
        self._do("UPDATE migration_progress SET state = 'done' WHERE id = :id", id=name)

    def takes_back(self) -> None:
        self._do("UPDATE migration_progress SET state = 'back'")

    def was_taking_back(self) -> bool:
        return bool(self._asked("SELECT 1 FROM migration_progress WHERE state = 'back' LIMIT 1"))

    def done(self) -> list[str]:
        return [name for (name,) in self._asked("SELECT id FROM migration_progress ORDER BY place")]

    def ended(self) -> None:
        self._do("DELETE FROM migration_progress")

    def _do(self, statement: str, **values: Any) -> None:
        with self._backend.transaction():
            self._backend.execute(statement, values)

    def _asked(self, statement: str, **values: Any) -> list[Any]:
        return list(self._backend.execute(statement, values).fetchall())


def _first(problem: BaseException) -> BaseException:
    """What went wrong first: a schema change ends the savepoint that yoyo then misses."""
    while problem.__context__ is not None:
        problem = problem.__context__
    return problem


def _code(problem: BaseException) -> int:
    """The number of the database's error, 0 where it is none."""
    said = _first(problem).args
    return int(said[0]) if said and isinstance(said[0], int) else 0


def pending(settings: Settings) -> int:
    """How many migrations have not run."""
    with _backend(settings) as backend:
        return len(backend.to_apply(read_migrations(str(MIGRATIONS))))


def under_way(settings: Settings) -> bool:
    """Whether an upgrade was begun that did not end."""
    with _backend(settings) as backend:
        tables = {name for (name,) in backend.execute("SHOW TABLES").fetchall()}
        if "migration_progress" not in tables:
            return False
        return backend.execute("SELECT 1 FROM migration_progress LIMIT 1").fetchone() is not None


def applied(settings: Settings) -> list[str]:
    """The migrations that the database stands at, in order."""
    with _backend(settings) as backend:
        have = backend.to_rollback(read_migrations(str(MIGRATIONS)))
        return sorted(m.id for m in have)


@contextmanager
def _backend(settings: Settings) -> Iterator[Any]:
    user, password = quote(settings.db_user, safe=""), quote(settings.db_password, safe="")
    place = f"{settings.db_host}:{settings.db_port}/{settings.db_name}"
    # The library connects for each migration anew.
    plain = "?ssl_disabled=yes" if settings.db_is_here else ""
    backend = get_backend(f"mysql://{user}:{password}@{place}{plain}")
    try:
        _clear_half_made(backend)
        yield backend
    finally:
        backend.connection.close()


LIBRARY_TABLES = ("_yoyo_log", "_yoyo_migration", "_yoyo_version")


def _clear_half_made(backend: Any) -> None:
    """Take the library's own tables away where it was killed while it made them, so that it makes them whole."""
    if not _half_made(backend):
        return
    _take_lock(backend)
    # Whoever was at it until now may have made them whole.
    if _half_made(backend):
        for table in LIBRARY_TABLES:
            backend.execute(f"DROP TABLE IF EXISTS {table}")
    _let_go(backend)


def _half_made(backend: Any) -> bool:
    """Whether some of the library's tables are there, nothing of ours is, and no migration was written down."""
    tables = {name for (name,) in backend.execute("SHOW TABLES").fetchall()}
    if not tables & set(LIBRARY_TABLES) or tables - {*LIBRARY_TABLES, "yoyo_lock", "yoyo_tmp", "migration_progress"}:
        return False
    whole = set(LIBRARY_TABLES) <= tables and backend.execute("SELECT 1 FROM _yoyo_version").fetchone() is not None
    return not whole


def _take_lock(backend: Any) -> None:
    """Be alone at this database; ends with the connection, however that ends. Raises MigrationFailed."""
    (held,) = backend.execute("SELECT GET_LOCK(CONCAT(DATABASE(), '.migrate'), :s)", {"s": LOCK_S}).fetchone()
    if held != 1:
        raise MigrationFailed("another process is changing this database; wait until it is done")


def _let_go(backend: Any) -> None:
    backend.execute("SELECT RELEASE_LOCK(CONCAT(DATABASE(), '.migrate'))").fetchone()
