"""Injector current, group: what is peculiar to measuring it."""

from __future__ import annotations

import math

import numpy as np

from tracebench.core.circuits.events import current as pulses
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.table import report
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.median import median

TENTH = Threshold(
    0.4,
    "",
    "Part of what the group should draw, a third of which no open injectors explain: the clamp's factor is a tenth",
)


def _least_a(work: Work) -> float:
    """The least that the group's peak can be: by what its injectors should draw, where that is told."""
    count, each = work.number("injectors", 0, 0, 32), work.number("each_a", 0.0, 0.0, 60.0)
    return max(0.8, TENTH * count * each)


def measure(work: Work) -> Work:
    """Peak of the whole group against what its injectors should draw together, and how upright it rises."""
    current = pulses.current_of(work, "current", _least_a(work), 40.0)
    if current is not None:
        shapes = pulses.shapes_of(current)
        table = shared.table_of(work, "current", shapes)
        shared.put_times(work, table, shapes)
        shared.put_peaks(work, table, shapes)
        edges = np.array([pulses.leading_edge(current, s) for s in shapes])
        table.put("leading_edge_fraction", "", edges, current.rest.sigma / np.array([s.peak for s in shapes]))
        work.settle_phases(shared.on_phases(table))
        report(work, table)
        _expected(work, current.code)
        if shared.upright(edges):
            share = median(edges)
            text = f"rises upright: {100 * share:.0f} % of the peak at once; at least one winding is shorted"
            work.fault("shorted_winding", text, (float(table.from_s[0]), float(table.to_s[0])), "current", share, "")
        pulses.check_pulse_setup(work, "current", current, shapes)
    return work


def _expected(work: Work, code: float) -> None:
    """Injectors times the current of one, and what the group draws over it."""
    peak = next((r for r in work.readings if r.id == "peak_a" and r.cycle is None), None)
    if not work.told.options.get("injectors") or peak is None:
        for reading_id in ("expected_a", "excess_ratio"):
            work.miss(reading_id, "tell how many injectors fire together (option injectors)")
        return
    count = work.number("injectors", 1, 1, 16)
    expected = count * work.number("each_a", 0.8, 0.05, 10)
    work.add("expected_a", expected, "A", 0.0, work.whole, None)
    ratio = peak.value / expected
    # A share hangs on the recorder's codes as the peak does.
    doubt = math.hypot(peak.uncertainty, code / math.sqrt(12.0)) / expected
    work.add("excess_ratio", ratio, "", doubt, (peak.from_s, peak.to_s), "current")
