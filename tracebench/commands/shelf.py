"""The shelf to a bundle and back, of a running installation."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

import click

from tracebench.core.errors import BadOption
from tracebench.formats import apart
from tracebench.processes.installation import settings_of
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import exchange

IN_DATA = click.option(
    "--data", type=click.Path(path_type=Path), default=None, help="Folder of the installation (var)."
)
OF_WHOM = click.option("--as", "sign_in", required=True, help="Sign-in name of the instructor whose shelf it is.")
WORDS = {
    "new": "new",
    "versions": "with versions that are not here yet",
    "copy": "beside one of the same name, as a copy",
    "same": "here already",
}


@click.group("shelf")
def shelf_group() -> None:
    """References to a bundle and back."""


@shelf_group.command("export")
@click.argument("file", type=click.Path(path_type=Path))
@OF_WHOM
@click.option("--samples", type=click.Choice(("parquet", "csv")), default="parquet", show_default=True)
@IN_DATA
def export_command(file: Path, sign_in: str, samples: str, data: Path | None) -> None:
    """Write every reference that an instructor owns to the bundle FILE."""
    if file.exists():
        raise BadOption(f"{file}: is there already; choose another name")
    pool = Pool(settings_of(data))
    person = _instructor(pool, sign_in)
    with pool.transaction() as conn:
        ids = [row["id"] for row in queries.shelf.all_of(conn, person_id=person.id)]
    count = exchange.export(pool.transaction, person, ids, file, samples, _now())
    click.echo(f"{count} references are in {file}")


@shelf_group.command("import")
@click.argument("file", type=click.Path(path_type=Path))
@OF_WHOM
@click.option("--dry-run", is_flag=True, help="Only say what would change.")
@IN_DATA
def import_command(file: Path, sign_in: str, dry_run: bool, data: Path | None) -> None:
    """Take the references of the bundle FILE in: new ones and new versions; nothing here is written over."""
    pool = Pool(settings_of(data))
    person = _instructor(pool, sign_in)
    if dry_run:
        with pool.transaction() as conn:
            for change in exchange.plan(conn, person, apart.bundle_of(file)):
                click.echo(f"{change['title']}: {WORDS[change['what']]}")
        return
    counts = exchange.take(pool.transaction, person, file, None, _now())
    click.echo(", ".join(f"{count} {WORDS[what]}" for what, count in counts.items() if count) or "nothing in it")


def _instructor(pool: Pool, sign_in: str) -> Person:
    with pool.transaction() as conn:
        row = queries.people.by_sign_in(conn, sign_in=sign_in.strip().lower())
    if row is None or row["role"] != "instructor":
        raise NotFound(f"there is no instructor {sign_in!r}; check the name")
    return Person(row["id"], row["sign_in"], row["name"], row["role"], 0)


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
