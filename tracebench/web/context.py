"""Who asks, the database, the clock: what every route needs from the application."""

from __future__ import annotations

from contextlib import AbstractContextManager
from datetime import UTC, datetime

from flask import current_app, g

from tracebench.settings import Settings
from tracebench.store.pool import Connection, Pool
from tracebench.usecases.person import Person


def transaction() -> AbstractContextManager[Connection]:
    pool: Pool = current_app.extensions["tracebench.pool"]
    return pool.transaction()


def settings() -> Settings:
    value: Settings = current_app.extensions["tracebench.settings"]
    return value


def may_be_kept() -> None:
    """The answer under way may be kept by its reader's browser for a time without network: it is theirs alone and open.

    Nothing is kept that may be closed to them again.
    """
    g.keep_offline = True


def now() -> datetime:
    """UTC without a mark and in milliseconds, as the database keeps it."""
    at = datetime.now(UTC)
    return at.replace(tzinfo=None, microsecond=at.microsecond // 1000 * 1000)


def person() -> Person:
    """The person signed in; the door has made sure there is one."""
    found: Person = g.person
    return found
