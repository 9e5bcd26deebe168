"""A card as its learner may see it before release: never the fault, the reference, the points or the key."""

from __future__ import annotations

from collections.abc import Set

from tracebench.core.cards.card import AnyStep, Asked, Card
from tracebench.core.cards.schools import applying
from tracebench.core.steps.compare.step import CompareStep


def learner_view(card: Card, answered: Set[str] = frozenset(), hinted: Set[str] = frozenset()) -> dict[str, object]:
    """Everything that is named here is shown, and nothing else.

    A step that comes after one not yet among the `answered` shows its kind alone; a hint is told once it was taken.
    """
    first = card.first
    asked = frozenset[str]().union(*(s.schools_asked() for s in card.steps))
    return {
        "circuit": first.circuit.code,
        "title": card.title,
        "brief": card.brief,
        "attempts": card.attempts,
        "due": card.due,
        "minutes": card.minutes,
        "practice": card.practice,
        "steps": [_step(card, s, answered, hinted) for s in card.steps],
        "source": _source(first),
        "complaint": first.complaint,
        "limits": _limits(card, first),
        "schools": [
            {"key": s.key, "title": s.title, "way": w.key, "says": w.says}
            for s in applying(first.circuit.code)
            # What a step asks is not told by the notes.
            if s.key not in asked and (w := s.way(card.schools.get(s.key, s.ways[0].key))) is not None
        ],
        "cautions": [c.key for c in card.cautions_of(first.key)],
    }


def _step(card: Card, step: AnyStep, answered: Set[str], hinted: Set[str]) -> dict[str, object]:
    locked = card.is_locked(step.id, answered)
    bare = {"id": step.id, "kind": step.kind, "prompt": "", "capture": step.capture, "reading": None}
    shown = bare if locked else step.shown()
    hint = card.hints.get(step.id)
    return {
        **shown,
        "after": card.after.get(step.id, ""),
        "locked": locked,
        "has_hint": hint is not None,
        "hint": hint if step.id in hinted else None,
    }


def _source(asked: Asked) -> dict[str, object]:
    if asked.source.kind != "trainer":
        return {"kind": asked.source.kind}
    return {"kind": asked.source.kind, "vehicle": asked.source.vehicle or "Trainer"}


def _limits(card: Card, asked: Asked) -> list[dict[str, object]]:
    """The limits of readings that a step compares, as a data sheet would give them, with the zone in force."""
    compared = [s for s in card.steps if isinstance(s, CompareStep) and s.capture == asked.key]
    wanted = {s.reading for s in compared if s.against == "limit"}
    return [
        {
            "reading": limit.reading,
            "low": limit.low,
            "high": limit.high,
            "basis": limit.basis,
            "zone": limit.zone,
            "source": limit.source,
        }
        for limit in card.limits_in_force(asked.key)
        if limit.reading in wanted
    ]
