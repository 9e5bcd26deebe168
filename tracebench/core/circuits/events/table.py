"""A record's events with their readings: summaries, readings of each cylinder and each event, and the unusual ones."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Event
from tracebench.core.circuits.circuit import FindingSpec
from tracebench.core.circuits.events.siblings import distances, without_common_course
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import MAD_TO_SIGMA

Values = NDArray[np.float64]

MOST_LISTED = Count(
    120,
    "events",
    "Readings of single events are given for so many: all of a short record, the most unusual of a long one",
)

LEAST_PART = Threshold(
    0.01, "", "Events of one kind that agree better than this do not make a stranger of one that differs by nothing"
)

ALONE = Threshold(
    12.0, "spreads", "From this many spreads an event is named: far beyond what chance does in thousands of them"
)

MOST_NAMED = Count(3, "events", "So many single events are named by themselves; more are no strangers")
FROM_EVENTS = Count(12, "events", "Fewer events tell no spread to be a stranger of")

ALIKE = Threshold(0.2, "", "Part of a doubt to either side that events have in common (by simulation)")
ONE_SIDE = Threshold(0.66, "", "Part of a doubt to one side only that events have in common (by simulation)")

UNUSUAL = FindingSpec("unusual_event", "Unusual event", "note")


@dataclass
class EventTable:
    """Events in order; every array has one value an event, NaN where an event does not give a reading."""

    lane: str
    from_s: Values
    to_s: Values
    cylinder: NDArray[np.int64]
    values: dict[str, Values] = field(default_factory=dict)
    doubts: dict[str, Values] = field(default_factory=dict)
    units: dict[str, str] = field(default_factory=dict)
    spans: dict[str, tuple[Values, Values]] = field(default_factory=dict)
    """Stretch of the trace that a reading was taken from, where it is not the whole event."""
    alike: dict[str, float] = field(default_factory=dict)
    kinds: NDArray[np.int64] | None = None
    """Kind of each event where a record holds several, such as pilot and main; else its cylinder is its kind."""
    speaks: NDArray[np.bool_] | None = None
    """Events that summaries and cylinders' readings are taken from, all where it is None; a reading that none of
    them gives is taken from those that do."""

    @property
    def count(self) -> int:
        return int(self.from_s.size)

    @property
    def cylinders(self) -> list[int]:
        return sorted(int(c) for c in np.unique(self.cylinder) if c > 0)

    def put(
        self,
        reading_id: str,
        unit: str,
        values: Values,
        doubts: Values,
        span: tuple[Values, Values] | None = None,
        alike: float = ALIKE,
    ) -> None:
        """Note one reading of every event. `alike` is the part of its doubt that all events have in common."""
        self.values[reading_id], self.doubts[reading_id], self.units[reading_id] = values, doubts, unit
        self.alike[reading_id] = alike
        if span is not None:
            self.spans[reading_id] = span

    def heard(self, reading_id: str) -> NDArray[np.int64]:
        """Events whose value of a reading counts for its summaries."""
        given = np.flatnonzero(np.isfinite(self.values[reading_id]))
        speaking = given if self.speaks is None else given[self.speaks[given]]
        return speaking if speaking.size else given

    def of_cylinders(self, reading_id: str) -> dict[int, float]:
        """Median of a reading by cylinder."""
        heard = self.heard(reading_id)
        whose, values = self.cylinder[heard], self.values[reading_id][heard]
        return {c: median(values[whose == c]) for c in self.cylinders if np.any(whose == c)}

    def stretch(self, reading_id: str, k: int) -> tuple[float, float]:
        """Where event `k` gives a reading, seconds."""
        begin, end = self.spans.get(reading_id, (self.from_s, self.to_s))
        return float(begin[k]), float(end[k])

    def first_of(self, cylinder: int) -> tuple[float, float]:
        """Stretch of the first event of a cylinder."""
        k = int(np.flatnonzero(self.cylinder == cylinder)[0])
        return float(self.from_s[k]), float(self.to_s[k])


def report(work: Work, table: EventTable) -> None:
    """Note the table's readings in the work: summaries, cylinders, single events; and its events, ranked."""
    if table.count == 0:
        return
    unusual, because = _unusual(table)
    listed = np.sort(np.argsort(-unusual, kind="stable")[:MOST_LISTED])
    for reading_id, values in table.values.items():
        if np.isfinite(values).any():
            _report_reading(work, table, reading_id, listed)
    _name_the_strangest(work, table, unusual, because)
    work.events = [
        Event(
            k + 1,
            float(table.from_s[k]),
            float(table.to_s[k]),
            int(table.cylinder[k]) or None,
            round(float(unusual[k]), 2),
            because[k],
        )
        for k in range(table.count)
    ]


