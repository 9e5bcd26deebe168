"""Write the JSON Schemas of card and answers documents to docs/: python -m scripts.document_schemas

They are made from the tables that the doors check by; a test fails when they are not fresh.
"""

from __future__ import annotations

import json
from dataclasses import fields
from pathlib import Path
from typing import Any

from tracebench.core.answer import BASES
from tracebench.core.arithmetic import CALCULATIONS
from tracebench.core.cards.documents import COMPLAINTS, EXAM, LONGEST_MIN, MOST_CAPTURES, PRACTICE, SOURCES
from tracebench.core.cards.rubric import TITLES, Rubric
from tracebench.core.cards.schools import GROUNDS, SCHOOLS
from tracebench.core.circuits import CIRCUITS
from tracebench.core.grading.grade import CRITERIA
from tracebench.core.records.kinds import KINDS as RECORDS
from tracebench.core.steps import KINDS
from tracebench.core.steps.call.step import ASKS, MOST_KEPT, MOST_PIECES, VERDICTS
from tracebench.core.steps.compare.step import AGAINST, LIKENESSES, STATES
from tracebench.core.steps.connect import ASKS as CONNECT_ASKS
from tracebench.core.steps.reading.step import MOST_CYLINDERS
from tracebench.core.steps.set_up import TRIGGER
from tracebench.core.steps.spot import AMONG

DOCS = Path(__file__).resolve().parent.parent / "docs"
DIALECT = "https://json-schema.org/draft/2020-12/schema"

Schema = dict[str, Any]

SHARE: Schema = {"type": "number", "minimum": 0, "maximum": 1}


def _open_or(kind: str, **more: Any) -> Schema:
    return {"type": [kind, "null"], **more}


def _object(properties: Schema, required: tuple[str, ...] = (), **more: Any) -> Schema:
    return {"type": "object", "properties": properties, "required": list(required), **more}


def _limit() -> Schema:
    about = {
        "low": _open_or("number", description="null for an open side"),
        "high": _open_or("number"),
        "marginal": _open_or("number", minimum=0, description="width of the marginal zone; null: 5 % of the span"),
        "condemns": {"type": "boolean", "default": True},
        "source": {"type": "string", "description": "where the figure stands"},
        "when": {"type": "string", "description": "condition that it holds under; empty: any"},
        "basis": {"enum": list(BASES), "default": "maker"},
    }
    return _object({"reading": {"type": "string"}, **about}, ("reading",))


def _capture() -> Schema:
    source = {"kind": {"enum": list(SOURCES)}, "vehicle": {"type": "string"}, "fault": {"type": "string"}}
    source["version_id"] = {"type": ["integer", "null"], "description": "shelf: version whose capture is given"}
    source["varied"] = {"type": "boolean", "description": "each learner gets a part of their own, a little apart"}
    source["instead"] = {
        "type": "array",
        "items": {"type": "string"},
        "description": "varied: faults that learners are given in turn with that one",
    }
    return {
        "circuit": {"enum": sorted(CIRCUITS)},
        "source": _object(source, ("kind",), description="beside these, figures of the trainer's part and engine"),
        "options": {"type": "object", "additionalProperties": {"type": ["string", "number"]}},
        "limits": {"type": "array", "items": _limit()},
        "reference_version_id": _open_or("integer"),
        "complaint": {"enum": list(COMPLAINTS), "default": "always", "description": "when the complaint shows"},
    }


def _step() -> Schema:
    text = {"type": "string"}
    wire = _object({"label": text, "seen": text, "lane": text}, ("label", "lane"))
    numbers = ("value", "uncertainty", "from", "to")
    other = _object({key: {"type": "number"} for key in numbers}, ("value",))
    properties = {
        "kind": {"enum": list(KINDS)},
        "reading": _open_or("string", description="of reading and compare steps"),
        "cylinder": _open_or("integer", minimum=1, maximum=MOST_CYLINDERS),
        "event": _open_or("integer", minimum=1),
        "capture": {"type": "string", "default": "first", "description": "key of the capture it is about"},
        "prompt": {"type": "string"},
        "hint": {"type": "string", "description": "told for part of the step's points"},
        "after": {"type": "string", "description": "id of an earlier step that must be answered before it is shown"},
        "calculation": {"enum": list(CALCULATIONS), "description": "work_out"},
        "figures": {"type": "object", "additionalProperties": {"type": "number"}, "description": "work_out: given"},
        "readings": {"type": "object", "additionalProperties": {"type": "string"}, "description": "work_out: read"},
        "comes_to": {"type": "string", "description": "work_out: the reading that the result is, figures being found"},
        "against": {"enum": list(AGAINST), "default": "limit", "description": "compare"},
        "within_pct": {"type": "number", "minimum": 0, "maximum": 100, "description": "compare: alike within"},
        "version_id": {"type": "integer", "description": "compare: version of the reference that is the other capture"},
        "other": {**other, "description": "compare: what the other capture gives, seconds of its own record"},
        "names": {"type": "array", "items": {"type": "string"}, "description": "name: phases to be found"},
        "among": {"enum": list(AMONG), "description": "spot"},
        "wires": {"type": "array", "items": wire, "description": "connect"},
        "highest": {"type": "number", "description": "set_up: what the signal reaches, in its lane's unit"},
        "lasts_s": {"type": "number", "description": "set_up: how long a record must be"},
        "sees_s": _open_or("number", description="set_up: seconds of the shortest thing that must be seen"),
        "of": {"enum": list(RECORDS), "description": "record: its kind"},
        "least": {"type": "integer", "minimum": 1, "maximum": 40, "description": "record: rows wanted"},
        "asks": {
            "type": "array",
            "items": {"enum": [*ASKS, *CONNECT_ASKS, TRIGGER]},
            "description": "what a card wants besides: of a call, of connecting, of setting up",
        },
        "phrases": {"type": "array", "items": {"type": "string"}, "description": "explain: what to look for"},
    }
    return _object(properties, ("kind",))


