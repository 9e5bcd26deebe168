"""The command line: measure, grade, person, serve and the set-up steps that ./start uses."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import click

from tracebench.bench.circuits import source
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.scpi import Instrument, ScopeServer
from tracebench.core.answer import Phase
from tracebench.core.capture import Capture
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.cards.step import FIRST
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits import measure as measure_capture
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadFile, BadOption, TraceBenchError
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import grade
from tracebench.core.limits import limits_from_json, merged
from tracebench.core.records.judging import checked
from tracebench.core.records.shows import Record, conditions_shown, wires_shown, with_conditions
from tracebench.demo import seed
from tracebench.formats import load, understand
from tracebench.formats.mapping import parse_map, told_mapping
from tracebench.settings import MissingSetting, Settings
from tracebench.store.migrate import migrate
from tracebench.store.pool import Pool
from tracebench.usecases import people
from tracebench.web import create_app

UNUSABLE = 2


class _Door(click.Group):
    """Turns every error a person can mend into one line on standard error and exit status 2."""

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


def _as_measured(command: Callable[..., None]) -> Callable[..., None]:
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


@main.command()
@click.argument("capture", type=click.Path(path_type=Path))
@click.option("--circuit", "code", required=True, help="Circuit code, for instance throttle-position.")
@_as_measured
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
    loaded = _loaded(capture, kind, maps, interval_s)
    limits = limits_from_json(_json_file(limits_file), kind.reading_ids) if limits_file else ()
    answer = measure_capture(loaded, code, [_phase(p) for p in phases], dict(_pair(o) for o in options), limits)
    click.echo(json.dumps(answer.as_json(), indent=2, ensure_ascii=False))


def _pair(text: str) -> tuple[str, str]:
    key, equals, value = text.partition("=")
    if not equals or not key:
        raise BadOption(f"--option {text!r}: expected KEY=VALUE")
    return key, value


def _phase(text: str) -> Phase:
    name, equals, rest = text.partition("=")
    start, colon, stop = rest.partition(":")
    try:
        if not (equals and colon and name):
            raise ValueError
        return Phase(name, float(start), float(stop))
    except ValueError:
        raise BadOption(f"--phase {text!r}: expected NAME=FROM:TO in seconds, for instance closed=0:1.2") from None


def _json_file(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as problem:
        raise BadFile(f"{path}: {problem.strerror}") from None
    except UnicodeDecodeError:
        raise BadFile(f"{path}: not UTF-8 text") from None
    except json.JSONDecodeError as problem:
        raise BadFile(f"{path}: not JSON: {problem.msg}", problem.lineno, problem.colno) from None


@main.command("grade")
@click.option("--exercise", "exercise", required=True, type=click.Path(path_type=Path), help="A job card as JSON.")
@click.option("--answers", "answers", required=True, type=click.Path(path_type=Path), help="Answers by step, as JSON.")
@click.option("--capture", "capture", required=True, type=click.Path(path_type=Path), help="The learner's capture.")
@click.option("--records", "records_file", type=click.Path(path_type=Path), help="Records beside the capture, as JSON.")
@_as_measured
def grade_command(
    exercise: Path,
    answers: Path,
    capture: Path,
    records_file: Path | None,
    maps: tuple[str, ...],
    phases: tuple[str, ...],
    options: tuple[str, ...],
    limits_file: Path | None,
    interval_s: float | None,
    as_json: bool,
) -> None:
    """Grade answers to a job card against what the capture shows, and print every criterion with its reason.

    What is told with --phase, --option (also complaint=hot, shown=idle,hot) and --limits goes over what the card says.
    Records are {"records": [{"kind", "rows"}]}: voltages may show the wires good, a log's actions tell conditions.
    """
    card = card_from_json(_object(_json_file(exercise), exercise))
    given = answers_from_json(card, _object(_json_file(answers), answers))
    kind = card.first.circuit
    loaded = _loaded(capture, kind, maps, interval_s)
    if limits_file:
        told = limits_from_json(_json_file(limits_file), kind.reading_ids)
        first = replace(card.first, limits=merged(card.first.limits, told))
        card = replace(card, captures=(first, *card.captures[1:]))
    records = _records(records_file) if records_file else []
    options_told = with_conditions(dict(_pair(o) for o in options), conditions_shown(records))
    measured = measured_under(card, FIRST, loaded, [_phase(p) for p in phases], options_told)
    taken = Taken(measured, wires_shown=wires_shown(records))
    result = {**grade(Attempt(card, given, {FIRST: taken})), "measured": measured.as_json()}
    click.echo(json.dumps(result, indent=2, ensure_ascii=False))


def _records(path: Path) -> list[Record]:
    rows = _object(_json_file(path), path).get("records")
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        raise BadFile(f'{path}: expected {{"records": [{{"kind": ..., "rows": [...]}}]}}')
    return [(str(r.get("kind")), checked(str(r.get("kind")), r.get("rows"))) for r in rows]


def _object(value: Any, path: Path) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise BadFile(f"{path}: expected a JSON object")
    return value


def _loaded(path: Path, kind: Circuit, maps: tuple[str, ...], interval_s: float | None) -> Capture:
    layout = understand(path)
    mapping = told_mapping(layout, kind, [parse_map(m) for m in maps]) if maps else None
    return load(path, kind, layout, mapping, interval_s)


@main.command("export-openapi")
@click.argument("target", type=click.Path(path_type=Path))
def export_openapi(target: Path) -> None:
    """Write the API's description; the front end's types are generated from it."""
    app = create_app(Settings("127.0.0.1", 0, "none", "none", "none", "none", Path(), Path()))
    with app.test_request_context():
        target.write_text(json.dumps(app.spec, indent=2, sort_keys=True, ensure_ascii=False) + "\n", encoding="utf-8")


@main.group()
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


@main.group()
def trainer() -> None:
    """The simulated vehicle and scope."""


@trainer.command("scope")
@click.option("--port", default=5025, show_default=True, help="Loopback port to listen on; 0 takes a free one.")
@click.option("--circuit", "code", default="throttle-position", show_default=True, help="What hangs on the scope.")
@click.option("--fault", default="none", show_default=True, help="Fault of the part.")
@click.option("--seed", default=1, show_default=True, help="The same seed gives the same samples.")
def trainer_scope(port: int, code: str, fault: str, seed: int) -> None:
    """Serve the trainer's scope over SCPI on this machine until interrupted."""
    made_by = source(code)
    made_by.check_fault(fault)
    settings = ScopeSettings(made_by.range_v, made_by.manoeuvres[0].duration_s, made_by.rate_hz)
    try:
        server = ScopeServer(port, Instrument(code, fault, seed=seed, scope=settings))
    except OSError as problem:
        raise BadOption(f"port {port} cannot be used: {problem.strerror}") from None
    click.echo(f"trainer scope on 127.0.0.1 port {server.port} (Ctrl-C stops it)")
    with server, suppress(KeyboardInterrupt):
        server.serve_forever()


@main.command("migrate")
def migrate_command() -> None:
    """Bring the database's schema up to date."""
    click.echo(f"{migrate(_settings())} migrations applied")


def _settings() -> Settings:
    try:
        return Settings.from_env(os.environ)
    except MissingSetting as missing:
        raise BadOption(str(missing)) from None


@main.command("demo")
def demo_command() -> None:
    """Load the demo class into an empty database."""
    settings = _settings()
    loaded = seed.load(Pool(settings), settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    click.echo("demo class loaded" if loaded else "there is a course already; the demo was not loaded")


if __name__ == "__main__":
    main()
