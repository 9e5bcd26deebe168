"""What injector circuits declare alike, and the readings that their current pulses share."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Phase
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import Choice
from tracebench.core.circuits.events.attribution import Places
from tracebench.core.circuits.events.current import UPRIGHT, Shape
from tracebench.core.circuits.events.table import ALIKE, EventTable, Values
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.levels import Level
from tracebench.core.robust.median import median

SAME_GRID = Threshold(
    0.2,
    "",
    "Correlation of a pulse's two ends, which are placed among the same samples (JCGM 100, 5.2.2; by simulation)",
)

MOST_PHASES = Count(60, "events", "Phases are drawn for so many events from the start of a record")

FLYBACK = Choice(
    "flyback",
    "Injector and coil wires kick to 60 to 400 V when switched off: use an attenuator or an input rated for it.",
)
DIRECT = Choice(
    "direct",
    "Direct and piezo injectors: 65 to 160 V from a charged capacitor in the controller, which stays charged after key "
    "off. Never unplug or probe while running; wait for power-down.",
)
FUEL = Choice(
    "fuel",
    "Fuel under pressure: no open joints, no sparks, eye protection. Direct injection runs at several hundred bar.",
)

INJECTOR_CAUSES = (
    Choice("winding", "Injector winding: shorted turns, high resistance or open"),
    Choice("needle", "Needle stuck, slow or blocked"),
    Choice("driver", "Driver in the controller or its ground", controller=True),
    *common.SUPPLY_CAUSES,
)
INJECTOR_TESTS = (
    Choice("resistance", "Measure the winding's resistance, unplugged, cold and warm"),
    Choice("swap", "Swap the injector with another cylinder's: does the fault move?"),
    Choice("drop-test", "Cylinder drop test: which cylinder changes least"),
    Choice("flow", "Pressure drop or flow test of the injectors"),
    Choice("driver-ground", "Prove the driver's ground and supply, loaded", wires=True),
    *common.SUPPLY_TESTS,
)
WINDING = ("resistance", "swap", "compare-part")
NEEDLE = ("swap", "drop-test", "flow")
DRIVER = ("driver-ground", "wiring", "supply-ground")
NOTHING = ("wiring", "driver-ground", "supply-ground")


def table_of(work: Work, lane: str, shapes: Sequence[Shape], places: Places | None = None) -> EventTable:
    """A table of pulses from start to release, with their cylinders where they are known."""
    start, release = (np.array([getattr(s, which) for s in shapes]) for which in ("start", "release"))
    cylinder = places.cylinder if places is not None else np.zeros(start.size, dtype=np.int64)
    interval, begin = work.capture.interval_s, work.capture.start_s
    return EventTable(lane, begin + start * interval, begin + release * interval, cylinder)


def put_times(work: Work, table: EventTable, shapes: Sequence[Shape], reading_id: str = "on_ms") -> None:
    """The time from start to release of each pulse."""
    scale = 1000 * work.capture.interval_s
    widths = np.array([s.width for s in shapes]) * scale
    starts, ends = (np.array([getattr(s, which) for s in shapes]) for which in ("start_doubt", "release_doubt"))
    doubts = np.sqrt(starts**2 + ends**2 - 2 * SAME_GRID * starts * ends) * scale
    alike = np.array([s.alike for s in shapes]) * scale
    table.put(reading_id, "ms", widths, doubts, alike=alike_by(alike, doubts))


def put_peaks(work: Work, table: EventTable, shapes: Sequence[Shape]) -> None:
    at = work.capture.start_s + np.array([s.peak_at for s in shapes]) * work.capture.interval_s
    reach = 0.02 * (table.to_s - table.from_s)
    peaks, doubts = np.array([s.peak for s in shapes]), np.array([s.peak_doubt for s in shapes])
    # The line through its own last samples is each pulse's own; only the rest level is one for all.
    table.put("peak_a", "A", peaks, doubts, (at - reach, at + reach), alike=0.1)


def put_each(
    table: EventTable,
    reading_id: str,
    unit: str,
    found: Sequence[tuple[float, ...] | None],
    scale: float = 1.0,
    alike: float = ALIKE,
) -> None:
    """A reading from (value, uncertainty) of each event, None where an event does not give it.

    A third figure is what of the uncertainty the recorder's codes make, which fall alike in every event; `alike` is the
    part of it that they have in common at the least.
    """
    values: Values = np.array([np.nan if f is None else f[0] * scale for f in found])
    doubts: Values = np.array([np.nan if f is None else abs(f[1] * scale) for f in found])
    codes: Values = np.array([0.0 if f is None or len(f) < 3 else abs(f[2] * scale) for f in found])
    table.put(reading_id, unit, values, doubts, alike=alike_by(codes, doubts, alike))


def alike_by(common: Values, doubts: Values, least: float = ALIKE) -> float:
    """Part of the doubts that all events have in common: what is known to be, and `least` at the least."""
    known = np.isfinite(doubts) & (doubts > 0)
    return max(least, min(1.0, median(common[known] / doubts[known]))) if known.any() else least


def put_levels(table: EventTable, reading_id: str, unit: str, levels: Sequence[Level]) -> None:
    """A reading that is a level of each event."""
    table.put(reading_id, unit, np.array([x.value for x in levels]), np.array([x.uncertainty for x in levels]))


def rate_of(work: Work, table: EventTable, steady: NDArray[np.bool_] | None = None) -> None:
    """Events a second, by the median of the intervals, of those between `steady` events where that is given."""
    if table.count < 2:
        work.miss("rate_hz", "a rate needs two events in one capture")
        return
    steps = np.diff(table.from_s)
    if steady is not None and np.any(steady[1:] & steady[:-1]):
        steps = steps[steady[1:] & steady[:-1]]
    middle = median(steps)
    doubt = work.capture.interval_s * 0.4 / middle**2 / np.sqrt(steps.size)
    work.add("rate_hz", 1 / middle, "Hz", doubt, (float(table.from_s[0]), float(table.from_s[-1])), table.lane)


def on_phases(table: EventTable, *later: tuple[str, Callable[[int], float]]) -> list[Phase]:
    """Phases `on` of the first events, each followed by those named with the instant at which they end."""
    out = []
    for k in range(min(table.count, MOST_PHASES)):
        at = float(table.to_s[k])
        out.append(Phase("on", float(table.from_s[k]), at, k + 1))
        for name, end in later:
            stop = end(k)
            if stop > at:
                out.append(Phase(name, at, stop, k + 1))
                at = stop
    return out


def upright(edges: Values) -> bool:
    """True if the pulses as a rule rise as no inductance lets them."""
    return bool(np.median(edges) > UPRIGHT)
