"""Injector, piezo: what is peculiar to measuring it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Phase
from tracebench.core.circuits import extremes, hum, probe, record_checks
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.events import current as pulses_of_current
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.current import HUM_HIDES, HUM_PART, check_zero
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.pulse_train import find_pulses, rest_of
from tracebench.core.robust import fits
from tracebench.core.robust.codes import code_doubt
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.series import running_mean
from tracebench.core.samples import Samples

LOW_PART = Threshold(0.7, "", "Part of the other events' charge under which one is called low (from memory)")

CARRIED_BACK = Threshold(
    1.8, "", "Doubts of a code in a beginning that two crossings among few samples are carried back to (by simulation)"
)

SHORTEST_CYCLE_S = Threshold(0.015, "s", "Two turns at 8,000 a minute: events closer than this belong to one cycle")

STOPPED = Threshold(
    3.0, "cycles", "Cycles without an event at the end of a record, from which the power stage is called shut down"
)


@dataclass(frozen=True, slots=True, eq=False)
class Pulse:
    """One half-wave: fractional begin and end in samples, its extreme in amperes, and where that is.

    Beginning and extreme carry one standard uncertainty each, in samples and amperes.
    """

    begin: float
    end: float
    peak: float
    at: int
    begin_doubt: float
    peak_doubt: float


def measure(work: Work) -> Work:
    """Charges and discharges, paired to events and grouped to engine cycles."""
    work.settle_phases([])
    charges, discharges, sigma = _half_waves(work)
    if not charges:
        _nothing(work)
        return work
    pairs = _paired(charges, discharges)
    cycles = _cycles(pairs, work.capture.interval_s)
    _report(work, pairs, cycles)
    _judge(work, pairs, cycles, charges, discharges)
    widths = np.array([c.end - c.begin for c in charges])
    shortest = percentile(widths, 10)
    if not enough(shortest, setup.FEWEST_SAMPLES):
        lasts = 1e6 * shortest * work.capture.interval_s
        text = f"{shortest:.2g} samples across a charge of {lasts:.0f} us; {setup.FEWEST_SAMPLES} are needed"
        setup.too_few(work, text, shortest, "current")
    record_checks.check_clipped(work, "current", 0.0)
    record_checks.check_capped(work, "current", work.samples("current"), np.array([c.at for c in charges]))
    if sigma > pulses_of_current.NOISY * median([c.peak for c in charges]):
        work.setup("noisy", f"noise of {sigma:.2g} A: a clamp of a smaller range", "current", hides=True)
    setup.check_range_use(work, "current", 1.5)
    return work


def _half_waves(work: Work) -> tuple[list[Pulse], list[Pulse], float]:
    """Positive and negative half-waves, the lane put right in sign and scale."""
    found = work.capture.lanes["current"]
    rest = work.once(found.samples, "rest", rest_of)
    reach = max(rest.over, rest.under)
    if reach < max(0.01, 8 * rest.sigma):
        return [], [], rest.sigma
    factor = None if 1.2 <= reach <= 60 else setup.wrong_factor(reach, 3.0, 25.0)
    if factor is not None:
        text = f"peaks of {reach:.3g} A are {factor:g} times what they can be: clamp factor; read divided by it"
        work.setup("scale_suspect", text, "current")
        found = found.scaled(1 / factor)
        work.capture = work.capture.with_lane(found)
        rest = work.once(found.samples, "rest", rest_of)
        reach = max(rest.over, rest.under)
    if not record_checks.check_rest(work, "current"):
        check_zero(work, "current", rest.level, reach)
    if hum.take_off(work, "current", hum.hum_on(work, "current"), HUM_PART * reach, HUM_HIDES * reach):
        found = work.capture.lanes["current"]
        rest = work.once(found.samples, "rest", rest_of)
        reach = max(rest.over, rest.under)
    centred = found.samples - rest.level
    code = code_doubt(found.step, rest.sigma)
    up, down = _waves(centred, reach, rest.sigma, code), _waves(-centred, reach, rest.sigma, code)
    if _begins_below(up, down):
        work.setup(
            "reversed_polarity", "the opening pulse points down: clamp the wrong way round; read inverted", "current"
        )
        work.capture = work.capture.with_lane(found.scaled(-1.0))
        up, down = down, up
    negative = [replace(p, peak=-p.peak) for p in down]
    return up, negative, rest.sigma


def _waves(samples: Samples, reach: float, sigma: float, code: float) -> list[Pulse]:
    low, high = max(3 * sigma, 0.06 * reach), max(6 * sigma, 0.2 * reach)
    found = find_pulses(samples, low, high)
    out = []
    for a, b in zip(found.start, found.stop, strict=True):
        begin, rise, doubt = _begin(samples, int(a), low, sigma)
        crest = _crest(samples[a:b], sigma)
        doubt = math.hypot(doubt, CARRIED_BACK * code * rise / low)
        out.append(Pulse(begin, float(b), crest.value, int(a) + crest.at, doubt, crest.uncertainty))
    return out


def _begin(samples: Samples, over: int, low: float, sigma: float) -> tuple[float, float, float]:
    """Where a half-wave leaves zero: its rise from `low` to twice that carried back; how long that rise takes, and the
    place's uncertainty, in samples."""
    first = over
    while first > 0 and samples[first - 1] > low:
        first -= 1
    later = first + int(np.argmax(samples[first : over + 200] >= 2 * low)) if over > first else over
    ends = [first, max(later, first)]
    places = []
    for k, level in zip(ends, (low, 2 * low), strict=True):
        one, two = (float(samples[max(0, k - 1)]), float(samples[k]))
        places.append(k - (two - level) / (two - one) if one < level <= two else float(k))
    # An edge within a sample or two began anywhere in it.
    rise = max(places[1] - places[0], 0.0)
    doubt = float(np.hypot(0.2, 1.5 * sigma / (low / rise))) if rise > 0.5 else 0.3
    return places[0] - rise, rise, doubt


