"""Secondary voltage on the trainer: its signal, and its faults."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tracebench.bench.parts.ignition import COMMON, IDLE, LAYOUTS, START, coils_of, run_of, spark_of
from tracebench.bench.parts.injectors import laid, sync_lane
from tracebench.bench.source import HOT, LOAD, Fault, Manoeuvre, Order, Source, Volts

_SNAP = Manoeuvre("burst", "Idle and a snap, 2.5 s", 2.5)


def _secondary(order: Order) -> dict[str, Volts]:
    row = order.row()
    events, instants, supply, kpa = run_of(order, row)
    coils = coils_of(order, row)
    odd = order.odd()
    own = [e.number for e in events if e.cylinder == odd][1:-1]
    failing = (
        set(order.rng.choice(own, min(1 + round(order.severity), len(own)), replace=False).tolist()) if own else set()
    )
    if order.controls is not None:
        mine = [e for e in events if e.cylinder == odd]
        hot = order.warm(np.array([e.at_s for e in mine]))
        failing = {e.number for k, (e, warm) in enumerate(zip(mine, hot, strict=True)) if warm and k % 3 == 1}
    courses = []
    for k, e in enumerate(events):
        coil = coils[e.cylinder]
        if order.fault == "misfire" and e.number in failing:
            coil = replace(coil, open_secondary=True)
        courses.append(spark_of(coil, float(supply[k]), float(kpa[k]), order.rng).secondary_kv)
    volts = laid(instants, [e.at_s for e in events], courses, 0.0)
    return {"secondary": -volts, "sync": sync_lane(instants, events)}


SOURCE = Source(
    "secondary-voltage",
    (
        *COMMON,
        Fault("open", "Lead or secondary open"),
        Fault("fouled", "Plug fouled"),
        Fault("wide-gap", "Gap too wide"),
        Fault("hash", "Unsteady arc: lean or resistive"),
        Fault("short-burn", "Little energy: burn short"),
        Fault("weak-coil", "Insulation fails under load", LOAD),
        Fault("no-rings", "Shorted turns: no rings"),
        Fault("misfire", "Misfires now and then", HOT),
    ),
    (_SNAP, IDLE, START),
    500_000,
    50.0,
    _secondary,
    noise={"secondary": 0.03, "sync": 0.02},
    layouts=LAYOUTS,
    by_cylinder=True,
)
