"""Coil primary current on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.ignition import COMMON, IDLE, LAYOUTS, START, coils_of, ramp_of, run_of
from tracebench.bench.parts.injectors import STEP_S, laid, sync_lane
from tracebench.bench.source import Fault, Order, Source, Volts


def _primary_current(order: Order) -> dict[str, Volts]:
    row = order.row()
    events, instants, supply, _ = run_of(order, row)
    coils = coils_of(order, row)
    odd = order.odd()
    kept = [e for e in events if not (order.fault == "missing" and e.cylinder == odd)]
    starts, courses = [], []
    for e in kept:
        ramp = ramp_of(coils[e.cylinder], float(supply[e.number]))
        # The driver cuts the current within microseconds.
        fall = ramp[-1] * np.exp(-np.arange(round(0.12e-3 / STEP_S)) * STEP_S / 12e-6)
        starts.append(e.at_s - coils[e.cylinder].dwell_s)
        courses.append(np.concatenate([ramp, fall, [0.0]]))
    return {"current": laid(instants, starts, courses, 0.0), "sync": sync_lane(instants, events)}


SOURCE = Source(
    "coil-primary-current",
    (
        *COMMON,
        Fault("secondary-open", "Secondary open: no ripple at turn-on"),
        Fault("shorted", "Primary winding shorted"),
        Fault("missing", "One driver dead"),
        Fault("short-dwell", "Dwell too short"),
        Fault("low-peak", "High resistance in the feed of one coil"),
    ),
    (IDLE, START),
    200_000,
    20.0,
    _primary_current,
    noise={"current": 0.02, "sync": 0.02},
    layouts=LAYOUTS,
    by_cylinder=True,
)
