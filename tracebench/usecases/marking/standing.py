"""What stands of a sitting's marks, kept beside it, so that lists need neither grades nor changes."""

from __future__ import annotations

import json
from typing import NamedTuple, TypedDict, cast

from tracebench.core.grading.certainty import WORTH_A_LOOK
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.marking.values import Settled


class Standing(TypedDict):
    """The sum, how sure the tool is, what it is unsure of, and the slips it named."""

    earned: float
    points: float
    certainty: float
    unsure: list[str]
    slips: list[str]


class Criterion(NamedTuple):
    """One criterion's points as they stand."""

    title: str
    skill: str
    points: float
    settled: float


def of(settled: Settled) -> Standing:
    """What stands of a grade with its changes laid over it."""
    results = settled["results"]
    return {
        "earned": settled["earned"],
        "points": settled["points"],
        "certainty": settled["certainty"],
        "unsure": [r["title"] for r in results if r["certainty"] < WORTH_A_LOOK],
        "slips": [r["slip"] for r in results if r["slip"]],
    }


def keep(conn: Connection, sitting_id: int, settled: Settled) -> None:
    """In the transaction of the marks themselves."""
    criteria = [[r["title"], r["skill"], r["points"], r["settled"]] for r in settled["results"]]
    queries.sittings.set_standing(conn, sitting_id=sitting_id, standing=packed(of(settled)), criteria=packed(criteria))


def read(kept: str | None) -> Standing | None:
    """None while the marks are being worked out."""
    return None if kept is None else cast(Standing, json.loads(kept))


def criteria(kept: str) -> list[Criterion]:
    return [Criterion(*row) for row in json.loads(kept)]
