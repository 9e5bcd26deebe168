"""Bring a database's schema up to date."""

from __future__ import annotations

from pathlib import Path
from urllib.parse import quote

from yoyo import get_backend, read_migrations

from tracebench.settings import Settings

MIGRATIONS = Path(__file__).with_name("migrations")


def migrate(settings: Settings) -> int:
    """Apply the migrations that have not run; returns how many did."""
    user, password = quote(settings.db_user, safe=""), quote(settings.db_password, safe="")
    url = f"mysql://{user}:{password}@{settings.db_host}:{settings.db_port}/{settings.db_name}"
    backend = get_backend(url)
    try:
        with backend.lock():
            pending = backend.to_apply(read_migrations(str(MIGRATIONS)))
            backend.apply_migrations(pending)
            return len(pending)
    finally:
        backend.connection.close()