def _crest(part: Samples, sigma: float) -> extremes.Extreme:
    """Top of a half-wave: the vertex of a parabola through its upper part, with few samples the largest one."""
    highest = int(np.argmax(running_mean(part, max(1, part.size // 10))))
    reach = part.size // 6
    begin, end = max(0, highest - reach), min(part.size, highest + reach + 1)
    y = part[begin:end]
    bend, slope, offset = fits.parabola(y, highest - begin) if y.size >= 7 else (0.0, 0.0, 0.0)
    if bend >= 0:
        found = extremes.extreme_of(part, 1.0, max(1, part.size // 12), largest=True)
        return extremes.Extreme(found.value, found.at, float(np.hypot(found.uncertainty, 0.005 * found.value)))
    value = float(offset - slope**2 / (4 * bend))
    # A parabola over a third of a half-sine stands nearly a thousandth off its crest.
    return extremes.Extreme(value, highest, float(np.hypot(1.3 * sigma / np.sqrt(y.size), 0.0008 * value)))


def _begins_below(up: list[Pulse], down: list[Pulse]) -> bool:
    """True if after each long pause the first pulse is a negative one, in most of them."""
    both = sorted([(p.begin, 1) for p in up] + [(p.begin, -1) for p in down])
    if len(both) < 2 or not down:
        return not up and bool(down)
    at = np.array([b for b, _ in both])
    steps = np.diff(at)
    longest = float(steps.max())
    first = [both[0][1]] if at[0] > 0.02 * longest else []
    first += [both[k + 1][1] for k in np.flatnonzero(steps > 0.4 * longest)] if len(both) > 4 else []
    return bool(first) and float(np.mean(first)) < 0


Pair = tuple[Pulse, Pulse | None]


def _paired(charges: list[Pulse], discharges: list[Pulse]) -> list[Pair]:
    """Each charge with the first discharge before the next charge, None where it has none."""
    starts = np.array([d.begin for d in discharges])
    out: list[Pair] = []
    for k, c in enumerate(charges):
        j = int(np.searchsorted(starts, c.begin))
        following = charges[k + 1].begin if k + 1 < len(charges) else np.inf
        out.append((c, discharges[j] if j < len(discharges) and starts[j] < following else None))
    return out


def _cycles(pairs: list[Pair], interval_s: float) -> NDArray[np.int64]:
    """Cycle of each event from 0: gaps fall into short ones within a cycle and long ones between cycles."""
    at = np.array([c.begin for c, _ in pairs])
    if at.size < 2:
        return np.zeros(at.size, dtype=np.int64)
    # What hum makes of a lane may not come in order.
    steps = np.diff(np.sort(at))
    ordered = np.sort(steps)
    jumps = ordered[1:] / np.maximum(ordered[:-1], 1e-9)
    if jumps.size and float(jumps.max()) > 2.5:
        k = int(np.argmax(jumps))
        border = float(np.sqrt(ordered[k] * ordered[k + 1]))
    else:
        # All gaps alike: one event a cycle, unless no engine turns so fast; then they are one cycle's.
        border = 0.5 * float(ordered[0]) if median(steps) * interval_s > SHORTEST_CYCLE_S else np.inf
    return np.concatenate([[0], np.cumsum(steps > border)])


def _report(work: Work, pairs: list[Pair], cycles: NDArray[np.int64]) -> None:
    interval, begin = work.capture.interval_s, work.capture.start_s
    from_s = begin + interval * np.array([c.begin for c, _ in pairs])
    to_s = begin + interval * np.array([(d or c).end for c, d in pairs])
    table = EventTable("current", from_s, to_s, np.zeros(len(pairs), dtype=np.int64))
    ms = 1000 * interval
    table.put("charge_a", "A", np.array([c.peak for c, _ in pairs]), np.array([c.peak_doubt for c, _ in pairs]))
    shared.put_each(table, "discharge_a", "A", [None if d is None else (d.peak, d.peak_doubt) for _, d in pairs])
    firsts = {int(k): float(from_s[np.flatnonzero(cycles == k)[0]]) for k in np.unique(cycles)}
    starts = 1000 * (from_s - np.array([firsts[int(k)] for k in cycles]))
    begun = ms * np.array([c.begin_doubt for c, _ in pairs])
    table.put("start_ms", "ms", starts, 1.25 * begun)
    widths = [None if d is None else (d.begin - c.begin, np.hypot(c.begin_doubt, d.begin_doubt)) for c, d in pairs]
    shared.put_each(table, "width_ms", "ms", widths, ms)
    gaps: list[tuple[float, float] | None] = []
    for k, (_, d) in enumerate(pairs):
        same = k + 1 < len(pairs) and cycles[k + 1] == cycles[k] and d is not None
        if not same or d is None:
            gaps.append(None)
            continue
        following = pairs[k + 1][0]
        gaps.append((following.begin - d.begin, float(np.hypot(following.begin_doubt, d.begin_doubt))))
    shared.put_each(table, "gap_ms", "ms", gaps, ms)
    table.kinds = _places(cycles)
    table.speaks = table.kinds == _main_place(table.kinds, table.values["width_ms"])
    work.settle_phases(_phases(work, pairs, cycles))
    report(work, table)
    whole = _whole_cycles(work, pairs, cycles)
    if whole:
        counts = [int(np.sum(cycles == k)) for k in whole]
        work.add("events_count", median(counts), "", 0.0, work.whole, "current")
    else:
        work.miss("events_count", "no whole cycle in this capture")
    if len(firsts) > 1:
        steps = np.diff(np.array(sorted(firsts.values())))
        doubt = np.sqrt(2.0 / steps.size) * median(begun)
        work.add("cycle_ms", 1000 * median(steps), "ms", doubt, (float(from_s[0]), float(from_s[-1])), "current")
    else:
        work.miss("cycle_ms", "one cycle only in this capture")


def _places(cycles: NDArray[np.int64]) -> NDArray[np.int64]:
    """Place of each event within its cycle, from 0."""
    firsts = np.concatenate([[0], np.flatnonzero(np.diff(cycles)) + 1])
    return np.arange(cycles.size) - firsts[cycles - cycles[0]] if cycles.size else cycles


def _main_place(places: NDArray[np.int64], widths: NDArray[np.float64]) -> int:
    """The place whose events are the widest."""
    medians = {}
    for place in np.unique(places):
        own = widths[(places == place) & np.isfinite(widths)]
        if own.size:
            medians[int(place)] = median(own)
    return max(medians, key=lambda p: medians[p], default=0)


def _whole_cycles(work: Work, pairs: list[Pair], cycles: NDArray[np.int64]) -> list[int]:
    """Cycles that no end of the record cuts."""
    names = [int(k) for k in np.unique(cycles)]
    firsts = np.array([pairs[int(np.flatnonzero(cycles == k)[0])][0].begin for k in names])
    lasts = np.array([pairs[int(np.flatnonzero(cycles == k)[-1])][0].end for k in names])
    # As far as the next event would have been, were one cut off; a lone cycle has a cycle's time about it.
    margin = min(float(np.max(lasts - firsts)) * 0.5 + 20, 0.3 * work.capture.samples)
    return [k for k, a, b in zip(names, firsts, lasts, strict=True) if a > margin and b < work.capture.samples - margin]


def _phases(work: Work, pairs: list[Pair], cycles: NDArray[np.int64]) -> list[Phase]:
    """The widest event of a cycle is the main one; those before it are pilots (the last of several: intermediate)."""
    interval, begin = work.capture.interval_s, work.capture.start_s
    out = []
    for k in np.unique(cycles)[: shared.MOST_PHASES]:
        members = np.flatnonzero(cycles == k)
        widths = [_width(pairs[int(m)]) for m in members]
        main = int(np.argmax(widths))
        for j, m in enumerate(members):
            c, d = pairs[int(m)]
            name = "main" if j == main else "post" if j > main else "pilot" if j == 0 or main < 2 else "intermediate"
            out.append(Phase(name, begin + c.begin * interval, begin + (d or c).end * interval, int(k) + 1))
    return out


def _width(pair: Pair) -> float:
    return 0.0 if pair[1] is None else pair[1].begin - pair[0].begin


def _judge(
    work: Work, pairs: list[Pair], cycles: NDArray[np.int64], charges: list[Pulse], discharges: list[Pulse]
) -> None:
    interval, begin = work.capture.interval_s, work.capture.start_s

    def span(first: Pulse, last: Pulse | None = None) -> tuple[float, float]:
        return begin + first.begin * interval, begin + (last or first).end * interval

    # The last charge of a record may be discharged after its end.
    widest = max((_width(p) for p in pairs), default=0.0)
    lone = [c for c, d in pairs if d is None and c.begin < work.capture.samples - 1.3 * widest - (c.end - c.begin)]
    for c in lone[:10]:
        text = (
            f"charged at {begin + c.begin * interval:.4f} s and never discharged before the next: a lead or the stack"
        )
        work.fault("charge_without_discharge", text, span(c), "current", c.peak, "A")
    peaks = np.array([c.peak for c in charges])
    usual = median(peaks)
    for k in np.flatnonzero(peaks < LOW_PART * usual)[:10]:
        text = f"charges to only {peaks[k]:.2f} A where the others reach {usual:.2f} A"
        work.fault("low_charge", text, span(charges[int(k)]), "current", float(peaks[k]), "A")
    whole = _whole_cycles(work, pairs, cycles)
    counts = {k: int(np.sum(cycles == k)) for k in whole}
    if counts:
        wanted = round(work.number("events", float(max(counts.values())), 1, 8))
        for k in [k for k, n in counts.items() if n < wanted][:10]:
            first = pairs[int(np.flatnonzero(cycles == k)[0])][0]
            text = f"cycle {k + 1} has {counts[k]} of {wanted} events"
            work.fault("missing_event", text, span(first), "current", float(counts[k]), "")
    firsts = np.array([pairs[int(np.flatnonzero(cycles == k)[0])][0].begin for k in np.unique(cycles)])
    if firsts.size >= 3:
        cycle = median(np.diff(firsts))
        quiet = work.capture.samples - pairs[-1][0].end
        if quiet > STOPPED * cycle:
            text = (
                f"nothing for {quiet * interval:.2f} s after {firsts.size} cycles: the power stage has shut down; "
                "go on with resistances, powered down"
            )
            stop = begin + pairs[-1][0].end * interval
            work.fault("power_stage_off", text, (stop, work.whole[1]), "current")


def _nothing(work: Work) -> None:
    if work.told.options.get("running") == "yes" or work.told.phases:
        text = "no charge while the engine turns: the power stage is off; go on with resistances, powered down"
        work.fault("power_stage_off", text, None, "current")
    else:
        probe.note_nothing(work, "current", "no charge or discharge: clamp, conductor and engine first")
