"""Events of one record laid over each other: which of them, and their courses on a common axis from their starts."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from tracebench.core.answer import Event
from tracebench.core.robust.median import median, percentile
from tracebench.core.samples import Samples

MOST_POINTS = 480
MOST_EVENTS = 60
MOST_UNUSUAL = 12

BEFORE, AFTER = 0.12, 0.55
"""Parts of an event's usual length that are shown before its start and after its end."""


@dataclass(frozen=True, slots=True, eq=False)
class Course:
    """One event's samples in equal steps of the window, at most `MOST_POINTS` of them, in the lane's unit."""

    event: Event
    values: Samples


@dataclass(frozen=True, slots=True, eq=False)
class Parade:
    """Courses in order of time, and the window they share, seconds from each event's start."""

    from_s: float
    to_s: float
    courses: tuple[Course, ...]


def chosen(events: Sequence[Event], most: int = MOST_EVENTS) -> list[Event]:
    """All of a few events; of many the most unusual, and others taken evenly from each cylinder. In order of time."""
    if len(events) <= most:
        return list(events)
    strangest = sorted(events, key=lambda e: -e.unusual)[:MOST_UNUSUAL]
    taken = {e.number for e in strangest}
    cylinders = sorted({e.cylinder or 0 for e in events})
    each = max(1, (most - MOST_UNUSUAL) // len(cylinders))
    for cylinder in cylinders:
        own = [e for e in events if (e.cylinder or 0) == cylinder]
        taken |= {own[k].number for k in np.linspace(0, len(own) - 1, min(each, len(own))).astype(int)}
    return [e for e in events if e.number in taken]


def laid_over(
    events: Sequence[Event], read: Callable[[int, int], Samples], samples: int, interval_s: float, start_s: float
) -> Parade:
    """Courses of the chosen events. `read(a, b)` gives samples [a, b) of the lane, which has `samples` in all.

    Each step of the window shows the sample that stands furthest from the step's middle, so that a spike a sample wide
    is still there. Outside the record a course is NaN. Raises ValueError without events.
    """
    shown = chosen(events)
    if not shown:
        raise ValueError("a parade needs at least one event")
    usual = median([e.to_s - e.from_s for e in events])
    gaps = np.diff([e.from_s for e in events])
    # Beside a short event what follows matters, but never the next event.
    end = usual + max(AFTER * usual, 1.5e-3)
    if gaps.size:
        end = min(end, max(0.9 * percentile(gaps, 10), 1.05 * usual))
    window = (-max(BEFORE * usual, 0.2e-3), end)
    count = max(2, int(np.ceil((window[1] - window[0]) / interval_s)))
    step = -(-count // MOST_POINTS)
    points = -(-count // step)
    out = []
    for event in shown:
        first = round((event.from_s + window[0] - start_s) / interval_s)
        out.append(Course(event, _steps(read, first, samples, points, step)))
    return Parade(window[0], window[0] + points * step * interval_s, tuple(out))


def _steps(read: Callable[[int, int], Samples], first: int, samples: int, points: int, step: int) -> Samples:
    """So many values, each the sample of its step furthest from the step's median; NaN outside the record."""
    last = first + points * step
    part = np.full(points * step, np.nan)
    a, b = max(first, 0), min(last, samples)
    if b > a:
        part[a - first : b - first] = read(a, b)
    rows = part.reshape(points, step)
    if step == 1:
        return rows[:, 0]
    known = np.isfinite(rows).all(axis=1)
    out = np.full(points, np.nan)
    inside = rows[known]
    middle = np.median(inside, axis=1, keepdims=True)
    out[known] = inside[np.arange(inside.shape[0]), np.argmax(np.abs(inside - middle), axis=1)]
    return out
