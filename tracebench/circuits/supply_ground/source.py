"""Supply and ground on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.electrical import POLE_PAIRS, RIPPLE_V, charging
from tracebench.bench.parts.engine_sensors import drive
from tracebench.bench.source import Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.electrics import Regulator, Supply, at_rest, ripple_shape

_CABLE_V = 0.08
"""Drop of a sound feed between battery and plug."""


def _supply(order: Order) -> dict[str, Volts]:
    s, fault, size = order.severity, order.fault, order.times_s.size
    if order.manoeuvre == "running" or order.controls is not None:
        result, instants = drive(order, "idle")
        battery = at(result.battery_v, instants)
        turns = at(result.turns, instants)
        battery += 0.3 * RIPPLE_V * ripple_shape(turns, Supply().pulley, POLE_PAIRS, 0.0) * charging(result, instants)
    else:
        # Key on, engine off: the battery sags a little under what the key switches on.
        battery = at(at_rest(Supply(), order.duration_s), order.times_s - order.times_s[0])
    # A relay feeds the plug with the key, and the controller its reference; a run of hands begins with it off.
    fed = np.ones(size) if order.controls is None else at(order.controls.course("key", order.until_s), order.run_s) > 0
    supply = np.where(fed, battery - _CABLE_V - (1.0 + s) * (fault == "low-supply"), 0.0)
    held = Regulator(5.01 - (0.25 + 0.4 * s) * (fault == "low-reference")).held(battery)
    # A wire chafed against the feed pulls the reference up to it through what resistance is left.
    chafed = (0.3 + s) / (12.5 - 5.01) * (fault == "high-reference")
    return {
        "supply": supply,
        "reference": np.where(fed, held + chafed * (battery - held), 0.0),
        "ground": np.full(size, 0.02) + (0.15 + 0.3 * s) * (fault == "high-ground"),
        "battery": battery,
    }


SOURCE = Source(
    "supply-ground",
    (
        Fault("none", "Sound"),
        Fault("low-supply", "Drop in the feed"),
        Fault("low-reference", "Reference low"),
        Fault("high-reference", "Reference high: short to supply"),
        Fault("high-ground", "Drop in the ground"),
    ),
    (Manoeuvre("key-on", "Key on, engine off", 5.0), Manoeuvre("running", "Engine running", 5.0)),
    1000,
    20.0,
    _supply,
)
