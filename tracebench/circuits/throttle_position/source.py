"""Throttle position on the trainer: its signal, and its faults."""

from __future__ import annotations

from tracebench.bench.parts.potentiometer import FAULTS as THROTTLE_FAULTS
from tracebench.bench.parts.potentiometer import REFERENCE_V, Potentiometer
from tracebench.bench.parts.standing import RUNNING, SWEEP, travel_and_battery
from tracebench.bench.source import (
    Order,
    Source,
    Volts,
)
from tracebench.bench.vehicle.electrics import Regulator


def _throttle(order: Order) -> dict[str, Volts]:
    part = Potentiometer(
        closed_v=order.number("closed_v", 0.62),
        open_v=order.number("open_v", 4.25),
        fault=order.fault,
        severity=order.severity,
    )
    travel, battery = travel_and_battery(order)
    return part.volts(order.times_s, travel, Regulator(REFERENCE_V).held(battery), order.rng)


SOURCE = Source("throttle-position", THROTTLE_FAULTS, (SWEEP, RUNNING), 1000, 10.0, _throttle, by_hand=True)
