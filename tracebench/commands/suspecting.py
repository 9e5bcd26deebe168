"""Who is suspected: the causes of a case by its evidence, and what to test next."""

from __future__ import annotations

import json
from pathlib import Path

import click

from tracebench.commands.capture_options import json_file
from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.suspects import of_case


@click.command()
@click.argument("case", type=click.Path(path_type=Path))
def suspects(case: Path) -> None:
    """Print the suspects of CASE.json, what to test next and whether one cause is supported."""
    click.echo(json.dumps(of_case(case_from(json_file(case))).as_json(), indent=2, ensure_ascii=False, allow_nan=False))
