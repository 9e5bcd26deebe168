"""Switching module, bench on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.controls import HEAT, PRESS, WARM
from tracebench.bench.parts.ignition import COMMON
from tracebench.bench.source import HOT, Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.script import STEP_S as GRID_S


def _bench(order: Order) -> dict[str, Volts]:
    """Triggers by hand, and a module of fixed dwell that answers each with the same low time; a coil kicks."""
    t = order.times_s - order.times_s[0]
    rng, s = order.rng, order.severity
    trigger, output = np.zeros(t.size), np.full(t.size, 12.6)
    starts = np.arange(0.3, order.duration_s - 0.35, 0.42) + rng.uniform(
        0, 0.12, np.arange(0.3, order.duration_s - 0.35, 0.42).size
    )
    held = rng.uniform(0.02, 0.22, starts.size)
    if order.controls is not None:
        starts, held = _pressed(order)
    low_s = order.number("low_ms", 3.2) / 1000
    inner = np.arange(1, starts.size - 1)
    silent = set(rng.choice(inner, min(2 + round(2 * s), inner.size), replace=False).tolist())
    warmths = starts / order.duration_s
    if order.controls is not None:
        warmths = at(order.controls.warmth(order.until_s), starts + order.begin_s)
        silent = set(np.flatnonzero(warmths > WARM)[::3].tolist())
    unsteady = warmths > (WARM if order.controls is not None else -1.0)
    for k, (start, length) in enumerate(zip(starts, held, strict=True)):
        trigger[(t >= start) & (t < start + length)] = 5.0
        if order.fault == "dead" or (order.fault == "misses" and k in silent):
            continue
        # Its own loss warms it: past that point every other trigger finds it dead, then all of them.
        warmth = warmths[k]
        if order.fault == "heats-up" and (warmth > 0.85 - 0.1 * s or (warmth > 0.5 and k % 2)):
            continue
        strays = order.fault == "unstable" and unsteady[k]
        width = low_s * (1 + (0.22 + 0.1 * s) * rng.normal() if strays else 1 + 0.004 * rng.normal())
        width = max(width, 0.3 * low_s)
        a, b, c = np.searchsorted(t, (start, start + width, start + width + 0.2e-3))
        output[a:b] = 0.35
        output[b:c] = 62.0
    return {"trigger": trigger, "output": output}


def _pressed(order: Order) -> tuple[Volts, Volts]:
    """Begins and lengths of the presses of a trigger in the record, seconds from its start; one under way goes on."""
    held = order.controls.course("press", order.until_s) if order.controls else np.zeros(2)
    down = np.flatnonzero(np.diff(held, prepend=0.0) > 0)
    up = np.flatnonzero(np.diff(held, prepend=0.0, append=0.0) < 0)
    begins, ends = down * GRID_S - order.begin_s, up * GRID_S - order.begin_s
    inside = (ends > 0) & (begins < order.duration_s)
    return np.asarray(begins[inside]), np.asarray((ends - begins)[inside])


SOURCE = Source(
    "igniter-bench",
    (
        *COMMON,
        Fault("dead", "Does not switch"),
        Fault("misses", "Misses triggers", HOT),
        Fault("unstable", "Low time unstable", HOT),
        Fault("heats-up", "Answers cold, and no longer once it is warm", HOT),
    ),
    (Manoeuvre("bench", "A dozen triggers by hand, 6 s", 6.0),),
    20_000,
    100.0,
    _bench,
    controls=(PRESS, HEAT),
    noise={"trigger": 0.02, "output": 0.05},
)
