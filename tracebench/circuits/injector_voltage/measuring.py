"""Injector voltage: what is peculiar to measuring it."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.capture import Lane
from tracebench.core.circuits.events import driven_low, odd_cylinders
from tracebench.core.circuits.events import injectors as shared
from tracebench.core.circuits.events.attribution import attributed
from tracebench.core.circuits.events.driven_low import Kick, Wire
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.crests import crests
from tracebench.core.measure.hulls import against_course, bulge_over
from tracebench.core.measure.pulse_train import mean_course
from tracebench.core.robust.median import median
from tracebench.core.robust.series import running_mean
from tracebench.core.samples import Samples

RING_V = Threshold(1.0, "V", "Ringing under this disturbs nobody (from memory)")
RING_SIGMA = Threshold(
    4.5,
    "sigma",
    "Noise of a few hundred samples seldom stands out further; from one crest to a trough it is twice that",
)

RINGS_ABNORMAL = Count(3, "rings", "Crests from which ringing after the kick is no settling (from memory)")
OFTEN = Threshold(0.3, "", "Part of the pulses that must show a bump before it is read pulse by pulse")

LATEST_BUMP_S = Threshold(
    0.002,
    "s",
    "A needle seats within this of the release (common practice, no published source); later rings are rings",
)
LEAST_BUMP = Threshold(0.012, "", "Part of the kick over the supply from which a bump is a needle's (from memory)")


def measure(work: Work) -> Work:
    """Supply, on, kick, closing bump and tail of each pulse."""
    wire = driven_low.wire_of(work, "control", 30.0, 130.0)
    if wire is None:
        work.settle_phases([])
        driven_low.note_nothing_switched(work, "control", "no_pulse")
    else:
        places = attributed(work, wire.fall)
        at = work.capture.start_s + wire.fall * work.capture.interval_s
        until = work.capture.start_s + wire.rise * work.capture.interval_s
        table = EventTable("control", at, until, np.zeros(wire.count, dtype=np.int64))
        tails = _tails(wire, work.capture.interval_s)
        _read(work, table, wire, tails)
        work.settle_phases(_phases(work, table, wire, tails))
        report(work, table)
        shared.rate_of(work, table)
        work.add("pulses_count", wire.count, "", 0.0, work.whole, "control")
        work.add("missing_count", len(places.missing), "", 0.0, work.whole, "control")
        odd_cylinders.note_missing_events(work, table, places, "missing_pulses", "a pulse is")
        _judge(work, table, wire, tails)
        _against_sibling(work, table)
        driven_low.check_wire_setup(work, "control", wire, "a bump of 200 us", 200e-6)
    return work


class Bump(NamedTuple):
    """A bump in a decay: samples from the release, and volts. `codes` is what of its place's uncertainty the recorder's
    codes make."""

    at: float
    size: float
    doubt: float
    codes: float


class Tail(NamedTuple):
    """The kick, the sample where the supply is back, the bump if there is one, and the count of rings over 1 V behind
    it."""

    kick: Kick
    back: int
    bump: Bump | None
    rings: int


def _tail(wire: Wire, k: int, interval_s: float) -> Tail:
    kick = driven_low.kick_of(wire, k, max(8, round(0.6e-3 / interval_s)))
    top, at, flat, _ = kick
    _, stop = wire.after(k)
    rest = wire.samples[at + flat : stop] - wire.supply
    near = max(0.6, 0.01 * (top - wire.supply), 4 * wire.sigma)
    width = max(1, round(8e-6 / interval_s))
    first = np.flatnonzero(rest <= near)
    back = at + flat + (int(first[0]) if first.size else rest.size)
    bump = _bump(wire, k, at + flat, back, top, width)
    rings = _rings(wire, back, min(stop, back + 8 * max(back - at, 20)), width)
    if bump is None and rings == 1:
        # A needle that seats late lifts the wire from the supply, once.
        later = at + flat + _next_back(running_mean(rest, width), back - at - flat, near)
        found = _bump(wire, k, at + flat, later, top, width)
        if found is not None and found.at * interval_s <= LATEST_BUMP_S:
            bump = found
            back, rings = later, _rings(wire, later, min(stop, later + 8 * max(later - at, 20)), width)
    return Tail(kick, back, bump, rings)


def _next_back(rest: Samples, back: int, near: float) -> int:
    """Where what rises over the supply once more behind `back` is `near` it again."""
    over = np.flatnonzero(rest[back:] > RING_V)
    if over.size == 0:
        return back
    crest = back + int(over[0])
    again = np.flatnonzero(rest[crest:] <= near)
    return crest + int(again[0]) if again.size else int(rest.size)


def _bump(wire: Wire, k: int, begin: int, back: int, top: float, width: int) -> Bump | None:
    """The bump in the decay from `begin` to `back`."""
    decay = running_mean(wire.samples[begin:back] - wire.supply, width) if back > begin else np.empty(0)
    # The bend from a flat clamp into the decay is no bump: the hull begins where the decay has left it.
    begun = np.flatnonzero(decay < 0.85 * (top - wire.supply))
    if begun.size == 0 or decay.size - begun[0] <= 12:
        return None
    part = decay[int(begun[0]) :]
    found = bulge_over(part)
    if found is None:
        return None
    found = against_course(part, found)
    if found.size <= max(5 * wire.sigma / np.sqrt(width), LEAST_BUMP * (top - wire.supply)):
        return None
    gap = found.right - found.left
    codes = 0.58 * gap * wire.code / np.sqrt(12.0) / found.size
    doubt = max(0.5, math.hypot(0.58 * gap * wire.sigma / found.size, codes, 0.0165 * gap))
    return Bump(begin + int(begun[0]) + found.at - wire.rise[k], found.size, doubt, codes)


def _rings(wire: Wire, back: int, stop: int, width: int) -> int:
    """Swings over the supply once the decay is back at it."""
    smooth = running_mean(wire.samples[back:stop] - wire.supply, width)
    noise = wire.sigma / np.sqrt(width)
    return int(crests(smooth, max(RING_V, RING_SIGMA * noise), max(0.5 * RING_V, 2 * RING_SIGMA * noise)).size)


def _tails(wire: Wire, interval_s: float) -> list[Tail]:
    """The tail of each release; rings that noise hides in one are counted on the mean of all."""
    tails = [_tail(wire, k, interval_s) for k in range(wire.count)]
    if RING_SIGMA * wire.sigma > RING_V and wire.count > 2:
        rings = _mean_tail(wire, interval_s).rings
        tails = [tail._replace(rings=rings) for tail in tails]
    return tails


def _mean_tail(wire: Wire, interval_s: float) -> Tail:
    """The tail of the mean of all releases, in which noise does not hide what they have alike."""
    before = 10
    lengths = [wire.after(k)[1] - int(wire.rise[k]) for k in range(wire.count)]
    reach = min(*lengths, round(6e-3 / interval_s)) - 4
    grid = np.arange(-before, max(reach, 2 * before), dtype=np.float64)
    course, used = mean_course(wire.samples, wire.rise.tolist(), grid)
    mean = replace(
        wire,
        samples=course,
        sigma=wire.sigma / np.sqrt(used),
        fall=np.array([0.0]),
        rise=np.array([float(before)]),
    )
    return _tail(mean, 0, interval_s)


def _read(work: Work, table: EventTable, wire: Wire, tails: list[Tail]) -> None:
    interval_ms = 1000 * work.capture.interval_s
    size = wire.count
    shared.put_levels(table, "supply_v", "V", [wire.level_before(k) for k in range(size)])
    inside = [wire.inside(k) for k in range(size)]
    on = np.array([np.median(part) for part in inside])
    table.put("on_v", "V", on, np.array([1.2533 * wire.sigma / np.sqrt(part.size) + 1e-4 for part in inside]))
    table.put("on_ms", "ms", (wire.rise - wire.fall) * interval_ms, np.full(size, 0.41 * interval_ms))
    at = work.capture.start_s + np.array([t.kick.at for t in tails]) * work.capture.interval_s
    reach = 20 * work.capture.interval_s
    tops, doubts = np.array([t.kick.top for t in tails]), np.array([t.kick.doubt for t in tails])
    table.put("kick_v", "V", tops, doubts, (at - reach, at + reach))
    # A bump behind a pulse or two is noise.
    shown = np.mean([t.bump is not None for t in tails]) >= OFTEN
    bumps = [None if t.bump is None or not shown else (t.bump.at, t.bump.doubt, t.bump.codes) for t in tails]
    shared.put_each(table, "bump_ms", "ms", bumps, interval_ms)
    table.put("tail_rings_count", "", np.array([float(t.rings) for t in tails]), np.zeros(size))


def _phases(work: Work, table: EventTable, wire: Wire, tails: list[Tail]) -> list[Phase]:
    """Each pulse's own: supply before it, on, kick, decay with the bump, and rest until the next."""
    interval, begin = work.capture.interval_s, work.capture.start_s
    out = []
    for k in range(min(wire.count, shared.MOST_PHASES)):
        fall, rise = float(table.from_s[k]), float(table.to_s[k])
        top, back = begin + tails[k].kick.at * interval, begin + tails[k].back * interval
        before = max(begin, fall - 0.5 * (rise - fall))
        following = float(table.from_s[k + 1]) if k + 1 < wire.count else work.whole[1]
        marks = (("supply", before, fall), ("on", fall, rise), ("kick", rise, top), ("decay", top, back))
        out += [Phase(name, a, b, k + 1) for name, a, b in marks if b > a]
        stop = min(following, back + 2 * (back - top))
        if stop > back:
            out.append(Phase("rest", back, stop, k + 1))
    return out


