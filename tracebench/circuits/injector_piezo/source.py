"""Injector, piezo on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.diesel_rail import drive_diesel
from tracebench.bench.parts.injectors import CHARGE_V, COMMON, STACK_F, half_wave, laid, lost_of
from tracebench.bench.source import HOT, VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.firing import firings

EVENTS_MS = ((0.0, 0.24), (1.1, 0.26), (2.4, 0.75))
"""Pilot, intermediate and main: begin and width."""


def _piezo(order: Order) -> dict[str, Volts]:
    result, seconds = drive_diesel(order)
    begin = 4.6 if order.controls is None else order.begin_s
    instants = seconds + begin if order.controls is None else seconds
    events = firings(result.turns, (1,), begin, float(instants[-1]), 0.13)
    s, fault = order.severity, order.fault
    farad = STACK_F * (0.42 - 0.1 * s if fault == "low-charge" else 1.0)
    up, down = half_wave(farad, CHARGE_V), -half_wave(farad, 0.75 * CHARGE_V)
    inner = [e.number for e in events[2:-1]]
    hit = set(order.rng.choice(inner, min(1 + round(s), len(inner)), replace=False).tolist()) if inner else set()
    if order.controls is not None:
        key = at(result.key, np.array([e.at_s for e in events])) if events else np.empty(0)
        events = [e for e, on in zip(events, key, strict=True) if on > 0]
        hit = lost_of(order, events)
    if fault == "power-off" and order.controls is not None:
        events = [e for e in events if not order.warm(np.array([e.at_s]))[0]]
    elif fault == "power-off":
        events = events[: max(3, round(0.5 * len(events)))]
    starts, courses = [], []
    for e in events:
        for k, (offset, width) in enumerate(EVENTS_MS):
            if fault == "missing" and e.number in hit and k == 1:
                continue
            starts.append(e.at_s + offset / 1000)
            courses.append(up)
            if not (fault == "no-discharge" and e.number in hit and k == 2):
                starts.append(e.at_s + (offset + width) / 1000)
                courses.append(down)
    return {"current": laid(instants, starts, courses, 0.0)}


SOURCE = Source(
    "injector-piezo",
    (
        *COMMON,
        Fault("missing", "An event goes missing", VIBRATION),
        Fault("low-charge", "Stack cracked: charges little"),
        Fault("no-discharge", "Not discharged now and then", VIBRATION),
        Fault("power-off", "Power stage shuts down", HOT),
    ),
    (Manoeuvre("idle", "Warm idle, 2 s", 2.0),),
    500_000,
    20.0,
    _piezo,
    noise={"current": 0.04},
)
