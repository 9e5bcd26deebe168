"""Pedal position on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.potentiometer import Potentiometer
from tracebench.bench.parts.standing import RUNNING, SWEEP, travel_and_battery
from tracebench.bench.source import (
    HOT,
    Fault,
    Order,
    Source,
    Volts,
    slipping,
)
from tracebench.bench.vehicle.electrics import Regulator


def _pedal(order: Order) -> dict[str, Volts]:
    travel, battery = travel_and_battery(order)
    t = order.times_s - order.times_s[0]
    s, fault, n = order.severity, order.fault, t.size
    # Each track has an output of its own.
    reference1, reference2 = Regulator(5.01).held(battery), Regulator(4.99).held(battery)
    ground = np.full(n, 0.02)
    if fault == "reference-lost" and order.controls is not None:
        away = order.warm(order.run_s) & (order.run_s % 3.7 < 0.6 + 0.8 * s)
        reference1 = np.where(away, 0.3, reference1)
    elif fault == "reference-lost":
        # The controller's output gives way as it warms: a short record does not show it.
        for begin in (14.0, 22.5):
            start = begin + order.rng.uniform(-1.0, 1.0)
            away = (t > start) & (t < start + 0.6 + 0.8 * s)
            reference1 = np.where(away, 0.3, reference1)
    if fault == "ground-lifted":
        late = t > 0.4 * order.duration_s if order.controls is None else order.loose(order.run_s, (0.3, 0.5))
        ground = ground + (0.2 + 0.3 * s) * late
    track1 = (0.75 + 3.0 * travel) / 5.0 * (reference1 - ground) + ground
    track2 = (0.375 + 1.5 * travel) / 5.0 * (reference2 - ground) + ground
    if fault == "track-lost" and order.controls is not None:
        track2 = np.where(order.loose(order.run_s, (0.4, 0.9)), 0.01, track2)
    elif fault == "track-lost":
        start = order.duration_s * order.rng.uniform(0.35, 0.6)
        track2 = np.where((t > start) & (t < start + 1.5 + 2 * s), 0.01, track2)
    elif fault == "disagree":
        track2 = track2 + (0.10 + 0.12 * s) * np.clip((travel - 0.4) / 0.2, 0, 1)
    elif fault == "worn":
        worn = Potentiometer(closed_v=0.75, open_v=3.75, fault="worn-idle", severity=s)
        track1 = worn.volts(t, travel, reference1, order.rng)["signal"]
    elif fault == "probe-slip":
        start = order.duration_s * order.rng.uniform(0.3, 0.6)
        off = slipping(order) if order.controls is not None else (t > start) & (t < start + 0.35)
        track1, track2, reference1, reference2 = (
            np.where(off, 0.004, x) for x in (track1, track2, reference1, reference2)
        )
    return {
        "track1": track1,
        "track2": track2,
        "reference1": reference1,
        "reference2": reference2,
        "ground": ground,
    }


SOURCE = Source(
    "pedal-position",
    (
        Fault("none", "Sound"),
        Fault("track-lost", "Track 2 lost for a while"),
        Fault("reference-lost", "Controller drops reference 1 when warm", HOT),
        Fault("disagree", "Tracks part over half travel"),
        Fault("worn", "Track 1 worn near the rest"),
        Fault("ground-lifted", "Ground lifts"),
        Fault("probe-slip", "All clips slip once"),
    ),
    (SWEEP, RUNNING),
    1000,
    10.0,
    _pedal,
    by_hand=True,
)
