"""Coil primary current: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.events import current as pulses
from tracebench.core.circuits.events import injectors as coils
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    Places,
    attributed,
    check_all_seen,
    unswap_sync,
)
from tracebench.core.circuits.events.cranking import set_apart
from tracebench.core.circuits.events.current import Current, Shape
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Count, Threshold, reach
from tracebench.core.circuits.work import Work
from tracebench.core.measure.crests import crests
from tracebench.core.measure.spark import COUNT_DOUBT
from tracebench.core.robust.median import median
from tracebench.core.robust.series import running_mean

TURN_ON = Threshold(0.20, "", "Part of the ramp in which the turn-on ripple is read")

RING_SIGMA = Threshold(
    5.0, "sigma", "A swing of the turn-on ripple stands out of the noise by so many sigma, or it is noise"
)
RINGS_SOUND = Count(2, "rings", "Swings that a sound winding shows at turn-on (common practice, no published source)")
UNRESOLVED = Threshold(
    0.33, "", "Part of its siblings' ripple that one without a swing out of the noise must be under to be none"
)
LONE_HUMP = Threshold(
    0.8, "", "Of its siblings' ripple: one hump so large and nothing after it is no ripple that noise has swallowed"
)
LEAST_RIPPLE = Threshold(
    0.02,
    "",
    "Part of the peak that a sound ripple reaches at turn-on (from memory); noise above it hides whether there is one",
)

RATE_FOR_RIPPLE_HZ = Threshold(100_000.0, "Hz", "A ripple of some 20 kHz needs this rate to be seen (from memory)")
VERTICAL = Threshold(
    0.30, "", "Part of the peak within the first twentieth of the dwell that only a shorted winding reaches"
)
PEAKS_A = reach(2.0, 30.0, "A", "Peaks of coils (from memory)")
RAMPS = reach(0.8, 12.0, "A/ms", "Ramps of coils: 1 to 8 mH at 9 to 15 V (from memory)")


def measure(work: Work) -> Work:
    """Each firing's ramp, and each cylinder against the others."""
    unswap_sync(work, "current")
    current, shapes = _ramps(work)
    if current is not None:
        places = attributed(work, np.array([s.release for s in shapes]))
        check_all_seen(work, places, "current")
        table = coils.table_of(work, "current", shapes, places)
        set_apart(work, table)
        _read(work, table, current, shapes)
        work.settle_phases(coils.on_phases(table))
        report(work, table)
        coils.rate_of(work, table)
        odd_cylinders.read_cycle(work, table, places)
        _judge(work, table, places, current, shapes)
        pulses.check_pulse_setup(work, "current", current, shapes)
    return work


def _ramps(work: Work) -> tuple[Current | None, list[Shape]]:
    """The lane's ramps, read by the clamp factor that makes them a coil's: a peak alone may be one with a wrong factor.

    A shorted winding is as steep as ten times a coil, and stands upright at its beginning.
    """
    found = len(work.findings)
    current = pulses.current_of(work, "current", *PEAKS_A)
    if current is None:
        return None, []
    shapes = pulses.shapes_of(current)
    ms = 1000 * work.capture.interval_s
    slopes = [slope[0] / ms for s in shapes if (slope := pulses.slope_between(current, s, 0.10, 0.50)) is not None]
    if not slopes or RAMPS[0] <= median(slopes) <= RAMPS[1]:
        return current, shapes
    factor = 0.1 if median(slopes) < RAMPS[0] else 10.0
    peak, ramp = median([s.peak for s in shapes]) / factor, median(slopes) / factor
    upright = median([pulses.leading_edge(current, s) for s in shapes]) > VERTICAL
    if upright or not (PEAKS_A[0] <= peak <= PEAKS_A[1] and RAMPS[0] <= ramp <= RAMPS[1]):
        return current, shapes
    del work.findings[found:]
    text = f"a ramp of {median(slopes):.2g} A/ms is no coil's: clamp factor; read divided by {factor:g}"
    work.setup("scale_suspect", text, "current")
    work.capture = work.capture.with_lane(work.capture.lanes["current"].scaled(1.0 / factor))
    current = pulses.current_of(work, "current", *PEAKS_A)
    return current, [] if current is None else pulses.shapes_of(current)


def _read(work: Work, table: EventTable, current: Current, shapes: list[Shape]) -> None:
    ms = 1000 * work.capture.interval_s
    coils.put_times(work, table, shapes, "dwell_ms")
    coils.put_peaks(work, table, shapes)
    coils.put_each(table, "ramp", "A/ms", [pulses.slope_between(current, s, 0.10, 0.50) for s in shapes], 1 / ms)
    edges = np.array([pulses.leading_edge(current, s) for s in shapes])
    table.put("leading_edge_fraction", "", edges, current.rest.sigma / np.array([s.peak for s in shapes]))
    flats = [_limit_flat(current, s) for s in shapes]
    coils.put_each(table, "limit_flat_ms", "ms", [(f, 2.0) for f in flats], ms)
    if not enough(work.capture.rate_hz, RATE_FOR_RIPPLE_HZ):
        for reading_id in ("turn_on_ring_count", "turn_on_ring_a"):
            work.miss(reading_id, f"{work.capture.rate_hz:,.0f} samples a second are too few for the turn-on ripple")
        text = (
            f"{work.capture.rate_hz:,.0f} samples a second show no ripple at turn-on; {RATE_FOR_RIPPLE_HZ:,.0f} would"
        )
        work.setup("undersampled", text, "current", hides=True)
        return
    rings = [turn_on_ripple(current, s) for s in shapes]
    table.put("turn_on_ring_count", "", np.array([float(r[0]) for r in rings]), np.full(len(rings), COUNT_DOUBT))
    table.put("turn_on_ring_a", "A", np.array([r[1] for r in rings]), np.full(len(rings), current.rest.sigma))


