"""Injector current: what is peculiar to measuring it."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from tracebench.core.answer import Limit
from tracebench.core.circuits.events import current as pulses
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.current import Current, Shape
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Threshold, reach
from tracebench.core.circuits.work import Work
from tracebench.core.measure.hulls import against_course, bulge_over
from tracebench.core.robust.median import median
from tracebench.core.robust.series import running_mean

CP_PEAK_A = reach(
    0.7, 1.0, "A", "Peak of a saturated injector of common resistance on 12 V (common practice, no published source)"
)
LEAST_DIP = Threshold(
    0.008, "", "Part of the peak from which a dip is a needle's (the smallest seen in practice, from memory)"
)


def measure(work: Work) -> Work:
    """Each pulse's times, peak, ramp, needle dip and decay."""
    current = pulses.current_of(work, "current", 0.3, 2.5)
    if current is not None:
        shapes = pulses.shapes_of(current)
        table = shared.table_of(work, "current", shapes)
        _read(work, table, current, shapes)
        ends = [pulses.decay_of(current, s) for s in shapes]
        interval = work.capture.interval_s
        work.settle_phases(
            shared.on_phases(table, ("decay", lambda k: float(table.to_s[k]) + (ends[k] or (0.0,))[0] * 1.3 * interval))
        )
        report(work, table)
        shared.rate_of(work, table)
        _judge(work, table, current, shapes)
        pulses.check_pulse_setup(work, "current", current, shapes)
    return work


def _read(work: Work, table: EventTable, current: Current, shapes: list[Shape]) -> None:
    interval_ms = 1000 * work.capture.interval_s
    shared.put_times(work, table, shapes)
    shared.put_peaks(work, table, shapes)
    slopes = [pulses.slope_between(current, s, 0.05, 0.30) for s in shapes]
    shared.put_each(table, "ramp", "A/ms", slopes, 1 / interval_ms)
    edges = np.array([pulses.leading_edge(current, s) for s in shapes])
    noise = current.rest.sigma / np.array([s.peak for s in shapes])
    table.put("leading_edge_fraction", "", edges, noise)
    # The corner of an upright edge is no needle.
    dips = [needle_dip(current, s) if e < pulses.UPRIGHT else None for s, e in zip(shapes, edges, strict=True)]
    if np.mean([d is not None for d in dips]) < 0.3:
        # A dip in a pulse or two is noise.
        dips = [None] * len(dips)
    times = [None if d is None else (d.at, d.at_doubt, d.codes) for d in dips]
    shared.put_each(table, "pintle_ms", "ms", times, interval_ms)
    shared.put_each(table, "pintle_dip_a", "A", [None if d is None else (d.size, d.size_doubt) for d in dips])
    shared.put_each(table, "decay_ms", "ms", [pulses.decay_of(current, s) for s in shapes], interval_ms)


class Dip(NamedTuple):
    """The needle's dip: samples from switch-on to its bottom, and amperes, with their uncertainties. `codes` is what of
    its place's the recorder's codes make."""

    at: float
    size: float
    at_doubt: float
    size_doubt: float
    codes: float


def needle_dip(current: Current, shape: Shape) -> Dip | None:
    """The dip of one pulse, None where none stands out."""
    begin, end = int(np.ceil(shape.start)), int(np.floor(shape.release))
    if end - begin < 40:
        return None
    width = max(1, (end - begin) // 50)
    smooth = running_mean(current.samples[begin:end] - current.rest.level, width)
    # Ends are left out: the switch-on corner and the release are no needle.
    edge = max(width, round(0.04 * smooth.size))
    part = -smooth[edge:-edge]
    found = bulge_over(part)
    if found is None:
        return None
    found = against_course(part, found)
    sigma = current.rest.sigma / np.sqrt(width)
    if found.size < max(7 * sigma, LEAST_DIP * shape.peak, current.code):
        return None
    gap = max(found.right - found.left, 1)
    codes = pulses.STAIRS * gap * current.code / math.sqrt(12.0) / found.size
    doubt = math.hypot(max(0.5, gap * sigma / found.size), shape.start_doubt, codes)
    at = edge + begin + found.at - shape.start
    return Dip(at, found.size, doubt, math.hypot(2 * sigma, 0.03 * found.size), codes)


def expected_a(work: Work) -> float | None:
    """Full current by Ohm's law where the resistance is told."""
    if not work.told.options.get("resistance_ohm"):
        return None
    return work.number("supply_v", 14.0, 5, 30) / work.number("resistance_ohm", 16.0, 0.1, 200)


def _judge(work: Work, table: EventTable, current: Current, shapes: list[Shape]) -> None:
    full = expected_a(work)
    low, high = CP_PEAK_A if full is None else (0.85 * full, 1.15 * full)
    if full is not None:
        work.add("expected_a", full, "A", 0.02 * full, work.whole, None)
    else:
        work.miss("expected_a", "tell the resistance (option resistance_ohm) to work it out")
    work.limits.append(Limit("peak_a", low, high, marginal=0.1 * high))
    edges = table.values["leading_edge_fraction"]
    if shared.upright(edges):
        text = f"rises upright: {100 * median(edges):.0f} % of the peak at once, where a coil takes its time"
        work.fault("shorted_winding", text, shared_span(table), "current", median(edges), "")
    lacking = float(np.mean(~np.isfinite(table.values["pintle_dip_a"])))
    # A dip of two hundredths of the peak must stand out of the noise before its absence says anything.
    visible = current.rest.sigma / np.sqrt(max(1.0, median(table.to_s - table.from_s) / work.capture.interval_s / 50))
    if lacking > 0.7 and not work.has("shorted_winding"):
        mean, shape = pulses.mean_pulse(current, shapes)
        found = needle_dip(mean, shape)
        if found is not None:
            ms = 1000 * work.capture.interval_s
            work.add("pintle_ms", found.at * ms, "ms", found.at_doubt * ms, shared_span(table), "current")
            work.add("pintle_dip_a", found.size, "A", found.size_doubt, shared_span(table), "current")
        elif max(5 * visible / np.sqrt(len(shapes)), current.code) > 0.02 * current.typical_a:
            work.setup("noisy", "noise hides the needle's dip: a clamp of a smaller range", "current", hides=True)
        else:
            text = "the rise has no dip: the needle does not move"
            work.fault("no_pintle_dip", text, shared_span(table), "current")


def shared_span(table: EventTable) -> tuple[float, float]:
    return float(table.from_s[0]), float(table.to_s[0])
