"""Firings of all cylinders in one record: each against the others, and those that are not there."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tracebench.core.circuits.events.attribution import Places
from tracebench.core.circuits.events.siblings import Odd, against_others
from tracebench.core.circuits.events.table import EventTable
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.median import median

MOST_SINGLE = Count(20, "events", "Events named one by one; more are told as a number")
ALWAYS = Threshold(
    0.5, "", "Part of a cylinder's firings that must be missing before it is called dead and not occasional"
)

APART = Threshold(
    5.0,
    "spreads",
    "Spreads by which a cylinder must differ from the others, so that chance among twelve does not name one",
)


def odd_ones(
    table: EventTable, reading_id: str, *, below: float = 0.0, above: float = np.inf, least_part: float = 0.03
) -> list[Odd]:
    """Cylinders whose median lies under `below` or over `above` times the others' and five spreads away from it."""
    medians: Mapping[int, float] = table.of_cylinders(reading_id)
    if len(medians) < 2:
        return []
    usual = median(list(medians.values()))
    found = against_others(medians, least_part * abs(usual))
    return [o for o in found if abs(o.apart) >= APART and (o.ratio < below or o.ratio > above)]


def name(cylinder: int, by_sync: bool) -> str:
    """How people call it: a cylinder, or only a place in the row where no sync lane tells."""
    return f"cylinder {cylinder}" if by_sync else f"position {cylinder}"


def note_missing_events(work: Work, table: EventTable, places: Places, code: str, what: str, once: str = "") -> None:
    """Slots without an event: one finding for a cylinder that fires at most half the time, else one for each slot.

    `once` is the code of the latter where it differs.
    """
    interval, begin = work.capture.interval_s, work.capture.start_s
    pitch = median(np.diff(table.from_s)) if table.count > 1 else work.capture.duration_s
    cylinders = sorted({c for _, c in places.missing})
    for cylinder in cylinders:
        gone = [begin + at * interval for at, c in places.missing if c == cylinder]
        there = int(np.sum(table.cylinder == cylinder)) if cylinder else table.count
        who = name(cylinder, places.by_sync) if cylinder else "the record"
        if cylinder and there <= len(gone):
            text = f"{who}: {what} missing in {len(gone)} of {len(gone) + there} cycles"
            slots = [_stretch(work, at, pitch) for at in gone]
            work.fault(code, text, slots[0], table.lane, float(len(gone)), "", cylinder, slots)
            continue
        for at in gone[:MOST_SINGLE]:
            text = f"{who}: {what} missing once, at {at:.3f} s"
            work.fault(once or code, text, _stretch(work, at, pitch), table.lane, 1.0, "", cylinder or None)


def _stretch(work: Work, at: float, pitch: float) -> tuple[float, float]:
    low, high = work.whole
    return max(low, at - 0.25 * pitch), min(high, at + 0.25 * pitch)


def read_cycle(work: Work, table: EventTable, places: Places) -> None:
    """Length of an engine cycle, where cylinders are known."""
    if places.cycle_samples is None:
        work.miss("cycle_ms", "tell the cylinders or record a sync lane to know a cycle")
        return
    value = 1000 * places.cycle_samples * work.capture.interval_s
    span = (float(table.from_s[0]), float(table.from_s[0]) + value / 1000)
    # Two instants, each within its own sample.
    doubt = 1000 * work.capture.interval_s * 0.3
    work.add("cycle_ms", value, "ms", doubt, span, table.lane)
