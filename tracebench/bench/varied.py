"""A part of a learner's own: a little apart from what the card's source says, so that neighbours differ."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from tracebench.bench.source import Source, row_of

GOLDEN = 0.6180339887498949
"""Steps of this part of a round fall as far from all earlier ones as can be (from memory)."""

SEVERITY_WIDTH = 0.2
MOST_SEVERE = 1.0
LEVEL_WIDTH_V = {"closed_v": 0.08, "open_v": 0.16}
LEVELS_V = {"closed_v": 0.62, "open_v": 4.25}
"""Levels of a sound part, V, where a card's source tells none; both stay well within what is common."""


def spread(place: int, salt: float) -> float:
    """Where a place stands in a round, 0 to 1: the places beside it stand far off."""
    return (salt + place * GOLDEN) % 1.0


def varied(source: Source, part: Mapping[str, Any], place: int, instead: Sequence[str] = ()) -> dict[str, Any]:
    """The part of whoever has that place, from 0: another severity, cylinder and levels than either neighbour's.

    The fault is the card's, or in turn one of those `instead`, in the cylinders and within the severity where it shows
    as clearly as on the card: at most a fifth of the scale below what the card says.
    """
    out = dict(part)
    faults = list(dict.fromkeys([str(part.get("fault", "none")), *instead]))
    out["fault"] = faults[place % len(faults)]
    faulty = out["fault"] != "none"
    if faulty:
        told = min(MOST_SEVERE, float(part.get("severity", 1.0)))
        out["severity"] = round(told - SEVERITY_WIDTH * told * spread(place, 0.0), 3)
    if faulty and source.by_cylinder:
        row = sorted(row_of(part))
        first = row.index(min(int(part.get("cylinder", 3)), len(row)))
        out["cylinder"] = row[(first + place) % len(row)]
    if source.by_hand:
        for salt, (key, width) in enumerate(LEVEL_WIDTH_V.items(), start=1):
            told = float(part.get(key) or LEVELS_V[key])
            out[key] = round(told + width * (spread(place, salt / 3) - 0.5), 3)
    return out