def _judge(work: Work, table: EventTable, wire: Wire, tails: list[Tail]) -> None:
    first = (float(table.to_s[0]), work.capture.start_s + tails[0].back * work.capture.interval_s)
    bumps = np.array([t.bump is not None for t in tails])
    visible = wire.sigma / np.sqrt(max(1.0, 8e-6 / work.capture.interval_s))
    kick = median([t.kick.top for t in tails]) - wire.supply
    mean = _mean_tail(wire, work.capture.interval_s) if bumps.mean() < OFTEN and wire.count > 2 else None
    if mean is not None and mean.bump is not None:
        ms = 1000 * work.capture.interval_s
        work.add("bump_ms", mean.bump.at * ms, "ms", mean.bump.doubt * ms, first, "control")
    elif bumps.mean() < OFTEN:
        if 5 * visible / np.sqrt(wire.count) > 2 * LEAST_BUMP * kick:
            work.setup("noisy", "noise hides the closing bump", "control", hides=True)
        else:
            work.fault("no_bump", "the decay has no bump: the needle does not seat, or never lifted", first, "control")
    rings = median([t.rings for t in tails])
    if rings >= RINGS_ABNORMAL:
        text = f"rings {rings:.0f} times over 1 V after the decay: compare with the sibling injector"
        work.fault("tail_ringing", text, first, "control", rings, "")


