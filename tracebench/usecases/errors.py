"""What a use case refuses, besides the core's own errors. The web layer turns each into a status."""

from __future__ import annotations

from tracebench.core.errors import TraceBenchError


class NotFound(TraceBenchError):
    """There is no such thing, or not for this person; which of the two is not told."""


class NotAllowed(TraceBenchError):
    """The person's role does not do this."""


class TooSoon(TraceBenchError):
    """Wait before it is tried again: `seconds`."""

    def __init__(self, message: str, seconds: int) -> None:
        super().__init__(message)
        self.seconds = seconds


class NoRoom(TraceBenchError):
    """The disk, or one's share of it, is full."""


class Conflict(TraceBenchError):
    """It changed meanwhile, or its state does not allow this."""