def card() -> Schema:
    schools = {s.key: {"enum": [w.key for w in s.ways], "description": s.title} for s in SCHOOLS}
    rubric = {f.name: {**SHARE, "default": f.default, "description": TITLES[f.name]} for f in fields(Rubric)}
    points = {c.key: {"type": "number", "minimum": 0, "maximum": 100, "default": c.points} for c in CRITERIA}
    further = _object({"key": {"type": "string"}, **_capture()}, ("key", "circuit", "source"))
    properties = {
        "title": {"type": "string", "minLength": 1, "maxLength": 120},
        "brief": {"type": "string"},
        "attempts": {"type": "integer", "minimum": 1, "maximum": 20, "default": 1},
        "due": _open_or("string"),
        "opens": _open_or("string", description="date before which nobody begins"),
        "minutes": _open_or("integer", minimum=1, maximum=LONGEST_MIN, description="time limit of a sitting"),
        "mode": {"enum": [EXAM, PRACTICE], "description": "practice: the tool's own marks at once, which do not count"},
        **_capture(),
        "further": {"type": "array", "items": further, "maxItems": MOST_CAPTURES - 1},
        "school": {"enum": ["slow", "any"], "description": "speed of the sweep, in cards from before `schools`"},
        "schools": _object(schools, additionalProperties=False),
        "rubric": _object(rubric, additionalProperties=False),
        "points": _object(points),
        "steps": {"type": "array", "items": _step(), "minItems": 1},
    }
    head = {"$schema": DIALECT, "title": "A job card", "description": "What `tracebench grade --exercise` reads."}
    return {**head, **_object(properties, ("title", "circuit", "source", "steps"))}


def answers() -> Schema:
    instants = {"type": "array", "items": {"type": "number"}, "minItems": 1, "maxItems": 2}
    properties = {
        "read": {"type": "array", "items": {"type": "string"}, "description": "cautions: those acknowledged"},
        "note": {"type": "string", "description": "capture"},
        "ground": {"enum": list(GROUNDS), "description": "capture, connect: where the ground lead was or goes"},
        "value": _open_or("number", description="reading"),
        "absent": {"type": "boolean", "description": "reading: there is none here"},
        "pegs": {"type": "array", "items": {"type": "number"}, "maxItems": 2, "description": "reading: where, seconds"},
        "state": {"enum": [*STATES, *LIKENESSES], "description": "compare"},
        "lane": {"type": "string", "description": "spot among lanes: the odd one"},
        "verdict": {"enum": list(VERDICTS), "description": "call"},
        "cause": {"type": "string"},
        "next_test": {"type": "string"},
        "evidence": {
            "type": "array",
            "items": instants,
            "maxItems": MOST_KEPT,
            "description": f"call: stretches of the record, or single instants, seconds; the first {MOST_PIECES} count",
        },
        "confidence": {"type": "number", "minimum": 0, "maximum": 100},
        "ruled_out": {
            "type": "array",
            "items": _object({"cause": {"type": "string"}, "by": {**instants, "minItems": 0}}, ("cause",)),
            "description": "call: causes ruled out, each by a stretch or instant",
        },
        "otherwise": {"type": "string", "description": "call: the test where the next one does not cure it"},
        "words": {"type": "string", "description": "call, explain"},
        "figures": {"type": "object", "additionalProperties": {"type": "number"}, "description": "work_out"},
        "marks": {
            "type": "object",
            "additionalProperties": instants,
            "description": "name: where each stands, seconds",
        },
        "wires": {"type": "object", "additionalProperties": {"type": "string"}, "description": "connect: lane of each"},
        "probe": {"type": "string", "description": "connect: what goes before the input"},
        "trigger_level": {"type": "number", "description": "set_up"},
        "range_v": {"type": "number", "description": "set_up"},
        "duration_s": {"type": "number", "description": "set_up"},
        "rate_hz": {"type": "number", "description": "set_up"},
        "rows": {"type": "array", "items": {"type": "object"}, "description": "record"},
    }
    about = (
        "What `tracebench grade --answers` reads: by step id, which is the kind of the step (cautions, capture, call), "
        "with its reading (reading-open_v, compare-open_v), its cylinder (reading-burn_ms@3) or event "
        "(reading-burn_ms#17), and before all the key of a further capture (feeds/reading-ground_v)."
    )
    head = {"$schema": DIALECT, "title": "Answers to a job card", "description": about}
    return {**head, "type": "object", "additionalProperties": _object(properties)}


DOCUMENTS = {"card.schema.json": card, "answers.schema.json": answers}


def main() -> None:
    for name, made in DOCUMENTS.items():
        text = json.dumps(made(), indent=2, ensure_ascii=False)
        (DOCS / name).write_text(text + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
