"""Connections to MariaDB from a pool, and transactions on them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, suppress
from datetime import datetime
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


class Pool:
    """A pool of PyMySQL connections; a lost one is replaced at the next use."""

    def __init__(self, settings: Settings) -> None:
        self._pool = PooledDB(
            pymysql,
            mincached=0,
            maxcached=16,
            ping=0,
            host=settings.db_host,
            port=settings.db_port,
            user=settings.db_user,
            password=settings.db_password,
            database=settings.db_name,
            charset="utf8mb4",
            cursorclass=DictCursor,
            conv=_READ,
            autocommit=False,
            max_allowed_packet=256 * 1024 * 1024,
        )

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """A connection whose changes are kept together, or not at all if an error passes through."""
        connection = self._begun()
        try:
            yield connection
            connection.commit()
        except BaseException:
            # A lost connection has nothing left to roll back, and must not hide why it was lost.
            with suppress(pymysql.err.Error):
                connection.rollback()
            raise
        finally:
            connection.close()

    def _begun(self) -> Connection:
        """A connection in a transaction; one that the server dropped while idle is made anew."""
        pooled = self._pool.connection()
        try:
            pooled.begin()
        except pymysql.err.Error:
            pooled.dbapi_connection.ping(reconnect=True)
            pooled.begin()
        return cast(Connection, pooled)

    def close(self) -> None:
        self._pool.close()