def turn_on_ripple(current: Current, shape: Shape) -> tuple[int, float]:
    """Maxima of the first fifth of the ramp over five sigma of noise once its course is taken off, and the largest."""
    begin = int(np.ceil(shape.start))
    part = current.samples[begin : begin + max(12, int(TURN_ON * shape.width))] - current.rest.level
    if part.size < 12:
        return 0, 0.0
    width = max(1, part.size // 200)
    smooth = running_mean(part, width)
    x = np.linspace(-1, 1, smooth.size)
    # The ripple dies out: the course is fitted where it is nearly gone and carried back by a parabola.
    powers = np.stack((np.ones_like(x), x, x * x))
    weighted = powers * (0.15 + 0.85 * (x > -0.3)) ** 2
    wave = smooth - np.linalg.solve(weighted @ powers.T, weighted @ smooth) @ powers
    sigma = current.rest.sigma / np.sqrt(width)
    least = max(RING_SIGMA * sigma, 0.004 * shape.peak)
    return int(crests(wave, least, least).size), float(wave.max(initial=0.0))


def _limit_flat(current: Current, shape: Shape) -> float:
    """Samples for which the current rests at the top before release, beyond what a ramp would spend there."""
    begin, end = int(np.ceil(shape.start)), int(np.floor(shape.release)) + 1
    part = running_mean(current.samples[begin:end] - current.rest.level, max(1, (end - begin) // 100))
    band = max(0.02 * shape.released, 3 * current.rest.sigma)
    over = np.flatnonzero(part >= shape.released - band)
    if over.size == 0:
        return 0.0
    spent = part.size - int(over[0])
    slope = pulses.slope_between(current, shape, 0.40, 0.85)
    own = band / slope[0] if slope is not None and slope[0] > 0 else 0.0
    flat = spent - own
    return float(flat) if flat > max(2.0 * own, 0.05 * part.size) else 0.0


def _judge(work: Work, table: EventTable, places: Places, current: Current, shapes: list[Shape]) -> None:
    odd_cylinders.note_missing_events(work, table, places, "missing_ramp", "its ramp is")
    whose = table.of_cylinders("leading_edge_fraction") or {0: median(table.values["leading_edge_fraction"])}
    for cylinder, edge in whose.items():
        if edge > VERTICAL:
            text = f"{_who(cylinder, places)} starts upright: {100 * edge:.0f} % of its peak at once"
            work.fault("shorted_winding", text, _place(table, cylinder), "current", edge, "", cylinder or None)
    _judge_ripple(work, table, places, current, shapes)
    for reading_id, code, part, words in (
        ("dwell_ms", "short_dwell", 0.75, "dwells {value:.2f} ms where the others dwell {others:.2f} ms"),
        ("peak_a", "low_peak", 0.80, "peaks at {value:.2f} A where the others reach {others:.2f} A"),
    ):
        for odd in odd_cylinders.odd_ones(table, reading_id, below=part):
            if code == "low_peak" and work.has("short_dwell"):
                continue
            text = f"{_who(odd.cylinder, places)} {words.format(value=odd.value, others=odd.others)}"
            unit = table.units[reading_id]
            work.fault(code, text, _place(table, odd.cylinder), "current", odd.value, unit, odd.cylinder)


def _judge_ripple(work: Work, table: EventTable, places: Places, current: Current, shapes: list[Shape]) -> None:
    """One abrupt hump or none where the siblings ring, or where the only coil of a fast record does not.

    Judged on the mean of each cylinder's ramps, in which noise does not hide what they have alike.
    """
    if "turn_on_ring_count" not in table.values:
        return
    means = {}
    for cylinder in table.cylinders or [0]:
        own = [s for s, c in zip(shapes, table.cylinder, strict=True) if not cylinder or c == cylinder]
        mean, shape = pulses.mean_pulse(current, own)
        if RING_SIGMA * mean.rest.sigma > LEAST_RIPPLE * current.typical_a:
            work.setup("noisy", "noise hides the ripple at turn-on: a clamp of a smaller range", "current", hides=True)
            return
        means[cylinder] = turn_on_ripple(mean, shape)
    for cylinder, (count, size) in means.items():
        others = [means[c] for c in means if c != cylinder]
        # Siblings must ring clearly, and this one clearly less, before it is the odd one.
        if others and np.median([n for n, _ in others]) < RINGS_SOUND:
            continue
        # What is as large as theirs rings, however few of its swings stand out of the noise; one hump alone does not.
        lone = count == 1 and size > LONE_HUMP * median([a for _, a in others]) if others else False
        if others and not lone and size > (0.5 if count else UNRESOLVED) * median([a for _, a in others]):
            continue
        if not others and count == 0 and size > LEAST_RIPPLE * current.typical_a:
            work.setup("noisy", "noise hides the ripple at turn-on: a clamp of a smaller range", "current", hides=True)
            return
        if count < RINGS_SOUND and not _shorted(work, cylinder):
            seen = "one abrupt hump" if count >= 1 else "no ripple"
            text = f"{_who(cylinder, places)}: {seen} at turn-on where the secondary should ring: look at the secondary"
            work.fault("turn_on_abnormal", text, _place(table, cylinder), "current", count, "", cylinder or None)


def _shorted(work: Work, cylinder: int) -> bool:
    return any(f.code == "shorted_winding" and f.cylinder == (cylinder or None) for f in work.findings)


def _who(cylinder: int, places: Places) -> str:
    return odd_cylinders.name(cylinder, places.by_sync) if cylinder else "the coil"


def _place(table: EventTable, cylinder: int) -> tuple[float, float]:
    return table.first_of(cylinder) if cylinder else (float(table.from_s[0]), float(table.to_s[0]))
