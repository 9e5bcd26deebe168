"""Manifold pressure on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import IDLE, WHOLE, drive, lagged, narrow_volts, referenced, throttle_volts
from tracebench.bench.source import VIBRATION, Fault, Order, Source, Volts, at, dropped, slipped
from tracebench.core.transfer import PRESSURE


def _pressure(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    kpa = result.manifold_kpa.copy()
    # Each intake stroke draws a dip: half the cylinders a turn, deep while cranking, shallow at speed.
    depth = np.clip(2.2 * np.exp(-result.rpm / 350), 0.12, 2.2) * (result.rpm > 40)
    kpa += depth * np.sin(2 * np.pi * result.turns * result.cylinders / 2)
    volts = PRESSURE.volts(0.0) + kpa / PRESSURE.per_volt
    tau = 0.008 + (0.16 + 0.25 * order.severity) * (order.fault == "slow-hose")
    volts = lagged(volts, tau)
    if order.fault == "bad-baro":
        volts = volts - 0.35 - 0.3 * order.severity
    if order.fault == "stuck":
        volts = np.full_like(volts, 1.9)
    volts = volts * referenced(result)
    signal = np.clip(at(volts, instants), 0.05, 4.95)
    if order.fault == "dropout":
        running = at(result.rpm, instants) > 600
        signal = dropped(order, signal, running & (np.abs(signal - np.median(signal)) < 0.2))
    oxygen = narrow_volts(result, order)
    return {
        "signal": slipped(order, signal),
        "throttle": at(throttle_volts(result), instants),
        "oxygen": at(oxygen, instants),
    }


SOURCE = Source(
    "manifold-pressure",
    (
        Fault("none", "Sound"),
        Fault("leak", "Vacuum leak after the throttle"),
        Fault("slow-hose", "Hose to the sensor nearly blocked"),
        Fault("restricted-exhaust", "Exhaust restricted"),
        Fault("bad-baro", "Sensor reads low throughout"),
        Fault("stuck", "Sensor stuck"),
        Fault("dropout", "Loose contact", VIBRATION),
        Fault("probe-slip", "Probe slips once"),
    ),
    (WHOLE, IDLE),
    2000,
    5.0,
    _pressure,
)
