"""Airflow, frequency on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import drive, lagged, measured_air, referenced
from tracebench.bench.source import Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.script import STEP_S


def _air_pulses(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    air = lagged(measured_air(result), 0.012)
    scale = 1 - (0.80 + 0.08 * s) * (1 - np.exp(-air / 12)) if fault == "contaminated" else 1.0
    hertz = order.number("hz_at_rest", 1800.0) + order.number("hz_per_gs", 90.0) * air * scale
    cycles = at(np.cumsum(hertz) * STEP_S, instants)
    phase = cycles % 1.0
    # Pulled up to the reference.
    high, low = at(4.95 * referenced(result), instants) - (1.2 + s) * (fault == "low-swing"), 0.12
    signal = np.where(phase < 0.5, high, low)
    if fault == "missing-pulses":
        whole = np.floor(cycles)
        if order.controls is not None:
            signal = np.where(order.loose(instants, (0.0005, 0.0015)), low, signal)
        else:
            for n in order.rng.choice(np.unique(whole)[40:-40], 3, replace=False):
                signal = np.where(np.abs(whole - n) < 1, low, signal)
    if fault == "no-signal":
        signal = high
    return {"signal": signal}


SOURCE = Source(
    "airflow-frequency",
    (
        Fault("none", "Sound"),
        Fault("missing-pulses", "Pulses go missing"),
        Fault("low-swing", "Swing too low"),
        Fault("contaminated", "Element contaminated"),
        Fault("no-signal", "No pulses"),
    ),
    (Manoeuvre("load", "Idle and a snap", 10.0), Manoeuvre("idle", "Warm idle only", 4.0)),
    100_000,
    10.0,
    _air_pulses,
)
