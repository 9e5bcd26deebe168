"""Injector voltage on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.injectors import COMMON, IDLE, LAYOUTS, ROWS, events_of, laid, lost_of, on_time_s, pulses_of
from tracebench.bench.source import VIBRATION, Fault, Order, Source, Volts


def _voltage(order: Order) -> dict[str, Volts]:
    events, instants, supply = events_of(order, ROWS[order.layout(LAYOUTS)])
    if order.fault == "no-pulse":
        return {"control": np.full(instants.size, supply)}
    gone = lost_of(order, events, 1) if order.fault == "missing" else set()
    kept = [e for e in events if e.number not in gone]
    made = pulses_of(order, kept, supply, on_time_s(order, order.rng))
    return {"control": laid(instants, [e.at_s for e in kept], [p.volts for p in made], supply)}


SOURCE = Source(
    "injector-voltage",
    (
        *COMMON,
        Fault("ringing", "Winding rings after its decay"),
        Fault("low-kick", "Shorted turns: kick low"),
        Fault("stuck", "Needle stuck"),
        Fault("weak-ground", "Driver ground weak"),
        Fault("missing", "Pulses go missing", VIBRATION),
        Fault("no-pulse", "Never switched"),
    ),
    (IDLE,),
    200_000,
    100.0,
    _voltage,
    noise={"control": 0.04},
    layouts=LAYOUTS,
)
