"""Coil primary voltage on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.ignition import COMMON, IDLE, Coil, faulty, run_of, spark_of
from tracebench.bench.parts.injectors import STEP_S, laid
from tracebench.bench.source import Fault, Order, Source, Volts


def _primary_voltage(order: Order) -> dict[str, Volts]:
    events, instants, supply, kpa = run_of(order, (1,))
    rest = float(np.median(supply)) if supply.size else 14.0
    if order.fault == "no-switching":
        return {"control": np.full(instants.size, rest)}
    coil = faulty(order, Coil())
    starts, courses = [], []
    low = np.full(round(coil.dwell_s / STEP_S), coil.driver_v)
    for k, e in enumerate(events):
        spark = spark_of(coil, rest, float(kpa[k]), order.rng)
        starts.append(e.at_s - coil.dwell_s)
        courses.append(np.concatenate([low, rest + spark.primary_v, [rest]]))
    return {"control": laid(instants, starts, courses, rest)}


SOURCE = Source(
    "coil-primary-voltage",
    (
        *COMMON,
        Fault("open", "Secondary open: no burn"),
        Fault("short-burn", "Little energy: burn short"),
        Fault("long-burn", "Gap bridged: burn long"),
        Fault("low-kick", "Shorted turns: kick low"),
        Fault("no-rings", "No rings"),
        Fault("weak-driver", "Driver weak"),
        Fault("no-switching", "Never switched"),
    ),
    (IDLE,),
    500_000,
    500.0,
    _primary_voltage,
    noise={"control": 0.15},
)
