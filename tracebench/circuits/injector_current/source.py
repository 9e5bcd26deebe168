"""Injector current on the trainer: its signal, and its faults."""

from __future__ import annotations

from tracebench.bench.parts.injectors import COMMON, IDLE, LAYOUTS, ROWS, events_of, laid, on_time_s, pulses_of
from tracebench.bench.source import Fault, Order, Source, Volts


def _current(order: Order) -> dict[str, Volts]:
    events, instants, supply = events_of(order, ROWS[order.layout(LAYOUTS)])
    made = pulses_of(order, events, supply, on_time_s(order, order.rng))
    return {"current": laid(instants, [e.at_s for e in events], [p.amperes for p in made], 0.0)}


SOURCE = Source(
    "injector-current",
    (
        *COMMON,
        Fault("shorted", "Winding shorted"),
        Fault("stuck", "Needle stuck"),
        Fault("late", "Needle lifts late"),
        Fault("high-resistance", "High resistance"),
    ),
    (IDLE,),
    100_000,
    2.0,
    _current,
    noise={"current": 0.004},
    layouts=LAYOUTS,
)
