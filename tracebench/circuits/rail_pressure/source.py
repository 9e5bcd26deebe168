"""Rail pressure on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.controls import DIESEL
from tracebench.bench.parts.diesel_rail import drive_diesel
from tracebench.bench.source import VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at, dropped, slipped
from tracebench.bench.vehicle.electrics import Regulator

ZERO_V, VOLTS_PER_BAR = 0.5, 4.0 / 1800.0


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


SOURCE = Source(
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
