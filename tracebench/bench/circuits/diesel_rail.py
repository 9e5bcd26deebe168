"""Rail pressure of the common-rail diesel, from a run of that engine."""

from __future__ import annotations

import zlib
from dataclasses import replace

import numpy as np

from tracebench.bench.circuits.engine_sensors import RUNS_RPM
from tracebench.bench.controls import DIESEL
from tracebench.bench.source import VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at, dropped, slipped
from tracebench.bench.vehicle.diesel import Diesel, DieselRun, run_diesel
from tracebench.bench.vehicle.electrics import Regulator
from tracebench.bench.vehicle.script import Segment, laid_out

_DRIVE = (
    Segment("key_on", 2.0),
    Segment("crank", 0.9),
    Segment("idle", 4.6),
    Segment("snap", 2.2),
    Segment("idle", 5.0),
    Segment("off", 12.0),
)

ZERO_V, VOLTS_PER_BAR = 0.5, 4.0 / 1800.0


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


def _rail(order: Order) -> dict[str, Volts]:
    result, instants = drive_diesel(order)
    referenced = at(Regulator().held(result.battery_v) / 5.0, instants)
    volts = (ZERO_V + VOLTS_PER_BAR * at(result.rail_bar, instants)) * referenced
    # Each injection takes a gulp out of the rail, and the pump puts it back.
    turns, injecting = at(result.turns, instants), at(result.fuel_mg, instants)
    signal = volts + 0.0016 * injecting * np.sin(2 * np.pi * turns * result.cylinders / 2)
    if order.fault == "dropout":
        running = at(result.rpm, instants) > 500
        idle_v = float(np.median(signal[running])) if running.any() else 0.0
        signal = dropped(order, signal, running & (np.abs(signal - idle_v) < 0.1))
    return {"signal": slipped(order, np.clip(signal, 0.05, 4.95))}


RAIL_PRESSURE = Source(
    "rail-pressure",
    (
        Fault("none", "Sound"),
        Fault("slow-build", "Builds slowly: leak-back or worn pump"),
        Fault("hunting", "Regulator hunts"),
        Fault("low-peak", "Does not reach its peak"),
        Fault("dropout", "Loose contact", VIBRATION),
        Fault("probe-slip", "Probe slips once"),
    ),
    (Manoeuvre("drive", "Key on, crank, idle, accelerate, idle, stop", 20.0),),
    1000,
    5.0,
    _rail,
    controls=DIESEL,
)
