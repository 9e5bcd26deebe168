"""Backup of a running installation, and a new one from a backup."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime
from pathlib import Path

import click

from tracebench.own_files import exchange
from tracebench.processes.host import HostError, server_answers, start_database
from tracebench.processes.installation import settings_of
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
@click.argument("file", type=click.Path(path_type=Path), required=False)
@click.option(
    "--before-upgrade", is_flag=True, help="The state before the last upgrade, in the place of what is there."
)
@click.option(
    "--data", type=click.Path(path_type=Path), help="An empty folder; with --before-upgrade the installation's."
)
def restore_command(file: Path | None, before_upgrade: bool, data: Path | None) -> None:
    """Make a new installation in an empty folder from the backup FILE, or take the last upgrade back."""
    if before_upgrade and file is None:
        _take_back((data or Path("var")).resolve())
    elif file is not None and data is not None and not before_upgrade:
        _into_empty(file, data)
    else:
        raise backup.BadBackup("tell the backup's FILE and --data FOLDER, or --before-upgrade")


def _into_empty(file: Path, data: Path) -> None:
    backup.checked(file)
    if data.exists() and any(data.iterdir()):
        raise backup.BadBackup(f"the folder {data} is not empty; restore into an empty one")
    data.mkdir(parents=True, exist_ok=True, mode=0o700)
    told = _restored(file, data.resolve(), up_to_date=True)
    click.echo(f"the state of {told['taken_at']} UTC is in {data}; serve it by ./start --data {data}")


def _take_back(data: Path) -> None:
    """The state before the last upgrade into its place; what was there until now is kept beside it."""
    file = backup.before_upgrade(data / "backups")
    if file is None:
        raise backup.BadBackup(f"no upgrade has been made in {data}; tell the installation's folder by --data")
    backup.checked(file)
    if server_answers(data / "mariadb"):
        raise backup.BadBackup(f"the installation in {data} is running; stop its ./start first")
    beside = data / f"replaced-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    beside.mkdir(mode=0o700)
    told = _restored(file, beside, up_to_date=False)
    # What is running is exchanged first, in one step; files that wait are found again by it or swept away.
    for name in ("mariadb", "uploads"):
        (data / name).mkdir(exist_ok=True, mode=0o700)
        exchange(data / name, beside / name)
    click.echo(f"the state of {told['taken_at']} UTC, before the upgrade, is in its place; check out the version that ")
    click.echo(f"wrote it and ./start that. What was there until now is in {beside}")


def _restored(file: Path, folder: Path, up_to_date: bool) -> backup.Manifest:
    """A database and files that wait, in a folder, from a backup."""
    try:
        database = start_database(folder / "mariadb")
    except HostError as problem:
        raise backup.BadBackup(str(problem)) from None
    try:
        own = {"TRACEBENCH_SECRET_KEY": secrets.token_hex(32), "TRACEBENCH_UPLOADS": str(folder / "uploads")}
        return backup.restore(Settings.from_env({**database.env(), **own}), file, up_to_date)
    finally:
        database.stop()
