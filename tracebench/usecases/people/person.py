"""Who asks, and what their role lets them."""

from __future__ import annotations

from dataclasses import dataclass

from tracebench.usecases.errors import NotAllowed


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
