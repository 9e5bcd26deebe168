"""Job cards and the answers given to them: what they hold and what is refused. Plain JSON in, checked JSON out."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption

STEP_KINDS = ("cautions", "capture", "reading", "compare", "call")
SOURCES = ("trainer", "upload")
VERDICTS = ("sound", "faulty", "inconclusive")
STATES = ("inside", "marginal", "outside")

Json = dict[str, Any]


def checked_card(document: Mapping[str, Any]) -> Json:
    """A card's document with defaults filled in; raises BadOption that names the field."""
    kind = circuit_of(str(document.get("circuit", "")))
    title = str(document.get("title", "")).strip()
    if not 1 <= len(title) <= 120:
        raise BadOption("title: give the card a name of 1 to 120 characters")
    source = document.get("source") or {}
    if source.get("kind") not in SOURCES:
        raise BadOption(f"source: choose one of {', '.join(SOURCES)}")
    attempts = document.get("attempts", 1)
    if not isinstance(attempts, int) or not 1 <= attempts <= 20:
        raise BadOption("attempts: a whole number from 1 to 20")
    school = document.get("school", "slow")
    if school not in ("slow", "any"):
        raise BadOption("school: slow or any")
    return {
        "circuit": kind.code,
        "title": title,
        "brief": str(document.get("brief", ""))[:4000],
        "source": dict(source),
        "school": school,
        "attempts": attempts,
        "due": document.get("due"),
        "reference_version_id": document.get("reference_version_id"),
        "limits": list(document.get("limits") or []),
        "options": dict(document.get("options") or {}),
        "steps": _steps(document.get("steps") or [], kind),
        "points": {k: _points(k, v) for k, v in (document.get("points") or {}).items()},
    }


def engine_of(card: Mapping[str, Any]) -> dict[str, Any]:
    """What the trainer is to be for a card: its part, in an engine that fires as the card will be marked by."""
    told = (card.get("options") or {}).get("firing_order")
    return {**card["source"], "firing_order": told} if told else dict(card["source"])


def card_options(card: Mapping[str, Any]) -> dict[str, str]:
    """The circuit's options that a card stands for: those of its reference, and the school in force."""
    known = {o.key for o in circuit_of(card["circuit"]).options}
    options = {k: str(v) for k, v in (card.get("options") or {}).items() if k in known}
    return {**options, "sweep": card["school"]} if "sweep" in known else options


