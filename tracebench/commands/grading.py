"""Grade answers to a job card."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import click

from tracebench.commands.capture_options import as_measured, json_file, loaded, object_of, pair, phase
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.cards.step import FIRST
from tracebench.core.errors import BadFile, BadOption
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import grade
from tracebench.core.limits import limits_from_json, merged
from tracebench.core.records.judging import checked
from tracebench.core.records.shows import Record, conditions_shown, wires_shown, with_conditions


@click.command("grade")
@click.option("--exercise", "exercise", required=True, type=click.Path(path_type=Path), help="A job card as JSON.")
@click.option("--answers", "answers", required=True, type=click.Path(path_type=Path), help="Answers by step, as JSON.")
@click.option("--capture", "capture", required=True, type=click.Path(path_type=Path), help="The learner's capture.")
@click.option("--records", "records_file", type=click.Path(path_type=Path), help="Records beside the capture, as JSON.")
@click.option("--hint", "hints", multiple=True, metavar="STEP", help="A step whose hint was taken, by its id.")
@as_measured
def grade_command(
    exercise: Path,
    answers: Path,
    capture: Path,
    records_file: Path | None,
    hints: tuple[str, ...],
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
    card = card_from_json(object_of(json_file(exercise), exercise))
    given = answers_from_json(card, object_of(json_file(answers), answers))
    for step_id in hints:
        if step_id not in card.hints:
            raise BadOption(
                f"hint: the card has none for {step_id!r}; it has: {', '.join(card.hints) or 'none at all'}"
            )
    kind = card.first.circuit
    found = loaded(capture, kind, maps, interval_s)
    if limits_file:
        told = limits_from_json(json_file(limits_file), kind.reading_ids)
        first = replace(card.first, limits=merged(card.first.limits, told))
        card = replace(card, captures=(first, *card.captures[1:]))
    records = _records(records_file) if records_file else []
    options_told = with_conditions(dict(pair(o) for o in options), conditions_shown(records))
    measured = measured_under(card, FIRST, found, [phase(p) for p in phases], options_told)
    taken = Taken(measured, wires_shown=wires_shown(records))
    result = {**grade(Attempt(card, given, {FIRST: taken}, frozenset(hints))), "measured": measured.as_json()}
    click.echo(json.dumps(result, indent=2, ensure_ascii=False))


def _records(path: Path) -> list[Record]:
    rows = object_of(json_file(path), path).get("records")
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        raise BadFile(f'{path}: expected {{"records": [{{"kind": ..., "rows": [...]}}]}}')
    return [(str(r.get("kind")), checked(str(r.get("kind")), r.get("rows"))) for r in rows]
