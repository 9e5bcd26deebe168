"""What every kind of step has: its place on the card, the check of an answer to it, and what is still open of one."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import ClassVar, Generic, Self, TypeVar

from tracebench.core.circuits.circuit import Circuit
from tracebench.core.json_fields import Fields

FIRST = "first"
"""Key of the capture that a card has at the least."""


class Given(ABC):
    """What a learner answered to one step."""

    @abstractmethod
    def as_json(self) -> dict[str, object]:
        """As it is stored and sent; an answer that was taken back is empty."""


G = TypeVar("G", bound=Given)


@dataclass(frozen=True, slots=True)
class Step(ABC, Generic[G]):
    """One step of a card. `capture` is the key of the card's capture that it is about."""

    id: str
    prompt: str
    capture: str

    kind: ClassVar[str]

    @classmethod
    @abstractmethod
    def parsed(cls, row: Fields, circuit: Circuit, capture: str, where: str) -> Self:
        """The step of a card's document. Raises BadOption that names its place."""

    @abstractmethod
    def checked(self, circuit: Circuit, given: Fields) -> G:
        """The answer that came in, or BadAnswer that says what was expected."""

    @abstractmethod
    def open(self, given: G | None, has_capture: bool) -> str | None:
        """What hand-in would miss of it, or None."""

    def schools_asked(self) -> frozenset[str]:
        """Questions of schools that this step asks the learner: what the card says of them is not told before."""
        return frozenset()

    def as_json(self) -> dict[str, object]:
        """The step as it is stored."""
        return {"id": self.id, "kind": self.kind, "prompt": self.prompt, "capture": self.capture, "reading": None}

    def shown(self) -> dict[str, object]:
        """The step as its learner may see it; a kind that carries its own key leaves that out."""
        return self.as_json()


def step_id(name: str, capture: str) -> str:
    """Steps on the first capture go by their name; those on a further one by its key as well."""
    return name if capture == FIRST else f"{capture}/{name}"


PROMPT_LENGTH = 500
