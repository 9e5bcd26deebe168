"""Injector, peak and hold: what is peculiar to measuring it."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits import thinning
from tracebench.core.circuits.events import current as pulses
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.current import Current, Shape
from tracebench.core.circuits.events.table import ONE_SIDE, EventTable, report
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import find_edges
from tracebench.core.measure.levels import level_of
from tracebench.core.measure.tops import between_samples, corner_of
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.noise import detrended
from tracebench.core.robust.series import running_mean, running_median
from tracebench.core.samples import Samples

LEAST_BOOST = Threshold(
    1.4, "", "First peak over the hold level that a boosted injector has at the least (from memory)"
)

SHORT = Threshold(0.6, "", "Part of the others' boost under which one is called short (from memory)")


def measure(work: Work) -> Work:
    """Boost, hold and on-time of each pulse, and the frequency of the hold's ripple."""
    current = pulses.current_of(work, "current", 1.0, 40.0)
    if current is not None:
        shapes = pulses.shapes_of(current)
        table = shared.table_of(work, "current", shapes)
        parts = [_parts(current, s) for s in shapes]
        interval_ms = 1000 * work.capture.interval_s
        boosts = [None if p is None else (p.boost, p.boost_doubt) for p in parts]
        shared.put_each(table, "boost_a", "A", boosts)
        times = [
            None if p is None else (p.at, float(np.hypot(p.at_doubt, s.start_doubt)))
            for p, s in zip(parts, shapes, strict=True)
        ]
        shared.put_each(table, "boost_ms", "ms", times, interval_ms, ONE_SIDE)
        holds = [None if p is None or p.hold is None else (p.hold, p.hold_doubt) for p in parts]
        shared.put_each(table, "hold_a", "A", holds)
        shared.put_times(work, table, shapes)
        _ripple(work, table, current, shapes, parts)
        work.settle_phases(_phases(work, table, parts))
        report(work, table)
        _judge(work, table, current)
        pulses.check_pulse_setup(work, "current", current, shapes)
    return work


class Parts(NamedTuple):
    """Boost in amperes, its time in samples from the start, and the hold in amperes, None where there is none."""

    boost: float
    boost_doubt: float
    at: float
    at_doubt: float
    hold: float | None
    hold_doubt: float


