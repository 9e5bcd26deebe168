"""Fuel level sender on the trainer: its signal, and its faults.

The instrument feeds the wire through a pull-up; the sender's resistor falls with the float's travel and goes to ground.
A worn spot adds contact resistance, so that the feed wins for a moment. Values are from memory.
"""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.standing import SWEEP, travel_and_battery
from tracebench.bench.source import Fault, Order, Source, Volts, slipped
from tracebench.bench.vehicle.electrics import Regulator

FEED_V = 5.0
PULL_UP_OHM = 120.0
EMPTY_OHM, FULL_OHM = 180.0, 12.0
CONTACT_OHM = 0.5


def _sender(order: Order) -> dict[str, Volts]:
    travel, battery = travel_and_battery(order)
    s = order.severity
    empty, full = EMPTY_OHM, FULL_OHM
    if order.fault == "not-full":
        full += 40.0 + 40.0 * s
    elif order.fault == "not-empty":
        empty -= 65.0 + 40.0 * s
    ohm = empty + (full - empty) * travel + CONTACT_OHM
    if order.fault == "worn":
        for centre in order.rng.uniform(0.25, 0.75, 2):
            ohm = ohm + 900.0 * s * np.exp(-(((travel - centre) / 0.004) ** 2))
    elif order.fault == "open":
        ohm = np.full_like(ohm, 1e7)
    elif order.fault == "short":
        ohm = np.full_like(ohm, 1.0 + 1.5 * (1.0 - s))
    volts = Regulator(FEED_V).held(battery) * ohm / (ohm + PULL_UP_OHM)
    return {"signal": slipped(order, volts)}


SOURCE = Source(
    "fuel-level",
    (
        Fault("none", "Sound"),
        Fault("worn", "Resistor worn at two places"),
        Fault("not-full", "Arm bent: full not reached"),
        Fault("not-empty", "Arm hindered: empty not reached"),
        Fault("open", "Wire open"),
        Fault("short", "Wire shorted to ground"),
        Fault("probe-slip", "Probe slips once"),
    ),
    (SWEEP,),
    500,
    10.0,
    _sender,
    by_hand=True,
)
