"""Coil primary voltage: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits.events import driven_low
from tracebench.core.circuits.events import injectors as coils
from tracebench.core.circuits.events.driven_low import Kick, Wire
from tracebench.core.circuits.events.table import ONE_SIDE, EventTable, report
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.spark import COUNT_DOUBT, Burn, find_burn, rings_of, smoothed_sigma
from tracebench.core.robust.median import median

OFTEN = Threshold(0.5, "", "Part of the firings that must show it before it is the coil and not chance")

LEAST_BURN = Threshold(
    0.04, "", "Part of the kick that a burn reaches at the least; noise above it hides whether there is one"
)


KICK_S = Threshold(50e-6, "s", "A kick and the fall from it, of which a recorder with fewer samples misses the top")


def measure(work: Work) -> Work:
    """Each firing of the coil by its control wire."""
    wire = driven_low.wire_of(work, "control", 80.0, 450.0)
    if wire is None:
        work.settle_phases([])
        driven_low.note_nothing_switched(work, "control", "no_switching")
    else:
        at = work.capture.start_s + wire.fall * work.capture.interval_s
        until = work.capture.start_s + wire.rise * work.capture.interval_s
        table = EventTable("control", at, until, np.zeros(wire.count, dtype=np.int64))
        kicks = [
            driven_low.kick_of(wire, k, max(8, round(0.15e-3 / work.capture.interval_s))) for k in range(wire.count)
        ]
        burns = [_burn(work, wire, k, kicks[k].at) for k in range(wire.count)]
        _read(work, table, wire, kicks, burns)
        work.settle_phases(_phases(work, table, wire, kicks, burns))
        report(work, table)
        coils.rate_of(work, table)
        _judge(work, table, wire, burns)
        driven_low.check_wire_setup(work, "control", wire, "a kick of 50 us", KICK_S)
    return work


def _burn(work: Work, wire: Wire, k: int, at: int) -> Burn | None:
    begin, stop = wire.after(k)
    stop = min(stop, begin + round(12e-3 / work.capture.interval_s))
    part = wire.samples[begin:stop] - wire.supply
    found = find_burn(part, at - begin, work.capture.interval_s, wire.sigma)
    return (
        None
        if found is None
        else Burn(begin + found.start, begin + found.stop, found.level, found.roughness, found.rings)
    )


def _read(work: Work, table: EventTable, wire: Wire, kicks: list[Kick], burns: list[Burn | None]) -> None:
    ms, size = 1000 * work.capture.interval_s, wire.count
    interval, begin = work.capture.interval_s, work.capture.start_s
    coils.put_levels(table, "supply_v", "V", [wire.level_before(k) for k in range(size)])
    inside = [wire.inside(k) for k in range(size)]
    table.put(
        "dwell_v",
        "V",
        np.array([np.median(part) for part in inside]),
        np.array([1.2533 * wire.sigma / np.sqrt(part.size) + 1e-3 for part in inside]),
    )
    table.put("dwell_ms", "ms", (wire.rise - wire.fall) * ms, np.full(size, 0.41 * ms))
    at = begin + np.array([k.at for k in kicks]) * interval
    tops, doubts = np.array([k.top for k in kicks]), np.array([k.doubt for k in kicks])
    table.put("kick_v", "V", tops, doubts, (at - 20 * interval, at + 20 * interval), alike=ONE_SIDE)
    level_doubt = wire.sigma / 4
    levels = [None if b is None else (b.level + wire.supply, level_doubt) for b in burns]
    coils.put_each(table, "burn_v", "V", levels)
    lasted = [(b.stop - b.start) if b is not None else np.nan for b in burns]
    table.put("burn_ms", "ms", np.array(lasted) * ms, np.full(size, 0.38 * ms))
    whole = np.zeros(size, dtype=np.int64)
    rings = rings_of(wire.samples - wire.supply, burns, whole, interval, wire.sigma)
    table.put("rings_count", "", rings, np.full(size, COUNT_DOUBT))


def _phases(work: Work, table: EventTable, wire: Wire, kicks: list[Kick], burns: list[Burn | None]) -> list[Phase]:
    interval, begin = work.capture.interval_s, work.capture.start_s
    out = []
    for k in range(min(wire.count, coils.MOST_PHASES)):
        fall, rise = float(table.from_s[k]), float(table.to_s[k])
        out.append(Phase("supply", max(begin, fall - 0.3 * (rise - fall)), fall, k + 1))
        out.append(Phase("dwell", fall, rise, k + 1))
        kicked = begin + (kicks[k].at + 2) * interval
        out.append(Phase("kick", rise, kicked, k + 1))
        burn = burns[k]
        if burn is not None:
            over = begin + burn.stop * interval
            following = float(table.from_s[k + 1]) if k + 1 < wire.count else work.whole[1]
            out.append(Phase("burn", kicked, over, k + 1))
            if min(following, over + 2e-3) > over:
                out.append(Phase("ring_out", over, min(following, over + 2e-3), k + 1))
    return [p for p in out if p.to_s > p.from_s]


def _judge(work: Work, table: EventTable, wire: Wire, burns: list[Burn | None]) -> None:
    lacking = np.flatnonzero([b is None for b in burns])
    kick = median(table.values["kick_v"]) - wire.supply
    if 5 * smoothed_sigma(wire.sigma, work.capture.interval_s) > LEAST_BURN * kick:
        text = f"noise of {wire.sigma:.2g} V hides the burn: a smaller range, or more samples a second"
        work.setup("noisy", text, "control", hides=True)
        return
    if lacking.size > OFTEN * len(burns):
        places = [(float(table.from_s[k]), float(table.to_s[k]) + 1e-3) for k in lacking]
        text = f"no burn after the kick in {lacking.size} of {len(burns)} firings: secondary open, or a spark elsewhere"
        work.fault("no_burn", text, places[0], "control", float(lacking.size), "", places=places)
    else:
        for k in lacking[:10]:
            place = (float(table.from_s[k]), float(table.to_s[k]) + 1e-3)
            work.fault("no_burn", f"no burn after the kick of firing {k + 1}", place, "control")
