"""Rail pressure of the common-rail diesel, from a run of that engine."""

from __future__ import annotations

import zlib
from dataclasses import replace

import numpy as np

from tracebench.bench.parts.engine_sensors import RUNS_RPM
from tracebench.bench.source import Order, Volts
from tracebench.bench.vehicle.diesel import Diesel, DieselRun, run_diesel
from tracebench.bench.vehicle.script import Segment, laid_out

_DRIVE = (
    Segment("key_on", 2.0),
    Segment("crank", 0.9),
    Segment("idle", 4.6),
    Segment("snap", 2.2),
    Segment("idle", 5.0),
    Segment("off", 12.0),
)


def diesel_of(order: Order) -> Diesel:
    """The engine as the fault makes it."""
    s, sound = order.severity, Diesel()
    if order.fault == "slow-build":
        # A worn pump delivers less and leaks more.
        return replace(sound, pump_m3_turn=0.3 * sound.pump_m3_turn, leak_m3_s_bar=(1.75 + 0.2 * s) * 1e-9)
    if order.fault == "hunting":
        return replace(sound, valve_delay_s=0.17 + 0.07 * s)
    if order.fault == "low-peak":
        return replace(sound, relief_bar=500.0 - 60.0 * s)
    return sound


def drive_diesel(order: Order) -> tuple[DieselRun, Volts]:
    """The run of the order and the instants in it at which the order is sampled; one run an order."""
    if "diesel" not in order.memo:
        hand = np.random.default_rng(zlib.crc32(order.rng.bytes(8)))
        demands = laid_out(_DRIVE, hand) if order.controls is None else order.controls.script(order.until_s)
        order.memo["diesel"] = result = run_diesel(diesel_of(order), demands)
        order.note((result.rpm > RUNS_RPM).astype(float))
    return order.memo["diesel"], order.run_s
