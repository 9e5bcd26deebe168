"""Numbers that decide, each with its unit and its reason or source, so that a reader finds all of them in one table."""

from __future__ import annotations

from typing import Self


class Threshold(float):
    """A number that decides, in `unit` ('' for a plain ratio), with the reason for it or its source."""

    unit: str
    reason: str

    def __new__(cls, value: float, unit: str, reason: str) -> Self:
        made = super().__new__(cls, value)
        made.unit, made.reason = unit, reason
        return made


class Count(int):
    """A whole number that decides, of what `unit` names, with the reason for it or its source."""

    unit: str
    reason: str

    def __new__(cls, value: int, unit: str, reason: str) -> Self:
        made = super().__new__(cls, value)
        made.unit, made.reason = unit, reason
        return made


def reach(least: float, most: float, unit: str, reason: str) -> tuple[Threshold, Threshold]:
    """The two ends of what is allowed or usual."""
    return Threshold(least, unit, reason), Threshold(most, unit, reason)
