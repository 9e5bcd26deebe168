"""Injector, peak and hold on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.injectors import COMMON, IDLE, STEP_S, events_of, laid, lost_of
from tracebench.bench.source import HOT, Fault, Order, Source, Volts

BOOST_V, BOOST_A, HOLD_A, BAND_A = 65.0, 10.0, 2.5, 0.35


def held_pulse(order: Order, supply: float, on_s: float, jitter: float = 1.0) -> Volts:
    """A direct injector: boosted to its peak, let down, and held by a two-point switch until the release."""
    ohm, henry = 1.5, 2.4e-3 * jitter
    total, on = round((on_s + 2e-3) / STEP_S), round(on_s / STEP_S)
    out = np.zeros(total)
    current, state, driven = 0.0, "boost", True
    give_up = round(0.6e-3 / STEP_S)
    for k in range(total):
        if k >= on or (state == "down" and order.fault == "no-hold"):
            volts = -60.0
        elif state == "boost":
            volts = supply if order.fault == "no-boost" else BOOST_V
            if current >= BOOST_A or k > give_up:
                state = "down"
        else:
            if state == "down" and current <= HOLD_A:
                state = "hold"
            if current > HOLD_A + BAND_A / 2:
                driven = False
            elif current < HOLD_A - BAND_A / 2:
                driven = True
            volts = supply if state == "hold" and driven else (-14.0 if state == "down" else -0.7)
        current = max(0.0, current + (volts - ohm * current) / henry * STEP_S)
        out[k] = current
    return out


def _held(order: Order) -> dict[str, Volts]:
    events, instants, supply = events_of(order, (1,))
    on_s = order.number("on_ms", 2.6) / 1000
    made = held_pulse(order, supply, on_s)
    short = held_pulse(order, supply, 0.42 * on_s) if order.fault == "short" else made
    gone = lost_of(order, events, 1, hot=True) if order.fault == "short" else set()
    courses = [short if e.number in gone else made for e in events]
    return {"current": laid(instants, [e.at_s for e in events], courses, 0.0)}


SOURCE = Source(
    "injector-peak-hold",
    (
        *COMMON,
        Fault("no-boost", "No boost voltage"),
        Fault("no-hold", "Dropped after the boost"),
        Fault("short", "Some pulses cut short", HOT),
    ),
    (IDLE,),
    200_000,
    20.0,
    _held,
    noise={"current": 0.03},
)
