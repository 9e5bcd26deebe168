"""Cards as documents: parsed once where they come in, written once where they go out."""

from __future__ import annotations

import re
from calendar import monthrange
from collections.abc import Mapping, Sequence
from typing import Literal, cast

from tracebench.core import json_fields
from tracebench.core.cards.card import AnyStep, Asked, Card, Source
from tracebench.core.cards.rubric import rubric_from_json
from tracebench.core.cards.schools import SCHOOLS
from tracebench.core.cards.step import FIRST, PROMPT_LENGTH
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.circuits.conditions import ALWAYS, COMMON_OPTIONS, CONDITIONS
from tracebench.core.errors import BadOption
from tracebench.core.limits import limits_from_json
from tracebench.core.steps import KINDS

SOURCES = ("trainer", "upload", "shelf")
COMPLAINTS = (ALWAYS.key, *(c.key for c in CONDITIONS))
MOST_CAPTURES = 8
EXAM, PRACTICE = "exam", "practice"
LONGEST_MIN = 480


def card_from_json(document: object) -> Card:
    """The card of a document, defaults filled in; raises BadOption (or UnknownCircuit) that names the field.

    A document is flat: circuit, source, options, limits, reference and complaint are those of its first capture, and
    `further` lists captures beside it, each with a key and the same fields.
    """
    row = json_fields.fields(document, "card", BadOption)
    title = json_fields.text(row.get("title"), 1000).strip()
    if not 1 <= len(title) <= 120:
        raise BadOption("title: give the card a name of 1 to 120 characters")
    attempts = json_fields.whole(row.get("attempts", 1), 1, 20, "attempts", BadOption)
    further = json_fields.listed(row.get("further"), "further", BadOption)
    if len(further) >= MOST_CAPTURES:
        raise BadOption(f"further: a card has up to {MOST_CAPTURES} captures")
    captures = [_asked(row, FIRST, "")]
    for place, one in enumerate(further, start=1):
        where = f"further capture {place}: "
        more = json_fields.fields(one, where.rstrip(": "), BadOption)
        key = json_fields.text(more.get("key"), 40).strip()
        if not key or "/" in key or key in {c.key for c in captures}:
            raise BadOption(f"{where}key: a name of its own, without a slash")
        captures.append(_asked(more, key, where))
    due, opens = row.get("due"), row.get("opens")
    steps = _steps(row.get("steps"), {c.key: c.circuit for c in captures})
    hints, after = _beside_steps(json_fields.listed(row.get("steps"), "steps", BadOption), steps)
    return Card(
        title=title,
        brief=json_fields.text(row.get("brief"), 4000),
        attempts=attempts,
        due=None if due is None else str(due),
        captures=tuple(captures),
        steps=steps,
        schools=_schools(row),
        rubric=rubric_from_json(row.get("rubric")),
        points=_points(row.get("points")),
        hints=hints,
        after=after,
        opens=None if not opens else _day(opens),
        minutes=None
        if row.get("minutes") is None
        else json_fields.whole(row["minutes"], 1, LONGEST_MIN, "minutes", BadOption),
        practice=json_fields.one_of(row.get("mode") or EXAM, (EXAM, PRACTICE), "mode", BadOption) == PRACTICE,
    )


def _day(value: object) -> str:
    """An ISO date that exists, as it was written."""
    found = re.fullmatch(r"(\d{4})-(\d{2})-(\d{2})", str(value)[:20])
    year, month, day = map(int, found.groups()) if found else (0, 0, 0)
    if not (1 <= month <= 12 and year > 0 and 1 <= day <= monthrange(year, month)[1]):
        raise BadOption(f"opens: a date such as 2030-01-31, not {value!r}")
    return str(value)


def _beside_steps(rows: Sequence[object], steps: Sequence[AnyStep]) -> tuple[dict[str, str], dict[str, str]]:
    """Hints of steps, and what each comes after: an earlier step by its id."""
    hints, after = {}, {}
    for place, (row, step) in enumerate(zip(rows, steps, strict=True), start=1):
        told = row if isinstance(row, Mapping) else {}
        hint = json_fields.text(told.get("hint"), PROMPT_LENGTH).strip()
        if hint:
            hints[step.id] = hint
        earlier = told.get("after") or ""
        if earlier:
            if earlier not in {s.id for s in steps[: place - 1]}:
                raise BadOption(f"step {place}: after: the id of an earlier step")
            after[step.id] = str(earlier)
    return hints, after


