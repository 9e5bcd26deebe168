"""Commands that work on the database: its schema, the demo class, accounts."""

from __future__ import annotations

import os
from datetime import UTC, datetime

import click

from tracebench.core.errors import BadOption
from tracebench.demo import seed
from tracebench.settings import MissingSetting, Settings
from tracebench.store.migrate import migrate
from tracebench.store.pool import Pool
from tracebench.usecases import people


def _settings() -> Settings:
    try:
        return Settings.from_env(os.environ)
    except MissingSetting as missing:
        raise BadOption(str(missing)) from None


@click.command("migrate")
def migrate_command() -> None:
    """Bring the database's schema up to date."""
    click.echo(f"{migrate(_settings())} migrations applied")


@click.command("demo")
def demo_command() -> None:
    """Load the demo class into an empty database."""
    settings = _settings()
    loaded = seed.load(Pool(settings), settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    click.echo("demo class loaded" if loaded else "there is a course already; the demo was not loaded")


@click.group()
def person() -> None:
    """Accounts."""


@person.command("add")
@click.option("--sign-in", "sign_in", required=True, help="Name to sign in with.")
@click.option("--name", required=True, help="Name that people see.")
@click.option("--role", required=True, help="administrator, instructor or learner.")
@click.option("--password", prompt=True, hide_input=True, confirmation_prompt=True)
def person_add(sign_in: str, name: str, role: str, password: str) -> None:
    """Add an account (the first administrator is made so)."""
    with Pool(_settings()).transaction() as conn:
        people.add(conn, sign_in, name, role, password, datetime.now(UTC).replace(tzinfo=None))
    click.echo(f"{role} {sign_in} added")
