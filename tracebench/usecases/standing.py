"""What stands of a sitting's marks, kept beside it, so that lists need neither grades nor changes."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import Any, TypedDict, cast

from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries

UNSURE = 0.7
"""Certainty under which a mark is to be looked at closely."""


class StandingRow(TypedDict):
    title: str
    skill: str
    points: float
    settled: float


class Standing(TypedDict):
    """The sum, how sure the tool is, what it is unsure of, the slips it named, and each criterion's points."""

    earned: float
    points: float
    certainty: float
    unsure: list[str]
    slips: list[str]
    rows: list[StandingRow]


def of(settled: Mapping[str, Any]) -> Standing:
    """What stands of a grade with its changes laid over it."""
    results: Sequence[Mapping[str, Any]] = settled["results"]
    return {
        "earned": settled["earned"],
        "points": settled["points"],
        "certainty": settled["certainty"],
        "unsure": [r["title"] for r in results if r["certainty"] < UNSURE],
        "slips": [r["slip"] for r in results if r["slip"]],
        "rows": [
            {"title": r["title"], "skill": r["skill"], "points": r["points"], "settled": r["settled"]} for r in results
        ],
    }


def keep(conn: Connection, sitting_id: int, settled: Mapping[str, Any]) -> None:
    """In the transaction of the marks themselves."""
    queries.sittings.set_standing(conn, sitting_id=sitting_id, standing=packed(of(settled)))


def read(kept: str | None) -> Standing | None:
    """None while the marks are being worked out."""
    return None if kept is None else cast(Standing, json.loads(kept))
