"""Commands that work on the database: its schema, the demo class, accounts."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

import click

from tracebench.demo import seed
from tracebench.processes.installation import settings_of
from tracebench.store.migrate import migrate
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people import accounts, invitations


@click.command("migrate")
def migrate_command() -> None:
    """Bring the database's schema up to date."""
    click.echo(f"{migrate(settings_of(None))} migrations applied")


@click.command("demo")
def demo_command() -> None:
    """Load the demo class into an empty database."""
    settings = settings_of(None)
    loaded = seed.load(Pool(settings), settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    click.echo("demo class loaded" if loaded else "there is a course already; the demo was not loaded")


@click.group()
def person() -> None:
    """Accounts."""


@person.command("add")
@click.option("--data", type=click.Path(path_type=Path), default=None, help="Folder of the installation (var).")
@click.option("--sign-in", "sign_in", required=True, help="Name to sign in with.")
@click.option("--name", required=True, help="Name that people see.")
@click.option("--role", required=True, help="administrator, instructor or learner.")
@click.option("--password", prompt=True, hide_input=True, confirmation_prompt=True)
def person_add(data: Path | None, sign_in: str, name: str, role: str, password: str) -> None:
    """Add an account (the first administrator is made so)."""
    with Pool(settings_of(data)).transaction() as conn:
        accounts.add(conn, sign_in, name, role, password, datetime.now(UTC).replace(tzinfo=None))
    click.echo(f"{role} {sign_in} added")


@person.command("link")
@click.option("--data", type=click.Path(path_type=Path), default=None, help="Folder of the installation (var).")
@click.option("--sign-in", "sign_in", required=True, help="Name that the person signs in with.")
def person_link(data: Path | None, sign_in: str) -> None:
    """A one-time link by which a person chooses a new password."""
    at = datetime.now(UTC).replace(tzinfo=None)
    with Pool(settings_of(data)).transaction() as conn:
        found = queries.people.by_sign_in(conn, sign_in=sign_in.strip().lower())
        if found is None:
            raise NotFound(f"there is no account {sign_in!r}; check the name")
        token = invitations.make(conn, None, found["id"], at)
    click.echo(f"/join#{token}\nput this behind the address of this installation; it works once, for 14 days")