def _against_sibling(work: Work, table: EventTable) -> None:
    """The second injector on the same engine and driver: what the two have alike is no fault of one of them."""
    other = work.lane("control2")
    if other is None:
        return
    second = Work(replace(work.capture, lanes={"control": Lane("control", other, "V")}), work.told)
    wire = driven_low.wire_of(second, "control", 30.0, 130.0)
    if wire is None:
        work.find(
            "sibling_quiet",
            "note",
            "the second injector's lane is never switched: nothing to compare",
            None,
            "control2",
        )
        return
    work.beside["control2"] = measure(Work(second.capture, work.told)).measured()
    tails = _tails(wire, work.capture.interval_s)
    pairs = (
        ("kick_v", "kick", "V", median([t.kick.top for t in tails])),
        ("tail_rings_count", "rings", "", median([t.rings for t in tails])),
        ("on_ms", "on-time", "ms", median(wire.rise - wire.fall) * 1000 * work.capture.interval_s),
    )
    told = [
        f"{what} {own:.3g} against {sibling:.3g} {unit}".rstrip()
        for reading_id, what, unit, sibling in pairs
        if (own := work.value(reading_id)) is not None
        and abs(own - sibling) > max(0.1 * abs(sibling), 1.5 if reading_id.endswith("_count") else 0.0)
    ]
    text = (
        "differs from the second injector: " + "; ".join(told)
        if told
        else "like the second injector in kick, rings and time"
    )
    work.find("sibling", "note", text, (float(table.from_s[0]), float(table.to_s[0])), "control2")
