"""Outlines: what a stretch of trace looks like in a few columns, so that shapes of many records can be compared."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from tracebench.core.answer import Event, Phase
from tracebench.core.parade import laid_over
from tracebench.core.samples import Samples

COLUMNS = 256

EVENT = "event"
"""The name under which the usual one of a record's events is kept."""

MOST_SWEEPS = 4
"""Of phases that repeat, so many tell the shape; more of one record tell no more of another."""

USUAL = (10.0, 90.0)
"""Percentiles of a record's events between which the usual one lies: its odd ones are judged, not copied."""

Read = Callable[[int, int], Samples]


@dataclass(frozen=True, slots=True, eq=False)
class Outline:
    """Least and most of even parts of a stretch, float64, shape (COLUMNS,), in the lane's unit.

    `from_s`, `to_s` are seconds on the file's axis; of the usual event, seconds from an event's start.
    """

    name: str
    sweep: int
    lane: str
    from_s: float
    to_s: float
    low: Samples
    high: Samples

    @property
    def middle(self) -> Samples:
        return 0.5 * (self.low + self.high)


def columns(samples: Samples, count: int = COLUMNS) -> tuple[Samples, Samples]:
    """Least and most of `count` even parts of a row; of a shorter one its samples, joined by straight lines."""
    if samples.size < 2 * count:
        places = np.linspace(0, samples.size - 1, count)
        row = np.interp(places, np.arange(samples.size), samples)
        return row, row
    starts = np.linspace(0, samples.size, count, endpoint=False).astype(np.int64)
    return np.minimum.reduceat(samples, starts), np.maximum.reduceat(samples, starts)


def of_stretch(
    name: str, sweep: int, lane: str, read: Read, span: tuple[float, float], axis: tuple[int, float, float]
) -> Outline | None:
    """The outline of one stretch, None where it holds fewer than two samples. `axis` is samples, interval and start."""
    count, interval_s, start_s = axis
    first = min(max(round((span[0] - start_s) / interval_s), 0), count)
    last = min(max(round((span[1] - start_s) / interval_s) + 1, 0), count)
    if last - first < 2:
        return None
    return Outline(name, sweep, lane, span[0], span[1], *columns(read(first, last)))


def outlines(
    lane: str, read: Read, axis: tuple[int, float, float], phases: Sequence[Phase], events: Sequence[Event] = ()
) -> list[Outline]:
    """Outlines of a lane: of each phase, of the first few sweeps of those that repeat, and of the usual event."""
    found: list[Outline] = []
    seen: dict[str, int] = {}
    for phase in phases:
        sweep = seen[phase.name] = seen.get(phase.name, 0) + 1
        if sweep <= MOST_SWEEPS:
            one = of_stretch(phase.name, sweep, lane, read, (phase.from_s, phase.to_s), axis)
            if one is not None:
                found.append(one)
    if events:
        made = laid_over(events, read, *axis)
        rows = np.array([course.values for course in made.courses])
        whole = rows[np.isfinite(rows).all(axis=1)]
        if len(whole):
            low, high = np.percentile(whole, USUAL, axis=0)
            places = np.linspace(0, low.size - 1, COLUMNS)
            sides = [np.interp(places, np.arange(low.size), side) for side in (low, high)]
            found.append(Outline(EVENT, 1, lane, made.from_s, made.to_s, sides[0], sides[1]))
    return found
