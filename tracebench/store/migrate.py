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


def migrate(settings: Settings, only: Sequence[str] | None = None) -> int:
    """Apply the migrations that have not run, or those of them named in `only`; returns how many did.

    Raises MigrationFailed, and takes back what it has done: each is one statement, which MariaDB does whole or not.
    """
    with _backend(settings) as backend, backend.lock():
        migrations = read_migrations(str(MIGRATIONS))
        if only is not None:
            migrations = migrations.filter(lambda m: m.id in only)
        done: list[Any] = []
        for migration in backend.to_apply(migrations):
            try:
                backend.apply_one(migration)
            except Exception as problem:
                # What this run has changed is taken back, so that the version before can go on with all of its data.
                for earlier in reversed(done):
                    backend.rollback_one(earlier)
                raise MigrationFailed(f"{migration.id} could not be applied: {_first(problem)}") from problem
            done.append(migration)
        return len(done)


def _first(problem: BaseException) -> BaseException:
    """What went wrong first: a schema change ends the savepoint that yoyo then misses."""
    while problem.__context__ is not None:
        problem = problem.__context__
    return problem


def pending(settings: Settings) -> int:
    """How many migrations have not run."""
    with _backend(settings) as backend:
        return len(backend.to_apply(read_migrations(str(MIGRATIONS))))


def applied(settings: Settings) -> list[str]:
    """The migrations that the database stands at, in order."""
    with _backend(settings) as backend:
        have = backend.to_rollback(read_migrations(str(MIGRATIONS)))
        return sorted(m.id for m in have)


@contextmanager
def _backend(settings: Settings) -> Iterator[Any]:
    user, password = quote(settings.db_user, safe=""), quote(settings.db_password, safe="")
    backend = get_backend(f"mysql://{user}:{password}@{settings.db_host}:{settings.db_port}/{settings.db_name}")
    try:
        yield backend
    finally:
        backend.connection.close()
