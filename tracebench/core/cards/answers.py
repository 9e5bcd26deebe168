"""The answers given to a card, checked where they come in."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypedDict

from tracebench.core import json_fields
from tracebench.core.cards.card import Card
from tracebench.core.cards.step import Given
from tracebench.core.errors import BadAnswer

Answers = Mapping[str, Given]
"""What was given, by step."""


def answer_from_json(card: Card, step_id: str, answer: object) -> Given:
    """One step's answer, or BadAnswer that says what was expected. An empty object takes an answer back."""
    step = card.step(step_id)
    if step is None:
        raise BadAnswer(f"this card has no step {step_id!r}")
    found: Given = step.checked(card.circuit_of(step), json_fields.fields(answer, step_id, BadAnswer))
    return found


def answers_from_json(card: Card, answers: object) -> dict[str, Given]:
    """All answers of a sitting. Raises BadAnswer that names the step."""
    return {
        key: answer_from_json(card, key, one) for key, one in json_fields.fields(answers, "answers", BadAnswer).items()
    }


def answers_as_json(answers: Answers) -> dict[str, dict[str, object]]:
    return {key: given.as_json() for key, given in answers.items()}


class Unanswered(TypedDict):
    """A step that hand-in would miss, and what is missing."""

    step: str
    what: str


def unanswered(card: Card, answers: Answers, captured: bool) -> list[Unanswered]:
    """What hand-in would miss: [{step, what}], in the card's order; empty when complete."""
    found = ((step, step.open(answers.get(step.id), captured)) for step in card.steps)
    return [{"step": step.id, "what": what} for step, what in found if what]