def _parts(current: Current, shape: Shape) -> Parts | None:
    begin, end = max(0, int(np.ceil(shape.start))), min(int(np.floor(shape.release)) + 1, current.samples.size)
    if end - begin < 20:
        return None
    rise = current.samples[begin:end] - current.rest.level
    smooth = running_mean(rise, max(1, rise.size // 150))
    first = int(np.argmax(smooth[: max(3, int(0.6 * rise.size))]))
    # The hold is what the later half of the pulse, and of what follows its peak, rests at; its ripple is taken out by
    # the mean of what is near it.
    later = rise[max(rise.size, first + rise.size) // 2 :]
    hold = median(later)
    settled = running_median(smooth, max(3, rise.size // 20))
    near = np.abs(settled - hold) < 0.2 * hold + 3 * current.rest.sigma
    held = float(near[first:].mean()) if near[first:].size else 0.0
    late = np.argmax(smooth) > 0.85 * smooth.size
    if late and median(rise[rise.size // 2 :]) < 0.85 * float(smooth.max()):
        # Released as soon as it has peaked.
        return _boosted(current, rise, int(np.argmax(smooth)), begin - shape.start, None)
    if float(smooth[first]) < 1.15 * hold:
        # No peak stands out: the current goes straight to its level.
        at = float(np.argmax(smooth >= 0.95 * hold)) + begin - shape.start
        return Parts(float(smooth[first]), current.rest.sigma, at, 0.5, hold, _hold_doubt(current, later))
    kept = held > 0.4 and hold > 0.08 * float(smooth[first])
    return _boosted(current, rise, first, begin - shape.start, later if kept else None)


def _boosted(current: Current, rise: Samples, near: int, offset: float, later: Samples | None) -> Parts:
    """The boost at the corner where the driver lets go, or else at the highest sample about `near`."""
    reach = max(2, rise.size // 100)
    begin = max(0, near - reach)
    top = begin + int(np.argmax(rise[begin : near + reach + 1]))
    hold = None if later is None else median(later)
    doubt = 0.0 if later is None else _hold_doubt(current, later)
    found = corner_of(rise, top, current.rest.sigma)
    if found is not None:
        return Parts(found.height, found.height_doubt, found.at + offset, found.at_doubt, hold, doubt)
    lost = between_samples(rise, np.array([top]))
    return Parts(float(rise[top]), float(np.hypot(current.rest.sigma, lost[0])), top + offset, 0.5, hold, doubt)


def _hold_doubt(current: Current, later: Samples) -> float:
    """Noise of a median, and what a ripple that is not whole periods long leaves of itself."""
    ripple = float(np.std(later))
    return float(np.hypot(1.2533 * current.rest.sigma, ripple) / np.sqrt(later.size))


def _phases(work: Work, table: EventTable, parts: list[Parts | None]) -> list[Phase]:
    out = []
    for k in range(min(table.count, shared.MOST_PHASES)):
        p, begin, end = parts[k], float(table.from_s[k]), float(table.to_s[k])
        if p is None:
            continue
        peak = min(begin + p.at * work.capture.interval_s, end)
        out.append(Phase("boost", begin, peak, k + 1))
        if p.hold is not None and end > peak:
            out.append(Phase("hold", peak, end, k + 1))
    return out


def _ripple(work: Work, table: EventTable, current: Current, shapes: list[Shape], parts: list[Parts | None]) -> None:
    """Frequency of the driver's switching in the hold, by its crossings with hysteresis."""
    found: list[tuple[float, float] | None] = []
    for shape, p in zip(shapes, parts, strict=True):
        found.append(None)
        if p is None or p.hold is None:
            continue
        begin = int(shape.start + max(p.at + 0.25 * (shape.width - p.at), 0.4 * shape.width))
        part = current.samples[begin : int(shape.release) - 1]
        if part.size < 40:
            continue
        wave = detrended(part)
        reach = percentile(np.abs(wave), 80)
        if reach < max(3 * current.rest.sigma, 0.005 * p.hold):
            continue
        edges = find_edges(wave, -0.4 * reach, 0.4 * reach, 0.0).rising
        if edges.size >= 3:
            hertz = (edges.size - 1) / ((edges[-1] - edges[0]) * work.capture.interval_s)
            found[-1] = (float(hertz), float(hertz) * 0.4 / (edges[-1] - edges[0]))
    shared.put_each(table, "ripple_hz", "Hz", found)
    if not any(found):
        work.miss("ripple_hz", "the hold carries no ripple that stands out of the noise")


def _judge(work: Work, table: EventTable, current: Current) -> None:
    boosts, holds = table.values["boost_a"], table.values["hold_a"]
    first = (float(table.from_s[0]), float(table.to_s[0]))
    known = np.isfinite(boosts)
    if not known.any():
        return
    held = known & np.isfinite(holds)
    if held.sum() < 0.5 * known.sum():
        text = "falls away after its first peak: the hold is missing"
        work.fault("no_hold", text, first, "current", median(boosts[known]), "A")
    else:
        ratios = np.where(held, boosts / np.where(held, holds, 1.0), np.inf)
        ratio = median(ratios[held])
        odd = np.flatnonzero(ratios < LEAST_BOOST)
        if ratio < LEAST_BOOST:
            text = f"its first peak is only {ratio:.2f} times the hold: the boost is missing"
            work.fault("no_boost", text, first, "current", ratio, "")
        elif odd.size:
            # Each pulse against its siblings: what the median hides.
            spans = [(float(table.from_s[k]), float(table.to_s[k])) for k in odd]
            which = ", ".join(f"{k + 1}" for k in odd[:5])
            text = f"pulse {which} of {table.count}: the first peak is only {ratios[odd[0]]:.2f} times the hold"
            work.fault("no_boost", text, spans[0], "current", float(ratios[odd[0]]), "", places=spans)
    for k in np.flatnonzero(table.values["on_ms"] < SHORT * np.median(table.values["on_ms"]))[:10]:
        span = (float(table.from_s[k]), float(table.to_s[k]))
        took = float(table.values["on_ms"][k])
        text = f"pulse {k + 1} lasts {took:.2f} ms where the others last {np.median(table.values['on_ms']):.2f} ms"
        work.fault("short_on_time", text, span, "current", took, "ms")
    control = work.lane("control")
    if control is not None:
        level = level_of(thinning.thin(control))
        work.add("control_v", level.value, "V", level.uncertainty, work.whole, "control")
