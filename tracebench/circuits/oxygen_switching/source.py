"""Oxygen, switching on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import (
    IDLE,
    air_volts,
    drive,
    lagged,
    measured_air,
    narrow_volts,
    throttle_volts,
)
from tracebench.bench.source import Fault, Manoeuvre, Order, Source, Volts, at

_STEADY = Manoeuvre("steady", "Steady 2,500, then a snap and an overrun", 20.0)


def _switching(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    volts = narrow_volts(result, order)
    if fault == "lazy":
        volts = lagged(volts, 0.13 + 0.08 * s)
    elif fault == "low-swing":
        volts = 0.42 + (volts - 0.45) * (0.42 - 0.1 * s)
    elif fault == "stuck":
        volts = np.full_like(volts, 0.78) + 0.01 * np.sin(result.times_s)
    elif fault == "no-drop":
        volts = np.where(result.mixture > 1.3, 0.38, volts)
    return {
        "signal": at(volts, instants),
        "throttle": at(throttle_volts(result), instants),
        "airflow": at(air_volts(lagged(measured_air(result), 0.012)), instants),
    }


SOURCE = Source(
    "oxygen-switching",
    (
        Fault("none", "Sound"),
        Fault("lazy", "Sensor lazy"),
        Fault("low-swing", "Sensor contaminated"),
        Fault("stuck", "Sensor stuck rich"),
        Fault("rich", "Mixture rich beyond the loop"),
        Fault("lean", "Mixture lean beyond the loop"),
        Fault("no-drop", "Does not fall in the overrun"),
    ),
    (_STEADY, IDLE),
    1000,
    2.0,
    _switching,
    noise={"signal": 0.008},
)
