"""Who asks, the database, the clock: what every route needs from the application."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

from flask import current_app, g

from tracebench.settings import Settings
from tracebench.store.pool import Connection, Pool, begun
from tracebench.usecases.people.person import Person


@contextmanager
def transaction() -> Iterator[Connection]:
    """The request's connection in a transaction; another one of the pool's where that is in one already."""
    if g.get("in_transaction", False):
        with _pool().transaction() as other:
            yield other
        return
    connection = own_connection()
    g.in_transaction = True
    try:
        with begun(connection):
            yield connection
    finally:
        g.in_transaction = False


@contextmanager
def reading() -> Iterator[Connection]:
    """The request's connection, each statement for itself: for what reads and needs no two rows of one moment."""
    yield own_connection()


def own_connection() -> Connection:
    """The one connection of this request, taken when it is first needed."""
    if "connection" not in g:
        g.connection = _pool().take()
    connection: Connection = g.connection
    return connection


def give_back(_: BaseException | None = None) -> None:
    """Give the request's connection back, when it is over."""
    connection = g.pop("connection", None)
    if connection is not None:
        connection.close()


def _pool() -> Pool:
    pool: Pool = current_app.extensions["tracebench.pool"]
    return pool


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
