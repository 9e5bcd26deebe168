"""The probe rather than the part: slips, dropouts, dead lanes, polarity and lanes exchanged."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from tracebench.core.circuits.thinning import on_grid, thin
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Span, Work
from tracebench.core.measure.excursions import Excursion, find_excursions
from tracebench.core.robust.median import median, percentiles
from tracebench.core.robust.series import joined, runs
from tracebench.core.samples import Samples

LEAST_EVENTS_S = Threshold(
    0.1, "s", "Less than a turn of an idling engine: a shorter record may lie between two events of a cylinder"
)


SLIP_ZERO_V = Threshold(
    0.08, "V", "A lane that never rests this near to zero has lost its probe where it does (from memory)"
)


SLIP_SHORTEST_S = Threshold(0.150, "s", "A shorter fall to zero may be the circuit's own (from memory)")


def take_slips(work: Work, lane: str, zero: float = SLIP_ZERO_V) -> list[tuple[int, int]]:
    """Stretches over 150 ms in which a lane that is never at zero rests there, come to and left at once."""
    samples = work.samples(lane)
    grid = on_grid(work, samples, 0.002)
    block = round(grid.interval_s / work.capture.interval_s)
    out = []
    for a, b in joined(runs(np.abs(grid.values) < zero), round(0.01 / grid.interval_s)):
        if a == 0 or b >= grid.values.size or (b - a) * grid.interval_s < SLIP_SHORTEST_S:
            continue
        edge = max(1, round(0.006 / grid.interval_s))
        before, after = grid.values[max(0, a - edge)], grid.values[min(grid.values.size - 1, b - 1 + edge)]
        if min(before, after) < zero + 0.15:
            continue
        start, stop = max(0, (a - 1) * block), min(samples.size, (b + 1) * block)
        span = work.span(start, stop)
        text = f"the {lane} vanishes to 0 V at once for {1000 * (span[1] - span[0]):.0f} ms and returns: the connection"
        work.setup("probe_slip", text, lane, span, hides=True)
        out.append((start, stop))
    return out


def judge_dropouts(
    work: Work, samples: Samples, lane: str, floor: float, longest_s: float = 0.150
) -> tuple[list[Excursion], list[Excursion]]:
    """Short falls off a lane's trend, each a `dropout` fault.

    All excursions, both ways, for bridging; and those that are no interference, the falls among them.
    """
    found = find_excursions(samples, work.capture.interval_s, longest_s, floor, medians_of=work.block_medians)
    own = without_interference(work, samples, found, lane)
    for e in own:
        if e.depth < 0:
            note_dropout(work, e, lane)
    return found, own


NEEDLE = Count(
    2, "samples", "An excursion of so few is what a spark or a relay leaves in the leads, if they go both ways"
)
FEWEST_NEEDLES = Count(6, "needles", "From so many their directions tell whether they come from the leads")
APART = Threshold(0.4, "", "Part of a row of needles that is away at the most; a dip is for half of its length")
SPREAD = Count(6, "parts", "Tenths of a record that interference is seen in: it knows no travel, no load and no rest")
OTHER_WAY = Threshold(0.2, "", "Part of needles that go up, from which those that go down are no falls of the part")


def without_interference(work: Work, samples: Samples, found: Sequence[Excursion], lane: str) -> list[Excursion]:
    """The excursions that are the part's own: needles up and down are interference, with its finding.

    A loose contact or a worn track falls one way, and in its own places.
    """
    needles = [e for e in found if _is_needle(samples, e)]
    up = sum(e.depth > 0 for e in needles)
    parts = {10 * e.peak // samples.size for e in needles}
    one_way = min(up, len(needles) - up) < OTHER_WAY * len(needles)
    if len(needles) < FEWEST_NEEDLES or one_way or len(parts) < SPREAD:
        return list(found)
    span = (work.span(needles[0].start, needles[0].stop)[0], work.span(needles[-1].start, needles[-1].stop)[1])
    text = f"{len(needles)} needles up and down, a sample or two each: interference; a shielded lead, another ground"
    work.setup("noisy", text, lane, span)
    # Among so many two may stand side by side.
    return [e for e in found if not _is_needle(samples, e, 2 * NEEDLE)]


def _is_needle(samples: Samples, e: Excursion, most: int = NEEDLE) -> bool:
    """True for one of at most so many samples, or some near each other between which most is where it was."""
    away = np.abs(samples[e.start : e.stop] - e.trend) > 0.5 * abs(e.depth)
    return int(np.count_nonzero(away)) <= max(most, APART * away.size)


def note_dropout(work: Work, e: Excursion, lane: str) -> None:
    """A fall off the trend as a `dropout` fault, with its depth, place and length."""
    span = work.span(e.start, e.stop)
    unit = work.capture.lanes[lane].unit
    text = f"{lane} falls {-e.depth:.2f} {unit} below its trend for {1000 * (span[1] - span[0]):.3g} ms"
    work.fault("dropout", text, span, lane, -e.depth, unit)


def between_events(work: Work, lane: str) -> bool:
    """True, with the finding, for a record so short that it may lie between two events."""
    if work.capture.duration_s >= LEAST_EVENTS_S:
        return False
    text = f"nothing happens in {work.capture.duration_s:.3g} s, less than an engine cycle at idle"
    work.setup("too_short", text, lane, hides=True)
    return True


def note_nothing(work: Work, lane: str, text: str) -> None:
    """A lane without an event: too short a record may lie between two of them, else the connection."""
    if not between_events(work, lane):
        work.setup("flat_line", text, lane, hides=True)


def note_dead(work: Work, lane: str, level: float) -> None:
    """A lane that rests where nothing is: the connection first, never the part."""
    work.setup("flat_line", f"stays at {level:.2f} V: probe, key or plug first", lane, hides=True)


def put_polarity_right(work: Work, lane: str) -> None:
    """A lane that lies below zero throughout is read inverted, with the finding."""
    found = work.capture.lanes.get(lane)
    if found is None:
        return
    low, high = percentiles(thin(found.samples), 1, 99)
    if high < 0.05 and low < -0.3:
        work.setup("reversed_polarity", f"the {lane} lies below zero: leads reversed; read inverted", lane)
        work.capture = work.capture.with_lane(found.scaled(-1.0))


def unswap(work: Work, one: str, other: str, reach_one: Span, reach_other: Span) -> None:
    """Two lanes whose levels fit each other's reach and not their own are read exchanged, with the finding."""
    first, second = work.capture.lanes.get(one), work.capture.lanes.get(other)
    if first is None or second is None:
        return
    a, b = median(thin(first.samples)), median(thin(second.samples))
    if _within(a, reach_one) or _within(b, reach_other) or not (_within(a, reach_other) and _within(b, reach_one)):
        return
    exchange(work, one, other, f"{one} lies at {a:.2f} and {other} at {b:.2f}: read exchanged")


def exchange(work: Work, one: str, other: str, text: str) -> None:
    """Read two lanes as each other, with the finding."""
    first, second = work.capture.lanes[one], work.capture.lanes[other]
    work.setup("lanes_swapped", text)
    lanes = {**work.capture.lanes, one: replace(second, name=one), other: replace(first, name=other)}
    work.capture = replace(work.capture, lanes=lanes)


def _within(value: float, reach: Span) -> bool:
    return reach[0] <= value <= reach[1]
