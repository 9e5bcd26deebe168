"""Crank position on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import drive, referenced, tooth_wave
from tracebench.bench.source import Fault, Manoeuvre, Order, Source, Volts, at


def _crank(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    turns, rpm = at(result.turns, instants), at(result.rpm, instants)
    pulled_up = at(4.9 * referenced(result), instants)
    wave = tooth_wave(
        turns,
        23 if fault == "damaged-tooth" else None,
        0.6 + 0.4 * s,
        (0.4 + 0.2 * s) if fault == "runout" else 0.0,
    )
    gain = 2.4 * (0.08 - 0.02 * s if fault == "weak" else 1.0)
    signal = gain * rpm / 1000 * wave
    if order.part.get("type") == "hall":
        signal = np.where(wave > 0, 0.15, pulled_up)
    if fault == "dropout":
        if order.controls is not None:
            signal = np.where(order.loose(instants, (0.003, 0.005)), 0.0, signal)
        else:
            for start in order.rng.uniform(0.2, 0.8, 2) * order.duration_s:
                gone = (order.times_s >= start) & (order.times_s < start + 0.004)
                signal = np.where(gone, 0.0, signal)
    if fault == "reversed":
        signal = -signal
    shift = (12 + 10 * s) / 720 if fault == "cam-shift" else 0.0
    cam_turns = (turns / 2 - 0.211 - shift) % 1.0
    cam = np.where(cam_turns < 0.4, pulled_up, 0.15)
    return {"signal": signal, "cam": cam}


SOURCE = Source(
    "crank-position",
    (
        Fault("none", "Sound"),
        Fault("damaged-tooth", "Tooth damaged"),
        Fault("weak", "Air gap too wide"),
        Fault("dropout", "Loose contact"),
        Fault("runout", "Wheel runs out"),
        Fault("cam-shift", "Cam drive jumped"),
        Fault("reversed", "Leads reversed (set-up)"),
    ),
    (Manoeuvre("idle", "Warm idle, 1 s", 1.0), Manoeuvre("load", "Warm idle, 2 s", 2.0)),
    100_000,
    10.0,
    _crank,
    noise={"signal": 0.02},
)
