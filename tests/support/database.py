"""A real MariaDB for tests: one server for the whole run, a schema of its own for each test class."""

from __future__ import annotations

import atexit
import secrets
import shutil
import tempfile
import unittest
from pathlib import Path

import pymysql

from tracebench.host import Database, start_database
from tracebench.settings import Settings
from tracebench.store.migrate import migrate
from tracebench.store.pool import Pool

_shared: Database | None = None


def shared_server() -> Database:
    """The server of this run, started when first asked for."""
    global _shared
    if _shared is None:
        _shared = start_database(Path(tempfile.mkdtemp(prefix="tracebench-test-")))
        atexit.register(stop_shared)
    return _shared


def stop_shared() -> None:
    """Stop the server and throw its data away."""
    global _shared
    if _shared is not None:
        _shared.process.kill()
        _shared.process.wait()
        shutil.rmtree(_shared.folder, ignore_errors=True)
        _shared = None


def fresh_settings(uploads: Path) -> Settings:
    """Settings for a new, migrated schema."""
    server = shared_server()
    name = f"{server.name}_{secrets.token_hex(5)}"
    with pymysql.connect(
        host="127.0.0.1", port=server.port, user=server.user, password=server.password, autocommit=True
    ) as connection:
        connection.cursor().execute(f"CREATE DATABASE `{name}` CHARACTER SET utf8mb4")
    env = {
        **server.env(),
        "TRACEBENCH_DB_NAME": name,
        "TRACEBENCH_SECRET_KEY": "only for tests",
        "TRACEBENCH_UPLOADS": str(uploads),
    }
    settings = Settings.from_env(env)
    migrate(settings)
    return settings


class DatabaseTest(unittest.TestCase):
    """A test class with a schema of its own: `cls.settings`, `cls.pool`, `cls.uploads`."""

    settings: Settings
    pool: Pool
    uploads: Path

    @classmethod
    def setUpClass(cls) -> None:
        cls.uploads = Path(tempfile.mkdtemp(prefix="tracebench-uploads-"))
        cls.settings = fresh_settings(cls.uploads)
        cls.pool = Pool(cls.settings)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.pool.close()
        shutil.rmtree(cls.uploads, ignore_errors=True)
