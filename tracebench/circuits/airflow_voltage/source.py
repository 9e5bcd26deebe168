"""Airflow, voltage on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import (
    IDLE,
    START_UP_S,
    WHOLE,
    air_volts,
    drive,
    lagged,
    measured_air,
    throttle_volts,
)
from tracebench.bench.source import VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at, dropped, slipped
from tracebench.bench.vehicle.script import STEP_S

_SPEEDS = Manoeuvre("speeds", "Key on, crank, idle, 2,500, 4,000, snap", 24.5)


def _air(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    air = lagged(measured_air(result), 0.012 if fault != "no-surge" else 0.35)
    gain = 1.0 - (0.28 + 0.12 * s) * (1 - np.exp(-air / 12)) if fault == "contaminated" else np.ones_like(air)
    volts = air_volts(air, 1.0, 0.40 + (0.37 + 0.08 * s) * (fault == "key-on-high")) * gain
    # A short surge while the element heats.
    on_s = result.times_s - (np.argmax(result.key > 0) if order.controls is not None else 0) * STEP_S
    volts += 0.25 * np.exp(-np.maximum(on_s, 0.0) / 0.05) * (order.manoeuvre not in START_UP_S)
    signal = at(volts, instants)
    if fault == "no-signal":
        signal = np.full_like(signal, 0.01)
    if fault == "dropout":
        running = at(result.rpm, instants) > 600
        signal = dropped(order, signal, running & (np.abs(signal - np.percentile(signal, 40)) < 0.15))
    fed = at(result.key, instants) > 0
    signal = signal * fed
    supply = (at(result.battery_v, instants) - 0.05 - (2.9 + s) * (fault == "low-supply")) * fed
    ground = np.full_like(signal, 0.012) + (0.18 + 0.2 * s) * (fault == "high-ground")
    return {
        "signal": slipped(order, np.clip(signal + (0.18 + 0.2 * s) * (fault == "high-ground"), 0.0, 4.95)),
        "throttle": at(throttle_volts(result), instants),
        "supply": supply,
        "ground": ground,
    }


SOURCE = Source(
    "airflow-voltage",
    (
        Fault("none", "Sound"),
        Fault("contaminated", "Element contaminated"),
        Fault("key-on-high", "Element reads high at rest"),
        Fault("no-surge", "Answers slowly: no first surge"),
        Fault("no-signal", "No signal"),
        Fault("low-supply", "Supply low"),
        Fault("high-ground", "Ground lifted"),
        Fault("dropout", "Loose contact", VIBRATION),
        Fault("probe-slip", "Probe slips once"),
    ),
    (_SPEEDS, WHOLE, IDLE),
    1000,
    5.0,
    _air,
)
