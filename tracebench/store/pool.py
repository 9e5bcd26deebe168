"""Connections to MariaDB from a pool, and transactions on them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

import pymysql
from dbutils.pooled_db import PooledDB
from pymysql.constants import FIELD_TYPE
from pymysql.cursors import DictCursor

from tracebench.settings import Settings

Row = dict[str, Any]
"""One row of a result by column; what a column holds is known only to its statement."""

if TYPE_CHECKING:
    Connection = pymysql.connections.Connection[DictCursor]
else:
    Connection = pymysql.connections.Connection

Begin = Callable[[], AbstractContextManager[Connection]]
"""Opens a transaction: for use cases that measure between two of them, so that nobody waits on a lock meanwhile."""

_READ = {
    **pymysql.converters.conversions,
    # Compiled, and a tenth of the time of the package's own, which takes every instant apart with a pattern.
    FIELD_TYPE.DATETIME: datetime.fromisoformat,
}


FULL = (1021, 1026, 1030, 1114)
"""MariaDB's errors for a disk or table that is full."""


def is_full(error: pymysql.err.MySQLError) -> bool:
    """Whether it is the disk that is full: what was to be kept is not, and what is there can be read."""
    return bool(error.args) and error.args[0] in FULL


class Pool:
    """A pool of PyMySQL connections; a lost one is replaced at the next use.

    Each statement stands for itself unless a transaction is begun: a page that reads one row asks the database once.
    """

    def __init__(self, settings: Settings) -> None:
        at: dict[str, Any] = {"host": settings.db_host, "port": settings.db_port}
        if settings.db_socket and Path(settings.db_socket).is_socket():
            at = {"unix_socket": settings.db_socket}
        self._pool = PooledDB(
            pymysql,
            mincached=0,
            maxcached=16,
            ping=0,
            # Whoever has had one has ended what they began: nothing is to be rolled back when it is given back.
            reset=False,
            user=settings.db_user,
            password=settings.db_password,
            database=settings.db_name,
            charset="utf8mb4",
            cursorclass=DictCursor,
            conv=_READ,
            autocommit=True,
            max_allowed_packet=256 * 1024 * 1024,
            ssl_disabled=settings.db_is_here,
            **at,
        )

    def take(self) -> Connection:
        """A connection of the pool's; `close` gives it back."""
        return cast(Connection, self._pool.connection())

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """A connection whose changes are kept together, or not at all if an error passes through."""
        connection = self.take()
        try:
            with begun(connection):
                yield connection
        finally:
            connection.close()

    def close(self) -> None:
        self._pool.close()


@contextmanager
def begun(connection: Connection) -> Iterator[None]:
    """A transaction on a connection of the pool's; one that the server dropped while idle is made anew."""
    try:
        connection.begin()
    except pymysql.err.Error:
        cast(Any, connection).dbapi_connection.ping(reconnect=True)
        connection.begin()
    try:
        yield
        connection.commit()
    except BaseException:
        # A lost connection has nothing left to roll back, and must not hide why it was lost.
        with suppress(pymysql.err.Error):
            connection.rollback()
        raise
