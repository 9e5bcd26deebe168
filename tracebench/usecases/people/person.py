"""Who asks, and what their role lets them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypedDict

from tracebench.usecases.errors import NotAllowed


class Account(TypedDict):
    """A person as lists show them; invited: who still has to choose a password."""

    id: int
    sign_in: str
    name: str
    role: str
    active: bool
    added_by: int | None
    invited: bool


@dataclass(frozen=True, slots=True)
class Person:
    """Who asks."""

    id: int
    sign_in: str
    name: str
    role: str
    epoch: int
    session_id: int = 0

    def must_be(self, *roles: str) -> None:
        """Raises NotAllowed unless the person has one of the roles."""
        if self.role not in roles:
            raise NotAllowed(f"this is for {' and '.join(roles)} only")
