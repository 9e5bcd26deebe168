"""Measure a capture file."""

from __future__ import annotations

import json
from pathlib import Path

import click

from tracebench.commands.capture_options import as_measured, json_file, loaded, pair, phase
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits import measure as measure_capture
from tracebench.core.limits import limits_from_json


@click.command()
@click.argument("capture", type=click.Path(path_type=Path))
@click.option("--circuit", "code", required=True, help="Circuit code, for instance throttle-position.")
@as_measured
def measure(
    capture: Path,
    code: str,
    maps: tuple[str, ...],
    phases: tuple[str, ...],
    options: tuple[str, ...],
    limits_file: Path | None,
    interval_s: float | None,
    as_json: bool,
) -> None:
    """Measure a capture file and print phases, readings, limits, findings and the call."""
    kind = circuit_of(code)
    found = loaded(capture, kind, maps, interval_s)
    limits = limits_from_json(json_file(limits_file), kind.reading_ids) if limits_file else ()
    answer = measure_capture(found, code, [phase(p) for p in phases], dict(pair(o) for o in options), limits)
    click.echo(json.dumps(answer.as_json(), indent=2, ensure_ascii=False))
