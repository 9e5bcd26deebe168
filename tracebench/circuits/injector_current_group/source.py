"""Injector current, group on the trainer: its signal, and its faults."""

from __future__ import annotations

from tracebench.bench.parts.injectors import COMMON, IDLE, Winding, events_of, faulty, laid, on_time_s, pulse_of
from tracebench.bench.source import Fault, Order, Source, Volts

GROUP = 6


def _group(order: Order) -> dict[str, Volts]:
    """Six injectors on one driver, fired together each turn; two of them shorted, or three or four without current."""
    events, instants, supply = events_of(order, (1, 2))
    on_s = on_time_s(order, order.rng)
    sound = pulse_of(Winding(ohm=20.0, henry=0.018, lift_a=0.42), supply, on_s).amperes
    total = GROUP * sound
    if order.fault == "shorted":
        bad = pulse_of(faulty(order, Winding()), supply, on_s).amperes
        total = (GROUP - 2) * sound + 2 * bad
    if order.fault == "open":
        total = (3 if order.severity < 0.75 else 2) * sound
    return {"current": laid(instants, [e.at_s for e in events], [total] * len(events), 0.0)}


SOURCE = Source(
    "injector-current-group",
    (
        *COMMON,
        Fault("shorted", "Two windings shorted"),
        Fault("open", "A connector of the group open"),
    ),
    (IDLE,),
    100_000,
    20.0,
    _group,
    noise={"current": 0.02},
)
