"""Wheel speed on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np
import scipy

from tracebench.bench.controls import PULL, WIGGLE, Controls
from tracebench.bench.source import Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.script import STEP_S

TEETH = 48
PULL_TURNS_S2 = 1.6
"""What a hand adds to the speed in a second."""

VOLTS = 0.55
"""Peak to peak of a sound inductive sensor at a turn a second (from memory)."""


def _wheel(order: Order) -> dict[str, Volts]:
    t = order.times_s - order.times_s[0]
    s, fault = order.severity, order.fault
    pulled = 1.2 + 0.6 * order.rng.random()
    # A pull by hand, then bearing and brake take a part of the speed and a fixed amount each second.
    speed = np.where(t < 1.2, pulled * np.clip((t - 0.4) / 0.8, 0, 1), pulled * np.exp(-0.22 * (t - 1.2)) - 0.02 * t)
    speed = np.clip(speed, 0.0, None)
    if order.controls is not None:
        speed, turns = _pulled(order, order.controls)
    else:
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
        if order.controls is not None:
            signal = np.where(order.loose(order.run_s, (0.05, 0.08)), 0.0, signal)
        else:
            for start in order.rng.uniform(1.5, 4.0, 2):
                signal = np.where((t >= start) & (t < start + 0.05 + 0.03 * s), 0.0, signal)
    return {"signal": signal}


def _pulled(order: Order, controls: Controls) -> tuple[Volts, Volts]:
    """Speed and turns of a wheel that is pulled round now and then and runs down between."""
    pull = controls.course("pull", order.until_s)
    fading = 1 - 0.22 * STEP_S
    speed = scipy.signal.lfilter([PULL_TURNS_S2 * STEP_S], [1, -fading], pull)
    turns = np.cumsum(speed) * STEP_S
    return at(np.asarray(speed), order.run_s), at(turns, order.run_s)


SOURCE = Source(
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
    controls=(PULL, WIGGLE),
    noise={"signal": 0.003},
)
