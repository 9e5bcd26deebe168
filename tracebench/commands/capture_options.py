"""What commands are told about a capture: its file, how it is understood, and JSON beside it."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from tracebench.core.answer import Phase
from tracebench.core.capture import Capture
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadFile, BadOption
from tracebench.formats.apart import load, understand
from tracebench.formats.mapping import parse_map, told_mapping


def as_measured(command: Callable[..., None]) -> Callable[..., None]:
    """The options that say how a capture is understood and measured."""
    path = click.Path(path_type=Path)
    for option in (
        click.option("--json", "as_json", is_flag=True, help="Print JSON (this is the default)."),
        click.option("--interval", "interval_s", type=float, help="Seconds a sample, for a file without a time axis."),
        click.option("--limits", "limits_file", type=path, help="Limits as JSON."),
        click.option("--option", "options", multiple=True, metavar="KEY=VALUE", help="A setting; repeatable."),
        click.option("--phase", "phases", multiple=True, metavar="NAME=FROM:TO", help="A phase you know; repeatable."),
        click.option("--map", "maps", multiple=True, metavar="COLUMN=LANE[:FACTOR]", help="Lane of a column."),
    ):
        command = option(command)
    return command


def pair(text: str) -> tuple[str, str]:
    key, equals, value = text.partition("=")
    if not equals or not key:
        raise BadOption(f"--option {text!r}: expected KEY=VALUE")
    return key, value


def phase(text: str) -> Phase:
    name, equals, rest = text.partition("=")
    start, colon, stop = rest.partition(":")
    try:
        if not (equals and colon and name):
            raise ValueError
        return Phase(name, float(start), float(stop))
    except ValueError:
        raise BadOption(f"--phase {text!r}: expected NAME=FROM:TO in seconds, for instance closed=0:1.2") from None


def json_file(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as problem:
        raise BadFile(f"{path}: {problem.strerror}") from None
    except UnicodeDecodeError:
        raise BadFile(f"{path}: not UTF-8 text") from None
    except json.JSONDecodeError as problem:
        raise BadFile(f"{path}: not JSON: {problem.msg}", problem.lineno, problem.colno) from None


def object_of(value: Any, path: Path) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise BadFile(f"{path}: expected a JSON object")
    return value


def loaded(path: Path, kind: Circuit, maps: tuple[str, ...], interval_s: float | None) -> Capture:
    layout = understand(path)
    mapping = told_mapping(layout, kind, [parse_map(m) for m in maps]) if maps else None
    return load(path, kind, layout, mapping, interval_s)
