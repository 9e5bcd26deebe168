"""A wheel sensor on the trainer: a lifted wheel spun by hand that runs down."""

from __future__ import annotations

import numpy as np

from tracebench.bench.source import Fault, Manoeuvre, Order, Source, Volts

TEETH = 48
VOLTS = 0.55
"""Peak to peak of a sound inductive sensor at a turn a second (from memory)."""


def _wheel(order: Order) -> dict[str, Volts]:
    t = order.times_s - order.times_s[0]
    s, fault = order.severity, order.fault
    pulled = 1.2 + 0.6 * order.rng.random()
    # A pull by hand, then bearing and brake take a part of the speed and a fixed amount each second.
    speed = np.where(t < 1.2, pulled * np.clip((t - 0.4) / 0.8, 0, 1), pulled * np.exp(-0.22 * (t - 1.2)) - 0.02 * t)
    speed = np.clip(speed, 0.0, None)
    turns = np.concatenate([[0.0], np.cumsum(0.5 * (speed[1:] + speed[:-1]) * np.diff(t))])
    place = np.floor(turns * TEETH) % TEETH
    wave = np.sin(2 * np.pi * turns * TEETH)
    if fault == "damaged-tooth":
        wave = np.where(place == 31, (0.3 - 0.3 * s) * wave, wave)
    if fault == "runout":
        wave = wave * (1 + (0.3 + 0.2 * s) * np.sin(2 * np.pi * turns))
    signal = 0.5 * VOLTS * (0.16 - 0.04 * s if fault == "weak" else 1.0) * speed * wave
    if order.part.get("type") == "hall":
        signal = np.where(wave > 0, 0.5, 4.5)
    if fault == "dropout":
        for start in order.rng.uniform(1.5, 4.0, 2):
            signal = np.where((t >= start) & (t < start + 0.05 + 0.03 * s), 0.0, signal)
    return {"signal": signal}


WHEEL_SPEED = Source(
    "wheel-speed",
    (
        Fault("none", "Sound"),
        Fault("damaged-tooth", "Tooth damaged"),
        Fault("weak", "Air gap too wide"),
        Fault("dropout", "Loose contact"),
        Fault("runout", "Ring runs out"),
    ),
    (Manoeuvre("spin", "Lifted wheel spun by hand, running down", 8.0),),
    20_000,
    2.0,
    _wheel,
    noise={"signal": 0.003},
)
