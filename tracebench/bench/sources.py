"""The circuits that the trainer can show, by code."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.bench.source import Source
from tracebench.core.circuits.catalogue import Rooms
from tracebench.core.errors import UnknownCircuit

SOURCES: Mapping[str, Source] = Rooms("source", "SOURCE")


def source(code: str) -> Source:
    """The trainer's source of a circuit. Raises UnknownCircuit."""
    try:
        return SOURCES[code]
    except KeyError:
        raise UnknownCircuit(f"the trainer has no circuit {code!r}; it has: {', '.join(SOURCES)}") from None
