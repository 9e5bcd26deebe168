"""Backup of a running installation, and a new one from a backup."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime
from pathlib import Path

import click

from tracebench.host import HostError, start_database
from tracebench.installation import settings_of
from tracebench.settings import Settings
from tracebench.store import backup


@click.command("backup")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--data", type=click.Path(path_type=Path), default=None, help="Folder of the installation (var).")
def backup_command(file: Path, data: Path | None) -> None:
    """Write everything of a running installation to FILE."""
    told = backup.write(settings_of(data), file, datetime.now(UTC).replace(tzinfo=None))
    rows = sum(p["rows"] for name, p in told["parts"].items() if name.startswith("tables/"))
    click.echo(f"{rows:,} rows in {len(told['parts'])} parts are in {file}")


@click.command("restore")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--data", type=click.Path(path_type=Path), required=True, help="An empty folder for the installation.")
def restore_command(file: Path, data: Path) -> None:
    """Make a new installation in an empty folder from the backup FILE."""
    backup.checked(file)
    if data.exists() and any(data.iterdir()):
        raise backup.BadBackup(f"the folder {data} is not empty; restore into an empty one")
    data.mkdir(parents=True, exist_ok=True, mode=0o700)
    try:
        database = start_database(data.resolve() / "mariadb")
    except HostError as problem:
        raise backup.BadBackup(str(problem)) from None
    try:
        own = {"TRACEBENCH_SECRET_KEY": secrets.token_hex(32), "TRACEBENCH_UPLOADS": str(data.resolve() / "uploads")}
        told = backup.restore(Settings.from_env({**database.env(), **own}), file)
    finally:
        database.stop()
    click.echo(f"the state of {told['taken_at']} UTC is in {data}; serve it by ./start --data {data}")