def _asked(row: json_fields.Fields, key: str, where: str) -> Asked:
    kind = circuit_of(str(row.get("circuit", "")))
    source = json_fields.fields(row.get("source") or {}, f"{where}source", BadOption)
    if source.get("kind") not in SOURCES:
        raise BadOption(f"{where}source: choose one of {', '.join(SOURCES)}")
    vehicle = source.get("vehicle")
    part = {k: v for k, v in source.items() if k not in ("kind", "vehicle", "varied", "instead", "version_id")}
    given = source.get("version_id") if source["kind"] == "shelf" else None
    options = json_fields.fields(row.get("options") or {}, f"{where}options", BadOption)
    known = {o.key for o in (*kind.options, *COMMON_OPTIONS)}
    complaint = row.get("complaint") or options.get("complaint") or ALWAYS.key
    version = row.get("reference_version_id")
    return Asked(
        key=key,
        circuit=kind,
        source=Source(
            cast(Literal["trainer", "upload", "shelf"], source["kind"]),
            None if vehicle is None else str(vehicle),
            part,
            source["kind"] == "trainer" and source.get("varied") is not False,
            tuple(
                json_fields.text(fault, 80)
                for fault in json_fields.listed(source.get("instead"), f"{where}source: instead", BadOption)
            ),
            None if given is None else json_fields.whole(given, 1, 1 << 62, f"{where}source: version_id", BadOption),
        ),
        options={k: str(v) for k, v in options.items() if k in known and k != "complaint"},
        limits=limits_from_json(
            {"limits": list(json_fields.listed(row.get("limits"), "limits", BadOption))}, kind.reading_ids
        ),
        reference_version_id=None
        if version is None
        else json_fields.whole(version, 1, 1 << 62, "reference", BadOption),
        complaint=json_fields.one_of(complaint, COMPLAINTS, f"{where}complaint", BadOption),
    )


def _steps(value: object, circuits: Mapping[str, Circuit]) -> tuple[AnyStep, ...]:
    steps = json_fields.listed(value, "steps", BadOption)
    if not steps:
        raise BadOption("steps: a card needs at least one step")
    out: list[AnyStep] = []
    for place, one in enumerate(steps, start=1):
        where = f"step {place}"
        row = one if isinstance(one, Mapping) else {}
        kind = row.get("kind")
        if not isinstance(kind, str) or kind not in KINDS:
            raise BadOption(f"{where}: choose one of {', '.join(KINDS)}")
        capture = str(row.get("capture") or FIRST)
        if capture not in circuits:
            raise BadOption(f"{where}: the card has no capture {capture!r}; it has {', '.join(circuits)}")
        step = KINDS[kind].parsed(row, circuits[capture], capture, where)
        if any(s.id == step.id for s in out):
            raise BadOption(f"{where}: {step.id} is on the card twice")
        out.append(step)
    return tuple(out)


def _schools(row: json_fields.Fields) -> dict[str, str]:
    """The ways chosen; a card from before there were several schools has the speed of its sweep as `school`."""
    given = dict(json_fields.fields(row.get("schools") or {}, "schools", BadOption))
    if "sweep" not in given and row.get("school") is not None:
        given["sweep"] = row["school"]
    known = {s.key: s for s in SCHOOLS}
    out = {}
    for key, chosen in given.items():
        if key not in known:
            raise BadOption(f"schools: unknown question {key!r}; known: {', '.join(known)}")
        if not isinstance(chosen, str) or known[key].way(chosen) is None:
            raise BadOption(f"school {key}: one of {', '.join(w.key for w in known[key].ways)}")
        out[key] = chosen
    return out


def _points(value: object) -> dict[str, float]:
    given = json_fields.fields(value or {}, "points", BadOption)
    return {k: json_fields.number_within(v, 0, 100, f"points for {k}", BadOption) for k, v in given.items()}


def card_as_json(card: Card) -> dict[str, object]:
    """The card's document, as `card_from_json` reads it."""
    further = [{"key": c.key, **_asked_as_json(c)} for c in card.captures[1:]]
    return {
        **_asked_as_json(card.first),
        **({"further": further} if further else {}),
        "title": card.title,
        "brief": card.brief,
        "attempts": card.attempts,
        "due": card.due,
        "schools": dict(card.schools),
        "rubric": card.rubric.as_json(),
        "points": dict(card.points),
        "steps": [_step_as_json(card, s) for s in card.steps],
        **({"opens": card.opens} if card.opens else {}),
        **({"minutes": card.minutes} if card.minutes else {}),
        **({"mode": PRACTICE} if card.practice else {}),
    }


def _step_as_json(card: Card, step: AnyStep) -> dict[str, object]:
    beside = {"hint": card.hints.get(step.id), "after": card.after.get(step.id)}
    return {**step.as_json(), **{key: value for key, value in beside.items() if value is not None}}


def _asked_as_json(asked: Asked) -> dict[str, object]:
    vehicle = {} if asked.source.vehicle is None else {"vehicle": asked.source.vehicle}
    return {
        "circuit": asked.circuit.code,
        "source": {
            "kind": asked.source.kind,
            **vehicle,
            **asked.source.part,
            **({"varied": asked.source.varied} if asked.source.kind == "trainer" else {}),
            **({"instead": list(asked.source.instead)} if asked.source.instead else {}),
            **({"version_id": asked.source.version_id} if asked.source.version_id is not None else {}),
        },
        "options": dict(asked.options),
        "limits": [limit.as_json() for limit in asked.limits],
        "reference_version_id": asked.reference_version_id,
        "complaint": asked.complaint,
    }
