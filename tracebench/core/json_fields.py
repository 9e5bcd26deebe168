"""Checks of what comes in as JSON: one helper for each kind of value, which names the field that is wrong."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from tracebench.core.errors import TraceBenchError

Fields = Mapping[str, object]
"""An object of JSON as it came in; nothing is known of its values yet."""


def fields(value: object, where: str, wrong: type[TraceBenchError]) -> Fields:
    if not isinstance(value, Mapping):
        raise wrong(f"{where}: expected an object")
    return value


def listed(value: object, where: str, wrong: type[TraceBenchError]) -> Sequence[object]:
    if value is None:
        return ()
    if not isinstance(value, list | tuple):
        raise wrong(f"{where}: expected a list")
    return value


def number(value: object, where: str, wrong: type[TraceBenchError]) -> float:
    """A finite number; raises what `wrong` is otherwise."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise wrong(f"{where} must be a number, not {value!r}")
    return float(value)


def number_within(value: object, least: float, most: float, where: str, wrong: type[TraceBenchError]) -> float:
    found = number(value, where, wrong)
    if not least <= found <= most:
        raise wrong(f"{where}: a number from {least:g} to {most:g}")
    return found


def whole(value: object, least: int, most: int, where: str, wrong: type[TraceBenchError]) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not least <= value <= most:
        raise wrong(f"{where}: a whole number from {least} to {most}")
    return value


def text(value: object, most: int) -> str:
    """Text of at most so many characters; nothing given is no text."""
    return "" if value is None else str(value)[:most]


def one_of(value: object, known: Sequence[str], where: str, wrong: type[TraceBenchError]) -> str:
    if not isinstance(value, str) or value not in known:
        raise wrong(f"{where} must be one of {', '.join(known)}")
    return value
