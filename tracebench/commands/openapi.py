"""The API's description."""

from __future__ import annotations

import json
from pathlib import Path

import click

from tracebench.settings import Settings
from tracebench.web import create_app


@click.command("export-openapi")
@click.argument("target", type=click.Path(path_type=Path))
def export_openapi(target: Path) -> None:
    """Write the API's description; the front end's types are generated from it."""
    app = create_app(Settings("127.0.0.1", 0, "none", "none", "none", "none", Path(), Path()))
    with app.test_request_context():
        target.write_text(json.dumps(app.spec, indent=2, sort_keys=True, ensure_ascii=False) + "\n", encoding="utf-8")
