"""A real MariaDB for tests: one server for the whole run, a schema of its own for each test class."""

from __future__ import annotations

import atexit
import secrets
import shutil
import tempfile
import unittest
from pathlib import Path

import pymysql

from tracebench.processes.host import Database, start_database
from tracebench.settings import Settings
from tracebench.store.migrate import migrate
from tracebench.store.pool import Pool

_shared: Database | None = None
_template: str | None = None
"""A schema of this server with every migration, empty."""


def shared_server() -> Database:
    """The server of this run, started when first asked for."""
    global _shared
    if _shared is None:
        _shared = start_database(Path(tempfile.mkdtemp(prefix="tracebench-test-")))
        atexit.register(stop_shared)
    return _shared


def stop_shared() -> None:
    """Stop the server and throw its data away."""
    global _shared, _template
    if _shared is not None:
        _template = None
        _shared.process.kill()
        _shared.process.wait()
        _shared.stop()
        shutil.rmtree(_shared.folder, ignore_errors=True)
        _shared = None


def fresh_settings(uploads: Path) -> Settings:
    """Settings for a new schema with every migration; run once a server, and copied from then on."""
    global _template
    server = shared_server()
    settings = _settings_of(server, uploads, _new_schema(server))
    if _template is None:
        migrate(settings)
        _template = settings.db_name
        return fresh_settings(uploads)
    _copy(server, _template, settings.db_name)
    return settings


def _settings_of(server: Database, uploads: Path, name: str) -> Settings:
    env = {
        **server.env(),
        "TRACEBENCH_DB_NAME": name,
        "TRACEBENCH_SECRET_KEY": "only for tests",
        "TRACEBENCH_UPLOADS": str(uploads),
    }
    return Settings.from_env(env)


def _connected(server: Database) -> pymysql.connections.Connection:
    return pymysql.connect(
        host="127.0.0.1",
        port=server.port,
        user=server.user,
        password=server.password,
        autocommit=True,
        ssl_disabled=True,
    )


def _new_schema(server: Database) -> str:
    name = f"{server.name}_{secrets.token_hex(5)}"
    with _connected(server) as connection:
        connection.cursor().execute(f"CREATE DATABASE `{name}` CHARACTER SET utf8mb4")
    return name


def _copy(server: Database, template: str, name: str) -> None:
    """Tables with their rows, then triggers: what migrations made, without making it again."""
    with _connected(server) as connection, connection.cursor() as cursor:
        cursor.execute(f"USE `{template}`")
        cursor.execute("SHOW FULL TABLES WHERE Table_type = 'BASE TABLE'")
        tables = [row[0] for row in cursor.fetchall()]
        made = []
        for table in tables:
            cursor.execute(f"SHOW CREATE TABLE `{table}`")
            made.append(cursor.fetchone()[1])
        cursor.execute("SHOW TRIGGERS")
        triggers = []
        for trigger in [row[0] for row in cursor.fetchall()]:
            cursor.execute(f"SHOW CREATE TRIGGER `{trigger}`")
            triggers.append(cursor.fetchone()[2])
        cursor.execute(f"USE `{name}`")
        cursor.execute("SET foreign_key_checks = 0")
        for statement in made:
            cursor.execute(statement)
        for table in tables:
            cursor.execute(f"INSERT INTO `{table}` SELECT * FROM `{template}`.`{table}`")
        for statement in triggers:
            cursor.execute(statement)


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