def _points(key: str, value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= 100:
        raise BadOption(f"points for {key}: a number from 0 to 100")
    return float(value)


def _steps(steps: Any, kind: Circuit) -> list[Json]:
    if not isinstance(steps, list) or not steps:
        raise BadOption("steps: a card needs at least one step")
    out: list[Json] = []
    for place, step in enumerate(steps, start=1):
        name = step.get("kind") if isinstance(step, Mapping) else None
        if name not in STEP_KINDS:
            raise BadOption(f"step {place}: choose one of {', '.join(STEP_KINDS)}")
        reading = step.get("reading")
        if name in ("reading", "compare") and kind.reading(str(reading)) is None:
            raise BadOption(f"step {place}: {kind.code} has no reading {reading!r}")
        step_id = f"{name}-{reading}" if name in ("reading", "compare") else str(name)
        if any(s["id"] == step_id for s in out):
            raise BadOption(f"step {place}: {step_id} is on the card twice")
        out.append({"id": step_id, "kind": name, "reading": reading, "prompt": str(step.get("prompt", ""))[:500]})
    return out


def checked_answer(card: Mapping[str, Any], step_id: str, answer: Any) -> Json:
    """One step's answer, or BadAnswer that says what was expected. An empty object takes an answer back."""
    step = next((s for s in card["steps"] if s["id"] == step_id), None)
    if step is None:
        raise BadAnswer(f"this card has no step {step_id!r}")
    if not isinstance(answer, Mapping):
        raise BadAnswer(f"{step_id}: expected an object")
    checks = {
        "cautions": _cautions,
        "capture": _capture,
        "reading": _reading,
        "compare": _compare,
        "call": _call,
    }
    return checks[step["kind"]](circuit_of(card["circuit"]), step_id, answer)


def _cautions(kind: Circuit, step_id: str, answer: Mapping[str, Any]) -> Json:
    known = {c.key for c in kind.cautions}
    read = answer.get("read", [])
    if not isinstance(read, list) or not set(read) <= known:
        raise BadAnswer(f"{step_id}: expected read: a list of {', '.join(sorted(known))}")
    return {"read": sorted(set(read))}


def _capture(kind: Circuit, step_id: str, answer: Mapping[str, Any]) -> Json:
    return {"note": str(answer.get("note", ""))[:2000]}


def _number(step_id: str, name: str, value: Any) -> float | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise BadAnswer(f"{step_id}: {name} must be a number, not {value!r}")
    return float(value)


def _span(step_id: str, value: Any) -> list[float]:
    if not isinstance(value, list) or not 1 <= len(value) <= 2:
        raise BadAnswer(f"{step_id}: a stretch is one or two instants in seconds")
    instants = [_number(step_id, "instant", v) for v in value]
    return sorted(v for v in instants if v is not None)


def _reading(kind: Circuit, step_id: str, answer: Mapping[str, Any]) -> Json:
    if answer.get("absent"):
        return {"absent": True}
    out: Json = {"value": _number(step_id, "value", answer.get("value"))}
    if answer.get("pegs"):
        out["pegs"] = _span(step_id, answer["pegs"])
    return {} if out["value"] is None and "pegs" not in out else out


def _compare(kind: Circuit, step_id: str, answer: Mapping[str, Any]) -> Json:
    state = answer.get("state")
    if state is None:
        return {}
    if state not in STATES:
        raise BadAnswer(f"{step_id}: state must be one of {', '.join(STATES)}")
    return {"state": state}


def _call(kind: Circuit, step_id: str, answer: Mapping[str, Any]) -> Json:
    choices = {
        "verdict": VERDICTS,
        "cause": tuple(c.key for c in kind.causes),
        "next_test": tuple(c.key for c in kind.next_tests),
    }
    out: Json = {}
    for name, known in choices.items():
        value = answer.get(name)
        if value is None:
            continue
        if value not in known:
            raise BadAnswer(f"{step_id}: {name} must be one of {', '.join(known)}")
        out[name] = value
    evidence = answer.get("evidence") or []
    if not isinstance(evidence, list) or len(evidence) > 10:
        raise BadAnswer(f"{step_id}: evidence is a list of up to ten stretches")
    out["evidence"] = [_span(step_id, e) for e in evidence]
    confidence = _number(step_id, "confidence", answer.get("confidence"))
    if confidence is not None:
        if not 0 <= confidence <= 100:
            raise BadAnswer(f"{step_id}: confidence lies between 0 and 100 %")
        out["confidence"] = confidence
    out["words"] = str(answer.get("words", ""))[:2000]
    return out


def unanswered(card: Mapping[str, Any], answers: Mapping[str, Any], has_capture: bool) -> list[Json]:
    """What hand-in would miss: [{step, what}], in the card's order; empty when complete."""
    out: list[Json] = []
    for step in card["steps"]:
        given = answers.get(step["id"]) or {}
        what = {
            "cautions": lambda g: None if g.get("read") else "the cautions are not acknowledged",
            "capture": lambda g: None if has_capture else "there is no capture yet",
            "reading": lambda g: None if g.get("absent") or g.get("value") is not None else "no value yet",
            "compare": lambda g: None if g.get("state") else "no state chosen",
            "call": _call_misses,
        }[step["kind"]](given)
        if what:
            out.append({"step": step["id"], "what": what})
    return out


def _call_misses(given: Mapping[str, Any]) -> str | None:
    misses = [
        name
        for name, key in (
            ("sound, faulty or cannot tell", "verdict"),
            ("cause", "cause"),
            ("evidence", "evidence"),
            ("next test", "next_test"),
            ("how sure", "confidence"),
        )
        if given.get(key) in (None, [], "")
    ]
    return "still open: " + ", ".join(misses) if misses else None


def learner_view(card: Mapping[str, Any]) -> Json:
    """The card as a learner may see it before release: never the fault, the reference or the points' keys."""
    source = card["source"]
    shown = {"kind": source["kind"]}
    if source["kind"] == "trainer":
        shown["vehicle"] = source.get("vehicle", "Trainer")
    return {
        **{k: card[k] for k in ("circuit", "title", "brief", "school", "attempts", "due", "steps")},
        "source": shown,
        "limits": [
            {k: limit[k] for k in ("reading", "low", "high", "basis")}
            for limit in card["limits"]
            if any(s["kind"] == "compare" and s["reading"] == limit["reading"] for s in card["steps"])
        ],
    }
