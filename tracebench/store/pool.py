"""Connections to MariaDB from a pool, and transactions on them."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any

import pymysql
from dbutils.pooled_db import PooledDB
from pymysql.cursors import DictCursor

from tracebench.settings import Settings

Connection = Any


class Pool:
    """A pool of PyMySQL connections; a lost one is replaced at the next use."""

    def __init__(self, settings: Settings) -> None:
        self._pool = PooledDB(
            pymysql,
            mincached=0,
            maxcached=8,
            ping=0,
            host=settings.db_host,
            port=settings.db_port,
            user=settings.db_user,
            password=settings.db_password,
            database=settings.db_name,
            charset="utf8mb4",
            cursorclass=DictCursor,
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
        connection = self._pool.connection()
        try:
            connection.begin()
        except pymysql.err.Error:
            connection.dbapi_connection.ping(reconnect=True)
            connection.begin()
        return connection

    def close(self) -> None:
        self._pool.close()
