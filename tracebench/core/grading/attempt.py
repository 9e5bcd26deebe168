"""What grading works from: a card, the answers to it, and what the tool measures on the learner's own captures."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence, Set
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, TypeVar, cast

from tracebench.core.answer import Answer, Phase
from tracebench.core.capture import Capture
from tracebench.core.cards.step import Given, Step
from tracebench.core.circuits import measure
from tracebench.core.proposal.another import without_another

if TYPE_CHECKING:
    from tracebench.core.cards.card import Card

G = TypeVar("G", bound=Given)
R = TypeVar("R")


@dataclass(frozen=True, slots=True)
class Taken:
    """One capture of a sitting as measured, with what else is known of it.

    `ground` is where the ground lead was, where the recorder knows it. `wires_shown` says that records beside the
    capture show supply, reference or ground good.
    """

    measured: Answer
    ground: str | None = None
    wires_shown: bool = False


@dataclass(frozen=True, slots=True)
class Attempt:
    """One handed-in sitting. `taken` holds its captures by their key on the card; one not there was not made.

    `hinted` are the steps whose hint was taken.
    """

    card: Card
    answers: Mapping[str, Given]
    taken: Mapping[str, Taken]
    hinted: Set[str] = frozenset()
    _known: dict[tuple[str, str], Any] = field(default_factory=dict, init=False, repr=False, compare=False)

    def once(self, what: str, step: Step[Any], find: Callable[[], R]) -> R:
        """What several criteria ask of the answer to a step, found once."""
        key = (what, step.id)
        if key not in self._known:
            self._known[key] = find()
        return cast("R", self._known[key])

    def given(self, step: Step[G]) -> G | None:
        """The answer to a step, None where there is none."""
        return cast("G | None", self.answers.get(step.id))

    def taken_for(self, step: Step[Any]) -> Taken | None:
        return self.taken.get(step.capture)

    def measured_for(self, step: Step[Any]) -> Answer | None:
        taken = self.taken.get(step.capture)
        return None if taken is None else taken.measured


def measured_under(
    card: Card,
    key: str,
    capture: Capture,
    phases: Sequence[Phase] = (),
    told: Mapping[str, str] | None = None,
) -> Answer:
    """What the core says of a capture under its card: with the card's options, schools, complaint and limits.

    Nothing of its circuit is measured on a record of another that a learner took; what a card gives is its own.
    `told` are options that were told of this capture, over the card's. Raises BadOption or BadCapture.
    """
    asked = card.asked(key)
    answer = measure(capture, asked.circuit.code, phases, {**card.options(key), **(told or {})}, asked.limits)
    return answer if asked.source.given else without_another(answer, capture, asked.circuit)
