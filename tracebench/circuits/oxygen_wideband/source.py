"""Oxygen, wideband on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import (
    IDLE,
    air_volts,
    drive,
    lagged,
    measured_air,
    pump_current_ma,
    referenced,
)
from tracebench.bench.source import LOAD, Fault, Manoeuvre, Order, Source, Volts, at

_LOAD = Manoeuvre("load", "Idle, two snaps with their overruns", 20.0)


def _wideband(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    fault = order.fault
    current = lagged(pump_current_ma(result.mixture), 0.020)
    if fault == "stuck":
        current = np.full_like(current, 0.01)
    volts = 2.5 + 0.55 * current
    if fault == "heater":
        current, volts = np.zeros_like(current), np.full_like(volts, 0.45)
    return {
        "pump_current": at(current, instants),
        "pump_voltage": np.clip(at(volts, instants), 0.2, 4.8),
        "airflow": at(air_volts(lagged(measured_air(result), 0.012)), instants),
        "reference_low": at(2.2 * referenced(result), instants),
        "reference_high": at(2.8 * referenced(result), instants),
    }


SOURCE = Source(
    "oxygen-wideband",
    (
        Fault("none", "Sound"),
        Fault("slow-fuel", "Fuel answers late: weak supply", LOAD),
        Fault("stuck", "Sensor stuck in the window"),
        Fault("lean", "Mixture lean beyond the loop"),
        Fault("rich", "Mixture rich beyond the loop"),
        Fault("heater", "Heater dead: cell cold"),
    ),
    (_LOAD, IDLE),
    1000,
    5.0,
    _wideband,
    noise={"pump_voltage": 0.02, "pump_current": 0.012},
)
