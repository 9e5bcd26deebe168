"""The command line: what there is to call. Each command's module is loaded when it is called, and no other."""

from __future__ import annotations

import os
import sys
from importlib import import_module
from typing import Any

import click

from tracebench.core.errors import TraceBenchError

UNUSABLE = 2

# Nothing here multiplies matrices: starting threads for it would cost a tenth of a second of every call.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

COMMANDS = {
    "measure": "measuring:measure",
    "grade": "grading:grade_command",
    "convert": "converting:convert",
    "suspects": "suspecting:suspects",
    "shelf": "shelf:shelf_group",
    "trainer": "scope:trainer",
    "person": "database:person",
    "migrate": "database:migrate_command",
    "demo": "database:demo_command",
    "backup": "backup:backup_command",
    "restore": "backup:restore_command",
    "export-openapi": "openapi:export_openapi",
}
"""Module of tracebench.commands and what it holds, by name."""


class _Door(click.Group):
    """Turns every error a person can mend into one line on standard error and exit status 2."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name].partition(":")
        command: click.Command = getattr(import_module(f"tracebench.commands.{module}"), name)
        return command

    def invoke(self, ctx: click.Context) -> Any:
        try:
            return super().invoke(ctx)
        except TraceBenchError as problem:
            text = str(problem)
        except click.UsageError as problem:
            text = f"{problem.format_message()} (see tracebench --help)"
        click.echo(f"tracebench: {text}", err=True)
        sys.exit(UNUSABLE)


@click.group(cls=_Door, context_settings={"help_option_names": ["-h", "--help"]})
def main() -> None:
    """Trace Bench: reference captures, exercises, grading and skill at reading traces."""


if __name__ == "__main__":
    main()
