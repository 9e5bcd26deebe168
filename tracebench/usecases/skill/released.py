"""Marks that were released, read again only when one of them has changed: maps and lists ask for them at every look."""

from __future__ import annotations

from collections import OrderedDict, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from threading import Lock
from typing import TypedDict

from tracebench.core.skill import SKILLS, Estimate, Outcome, Rating, course_of
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.marking import standing
from tracebench.usecases.marking.standing import Criterion

_EPOCH = datetime(2020, 1, 1)  # noqa: DTZ001 - instants in the database are UTC without a mark
_MOST_KEPT = 64


@dataclass(frozen=True, slots=True)
class Released:
    """A released sitting: its card, and the points that stand."""

    id: int
    card_id: int
    title: str
    handed_in_at: datetime
    criteria: list[Criterion]

    @property
    def earned(self) -> float:
        return round(sum(c.settled for c in self.criteria), 2)

    @property
    def points(self) -> float:
        return round(sum(c.points for c in self.criteria), 2)


Skills = Mapping[str, Sequence[tuple[Released, Estimate]]]
"""By skill, each sitting that asked for it and the estimate after it."""


class Cell(TypedDict):
    """A learner's estimate of one skill; `change` is that of the last sitting."""

    skill: str
    estimate: float
    low: float
    high: float
    criteria: int
    change: float | None


@dataclass(frozen=True, slots=True, eq=False)
class Marks:
    """Released sittings by course and learner, in order of hand-in, and the courses of skill that follow from them."""

    sittings: Mapping[tuple[int, int], Sequence[Released]]
    _skills: dict[tuple[int, int], Skills] = field(default_factory=dict)
    _cells: dict[tuple[int, int], Mapping[str, Cell]] = field(default_factory=dict)

    def of(self, course_id: int, learner_id: int) -> Sequence[Released]:
        return self.sittings.get((course_id, learner_id), ())

    def skills(self, course_id: int, learner_id: int) -> Skills:
        """Worked out once for the same marks."""
        found = self._skills.get((course_id, learner_id))
        if found is None:
            sittings = self.of(course_id, learner_id)
            found = self._skills[course_id, learner_id] = {key: _estimates(sittings, key) for key, _ in SKILLS}
        return found

    def cells(self, course_id: int, learner_id: int) -> Mapping[str, Cell]:
        """Where each skill stands; worked out once, too."""
        found = self._cells.get((course_id, learner_id))
        if found is None:
            skills = self.skills(course_id, learner_id)
            found = self._cells[course_id, learner_id] = {key: _cell(key, course) for key, course in skills.items()}
        return found


_kept: OrderedDict[tuple[int, ...], tuple[str, Marks]] = OrderedDict()
_lock = Lock()


def marks(conn: Connection, course_ids: Sequence[int]) -> Marks:
    """The released marks of courses, one at least, changes applied."""
    key = tuple(course_ids)
    # The database makes one word of everything that is read: while it is the same, so are the marks.
    now = queries.sittings.released_digest(conn, course_ids=course_ids)
    with _lock:
        before = _kept.get(key)
        if before is not None and before[0] == now:
            _kept.move_to_end(key)
            return before[1]
    read = _read(conn, course_ids)
    with _lock:
        _kept[key] = (now, read)
        while len(_kept) > _MOST_KEPT:
            _kept.popitem(last=False)
    return read


def _read(conn: Connection, course_ids: Sequence[int]) -> Marks:
    out: dict[tuple[int, int], list[Released]] = defaultdict(list)
    for row in sorted(
        queries.sittings.released(conn, course_ids=course_ids), key=lambda r: (r["handed_in_at"], r["id"])
    ):
        out[row["course_id"], row["learner_id"]].append(
            Released(row["id"], row["card_id"], row["title"], row["handed_in_at"], standing.criteria(row["criteria"]))
        )
    return Marks(out)


def _cell(skill: str, estimates: Sequence[tuple[Released, Estimate]]) -> Cell:
    rating = estimates[-1][1].rating if estimates else Rating()
    low, high = rating.band()
    before = estimates[-2][1].rating.chance() if len(estimates) > 1 else None
    return {
        "skill": skill,
        "estimate": round(rating.chance(), 3),
        "low": round(low, 3),
        "high": round(high, 3),
        "criteria": sum(e.outcomes for _, e in estimates),
        "change": round(rating.chance() - before, 3) if before is not None else None,
    }


def _estimates(sittings: Sequence[Released], skill: str) -> Sequence[tuple[Released, Estimate]]:
    used, periods = [], []
    for sitting in sittings:
        outcomes = [
            Outcome(c.settled / c.points, weight=min(1.0, c.points))
            for c in sitting.criteria
            if c.skill == skill and c.points > 0
        ]
        if outcomes:
            used.append(sitting)
            periods.append(((sitting.handed_in_at - _EPOCH).total_seconds() / 86400, outcomes))
    return list(zip(used, course_of(periods), strict=True))
