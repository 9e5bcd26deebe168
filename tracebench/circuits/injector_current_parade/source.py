"""Injector currents, all in order on the trainer: its signal, and its faults."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.bench.parts.engine_sensors import drive
from tracebench.bench.parts.injectors import (
    COMMON,
    CRANKING_SHARE,
    IDLE,
    STARTED_RPM,
    Winding,
    events_of,
    faulty,
    laid,
    lost_of,
    on_time_s,
    pulse_of,
    sync_lane,
)
from tracebench.bench.source import VIBRATION, Fault, Manoeuvre, Order, Source, Volts
from tracebench.bench.vehicle import script
from tracebench.bench.vehicle.firing import Firing

_START = Manoeuvre("start", "Crank, start and idle, 3 s", 3.0)


def _parade(order: Order) -> dict[str, Volts]:
    row = order.row()
    events, instants, _ = events_of(order, row)
    odd = order.odd()
    gone = {e.number for e in events if order.fault == "missing" and e.cylinder == odd}
    gone |= lost_of(order, [e for e in events if e.cylinder == odd], 0) if order.fault == "missing-once" else set()
    parts = {}
    for c in row:
        part = Winding(ohm=15.5 * float(order.rng.uniform(0.985, 1.015)))
        parts[c] = faulty(order, part) if c == odd else part, on_time_s(order, order.rng)
    kept = [e for e in events if e.number not in gone]
    courses = _at_their_supply(order, parts, kept)
    current = laid(instants, [e.at_s for e in kept], courses, 0.0)
    return {"current": current, "sync": sync_lane(instants, events)}


def _at_their_supply(order: Order, parts: Mapping[int, tuple[Winding, float]], events: list[Firing]) -> list[Volts]:
    """The current of each event at what the battery gives just then: little while the starter turns, for longer."""
    result, _ = drive(order)
    made: dict[tuple[int, float, bool], Volts] = {}
    out = []
    for e in events:
        now = min(round(e.at_s / script.STEP_S), result.key.size - 1)
        key = e.cylinder, round(float(result.battery_v[now]), 1), bool(result.rpm[now] < STARTED_RPM)
        if key not in made:
            part, on_s = parts[e.cylinder]
            made[key] = pulse_of(part, key[1], CRANKING_SHARE * on_s if key[2] else on_s).amperes
        out.append(made[key])
    return out


SOURCE = Source(
    "injector-current-parade",
    (
        *COMMON,
        Fault("shorted", "One winding shorted"),
        Fault("high-resistance", "One circuit with high resistance"),
        Fault("missing", "One driver dead"),
        Fault("missing-once", "A pulse missing now and then", VIBRATION),
    ),
    (IDLE, _START),
    100_000,
    5.0,
    _parade,
    noise={"current": 0.008, "sync": 0.02},
    by_cylinder=True,
)