def _name_the_strangest(work: Work, table: EventTable, unusual: Values, because: list[str]) -> None:
    """Notes of the few events of a long row that stand far out of their kind, the strangest first."""
    if table.count < FROM_EVENTS:
        return
    for k in np.argsort(-unusual, kind="stable")[:MOST_NAMED]:
        if unusual[k] < ALONE:
            return
        whose = f" of cylinder {table.cylinder[k]}" if table.cylinder[k] else ""
        what = because[k].replace("_", " ")
        text = f"event {k + 1}{whose} is the most unusual but for those before: {what} by {unusual[k]:.0f} spreads"
        if not any(f.code == "unusual_event" for f in work.findings):
            text = f"event {k + 1}{whose} is the most unusual of {table.count}: {what} by {unusual[k]:.0f} spreads"
        span = (float(table.from_s[k]), float(table.to_s[k]))
        cylinder = int(table.cylinder[k]) or None
        work.find("unusual_event", "note", text, span, table.lane, float(unusual[k]), "", cylinder=cylinder)


def _report_reading(work: Work, table: EventTable, reading_id: str, listed: NDArray[np.int64]) -> None:
    heard = table.heard(reading_id)
    _summary(work, table, reading_id, heard, None)
    for cylinder in table.cylinders:
        own = heard[table.cylinder[heard] == cylinder]
        if own.size:
            _summary(work, table, reading_id, own, cylinder)
    if table.count == 1:
        return
    values, doubts, unit = table.values[reading_id], table.doubts[reading_id], table.units[reading_id]
    for k in listed[np.isfinite(values[listed])]:
        owner = int(table.cylinder[k]) or None
        here = table.stretch(reading_id, int(k))
        work.add(reading_id, float(values[k]), unit, float(doubts[k]), here, table.lane, int(k) + 1, owner)


def _summary(work: Work, table: EventTable, reading_id: str, events: NDArray[np.int64], cylinder: int | None) -> None:
    """One reading of several events, at the stretch of the middle one."""
    values, doubts = table.values[reading_id][events], table.doubts[reading_id][events]
    middle = int(events[np.argsort(values, kind="stable")[events.size // 2]])
    here, unit = table.stretch(reading_id, middle), table.units[reading_id]
    kept = near_the_middle(reading_id, values, doubts)
    doubt = _doubt(kept, doubts, table.alike[reading_id])
    work.add(reading_id, float(kept.mean()), unit, doubt, here, table.lane, cylinder=cylinder)


def near_the_middle(reading_id: str, values: Values, doubts: Values) -> Values:
    """The values that lie near their median, whose mean sums them up; of counts the median alone.

    A median of times that fall on a few samples sticks to one of them; the mean does not. Values further than three
    spreads (1.4826 MAD, at least what each is known to) are left out.
    """
    middle = median(values)
    if reading_id.endswith("_count"):
        return np.array([middle])
    away = np.abs(values - middle)
    least = median(doubts)
    return values[away <= 3 * max(MAD_TO_SIGMA * median(away), least)]


SCATTERED = Threshold(1.6, "", "Of what each event is known to: a scatter beyond which the events themselves differ")


def _doubt(kept: Values, doubts: Values, alike: float) -> float:
    """Of a mean of events that each carry their own: white parts average out, what they have in common stays.

    Events that scatter by clearly more than each is known to are known by their scatter (JCGM 100, 4.2.3).
    """
    one = median(doubts)
    if doubts.size < 2:
        return one
    scatter = float(np.std(kept, ddof=1)) if kept.size > 2 else 0.0
    own = scatter if scatter > SCATTERED * one else one
    return math.hypot(own * math.sqrt((1 - alike**2) / doubts.size), alike * one)


def _unusual(table: EventTable) -> tuple[Values, list[str]]:
    """How many spreads each event stands out by its strangest reading, and which reading that is."""
    most, which = np.zeros(table.count), [""] * table.count
    known = table.kinds if table.kinds is not None else table.cylinder
    for reading_id, values in table.values.items():
        given = table.doubts[reading_id][np.isfinite(table.doubts[reading_id])]
        # Counts differ by one; nothing stands out by less than it is known to.
        least = max(median(given) if given.size else 0.0, 1.0 if reading_id.endswith("_count") else 0.0)
        # Out of its kind and out of its neighbours: what the whole row does is no stranger.
        own, local = (distances(v, known, LEAST_PART, least) for v in (values, without_common_course(values, known)))
        own = np.minimum(own, local)
        for k in np.flatnonzero(own > most):
            most[k], which[k] = own[k], reading_id
        # An event without a reading that its kind has is the strangest of all.
        lacking = ~np.isfinite(values)
        for kind in np.unique(known):
            same = known == kind
            if 0 < lacking[same].sum() < 0.3 * same.sum():
                for k in np.flatnonzero(lacking & same):
                    most[k], which[k] = max(most[k], 50.0), reading_id
    return np.minimum(most, 999.0), which
