"""Firings of the secondary: the lane put right, each line's top, its burn, and the table of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.circuits.secondary_voltage.turn_on import without_turn_on
from tracebench.core.circuits import hum
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.events import injectors as coils
from tracebench.core.circuits.events.attribution import (
    Places,
)
from tracebench.core.circuits.events.table import ONE_SIDE, EventTable
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.pulse_train import Rest, find_pulses, rest_of
from tracebench.core.measure.spark import COUNT_DOUBT, Burn, find_burn, rings_of
from tracebench.core.measure.tops import between_samples
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.series import running_median
from tracebench.core.samples import Samples

REFRACTORY_S = Threshold(2.5e-3, "s", "A coil does not fire again within this (from memory)")

LINE_S = Threshold(100e-6, "s", "A firing line and the fall from it to the burn")

HUM_PART = Threshold(0.01, "", "Hum over the highest firing line from which it is told and taken off")
HUM_HIDES = Threshold(0.05, "", "And from which what is left of it may hide the answer")


@dataclass(frozen=True, slots=True, eq=False)
class Firings:
    """The lane's magnitude over its rest, and the sample of each firing line's top."""

    samples: Samples
    rest: Rest
    at: NDArray[np.int64]
    sign: int


def firings_of(work: Work) -> Firings | None:
    rest = work.once(work.samples("secondary"), "rest", rest_of)
    reach = max(rest.over, rest.under)
    if reach < max(0.05, 10 * rest.sigma):
        return None
    if hum.take_off(work, "secondary", hum.hum_on(work, "secondary"), HUM_PART * reach, HUM_HIDES * reach):
        rest = work.once(work.samples("secondary"), "rest", rest_of)
        reach = max(rest.over, rest.under)
    found = work.capture.lanes["secondary"]
    sign = 1 if rest.over >= rest.under else -1
    factor = work.number("kv_per_unit", 1.0, 1e-4, 1e4) if work.told.options.get("kv_per_unit") else 1.0
    samples = (found.samples - rest.level) * (sign * factor)
    rest = Rest(0.0, rest.sigma * factor, reach * factor, min(rest.over, rest.under) * factor)
    at = _tops(samples, rest, work.capture.interval_s)
    if at.size == 0:
        return None
    typical = median(samples[at])
    # Lines whose tops lie between the samples say nothing of the pickup.
    resolved = enough(LINE_S / work.capture.interval_s, setup.FEWEST_SAMPLES)
    if factor == 1.0 and resolved and not 1.5 <= typical <= 60.0:
        wrong = setup.wrong_factor(typical, 4.0, 30.0)
        if wrong is not None:
            text = f"fires at {typical:.3g} kV, {wrong:g} times what it can be: pickup factor; read divided by it"
            work.setup("scale_suspect", text, "secondary")
            work.capture = work.capture.with_lane(found.scaled(1 / wrong))
            samples = samples / wrong
            rest = Rest(0.0, rest.sigma / wrong, rest.over / wrong, rest.under / wrong)
    return Firings(samples, rest, at, sign)


def _tops(samples: Samples, rest: Rest, interval_s: float) -> NDArray[np.int64]:
    """Samples of the firing lines' tops: the largest of each group of pulses within the time of one firing.

    The threshold is a part of the typical top and not of the highest, so that one wild firing does not hide the rest.
    """
    apart = max(2, round(REFRACTORY_S / interval_s))
    threshold = max(8 * rest.sigma, 0.10 * rest.over)
    at = np.empty(0, dtype=np.int64)
    for first in (True, False):
        found = without_turn_on(samples, find_pulses(samples, 0.7 * threshold, threshold), interval_s)
        if found.count == 0:
            return np.empty(0, dtype=np.int64)
        groups = np.concatenate([[0], np.cumsum(np.diff(found.start) > apart)])
        firsts = np.flatnonzero(np.diff(np.concatenate([[-1], groups])))
        lasts = np.concatenate([firsts[1:] - 1, [found.count - 1]])
        tops = []
        for a, b in zip(firsts, lasts, strict=True):
            # The firing line begins the group; a burn or ring later in it is lower as a rule.
            begin = int(found.start[a])
            stop = min(int(found.stop[b]), begin + max(2, round(0.25e-3 / interval_s)))
            tops.append(begin + int(np.argmax(samples[begin : max(stop, begin + 1)])))
        at = np.array(tops, dtype=np.int64)
        if first:
            heights = samples[at]
            typical = percentile(heights, 30)
            # Under the burn's own level, so that a fouled plug's low line is seen; what follows it is its own group.
            threshold = max(8 * rest.sigma, 0.10 * typical)
            if at.size > 3:
                apart = max(2, min(apart, round(0.5 * percentile(np.diff(at), 5))))
    return _with_buried(samples, at, threshold)


def _with_buried(samples: Samples, at: NDArray[np.int64], threshold: float) -> NDArray[np.int64]:
    """Firings added that the ring-out of the one before has swallowed: a line well over what precedes it."""
    if at.size < 4:
        return at
    steps = np.diff(at)
    local = running_median(steps.astype(np.float64), 9)
    found = []
    for k in np.flatnonzero(steps > 1.55 * local):
        count = max(2, round(steps[k] / local[k]))
        pitch = steps[k] / count
        for j in range(1, count):
            centre = at[k] + j * pitch
            begin, end = int(centre - 0.2 * pitch), int(centre + 0.2 * pitch)
            i = begin + int(np.argmax(samples[begin:end]))
            before = samples[max(0, i - int(0.12 * pitch)) : max(1, i - 6)]
            if samples[i] > threshold and before.size and samples[i] > 1.5 * float(before.max()):
                found.append(i)
    return np.sort(np.concatenate([at, np.array(found, dtype=np.int64)])) if found else at


def burn_of(work: Work, firings: Firings, k: int) -> Burn | None:
    interval = work.capture.interval_s
    at = int(firings.at[k])
    stop = firings.samples.size if k + 1 >= firings.at.size else int(firings.at[k + 1])
    stop = min(at + round(8e-3 / interval), at + int(0.8 * (stop - at)) if stop > at + 4 else stop)
    found = find_burn(firings.samples[at:stop], 0, interval, firings.rest.sigma)
    return None if found is None else Burn(at, at + found.stop, found.level, found.roughness, found.rings)


def table_of(work: Work, firings: Firings, burns: list[Burn | None], places: Places) -> EventTable:
    interval, begin = work.capture.interval_s, work.capture.start_s
    from_s = begin + interval * firings.at.astype(np.float64)
    to_s = begin + np.array([(b.stop if b else a + 1) for a, b in zip(firings.at, burns, strict=True)]) * interval
    table = EventTable("secondary", from_s, to_s, places.cylinder)
    ms, sigma = 1000 * interval, firings.rest.sigma
    tops, lost = firings.samples[firings.at], between_samples(firings.samples, firings.at)
    reach = 10 * interval
    table.put("firing_kv", "kV", tops, np.hypot(sigma, lost), (from_s - reach, from_s + reach), alike=ONE_SIDE)
    coils.put_each(table, "burn_kv", "kV", [None if b is None else (b.level, 0.18 * sigma + 0.001) for b in burns])
    lasted = np.array([np.nan if b is None else (b.stop - b.start) * ms for b in burns])
    table.put("burn_ms", "ms", lasted, np.full(lasted.size, 0.38 * ms))
    coils.put_each(
        table, "burn_hash", "", [None if b is None else (b.roughness, 0.1 * b.roughness + 0.002) for b in burns]
    )
    rings = rings_of(firings.samples, burns, places.cylinder, interval, sigma)
    table.put("rings_count", "", rings, np.full(rings.size, COUNT_DOUBT))
    return table
