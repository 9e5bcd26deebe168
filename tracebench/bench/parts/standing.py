"""Throttle body and pedal, moved by hand or by the engine's driver, and a temperature sensor that the engine warms."""

from __future__ import annotations

import numpy as np

from tracebench.bench.hand import MOVEMENT_HZ, SweepPlan, followed, swept
from tracebench.bench.parts.engine_sensors import drive
from tracebench.bench.source import (
    Manoeuvre,
    Order,
    Volts,
    at,
)
from tracebench.bench.vehicle.electrics import Supply, at_rest

SWEEP = Manoeuvre("sweep", "Two slow sweeps, key on, engine off", 32.0, sweeps=True)
RUNNING = Manoeuvre("running", "Engine running: idle and two snaps", 20.0)


def travel_and_battery(order: Order) -> tuple[Volts, Volts]:
    """Travel 0-1 and the battery's volts: of the running engine, or of a hand with the key on and no more."""
    if order.manoeuvre == RUNNING.key or order.controls is not None:
        result, instants = drive(order)
        return at(result.travel, instants), at(result.battery_v * result.key, instants)
    own = order.times_s - order.times_s[0]
    movement = order.movement if order.movement is not None else SweepPlan()
    travel = (
        swept(movement, order.duration_s, order.rng)
        if isinstance(movement, SweepPlan)
        else followed(movement, order.duration_s)
    )
    moved = np.interp(own, np.arange(travel.size) / MOVEMENT_HZ, travel)
    return np.asarray(moved), at(at_rest(Supply(), order.duration_s), own)
