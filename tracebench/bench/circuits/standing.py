"""Sources that stand still with the key on, moved by hand or heat: throttle body, pedal, temperature."""

from __future__ import annotations

import numpy as np

from tracebench.bench.circuits.throttle_position import FAULTS as THROTTLE_FAULTS
from tracebench.bench.circuits.throttle_position import Potentiometer
from tracebench.bench.hand import MOVEMENT_HZ, SweepPlan, followed, swept
from tracebench.bench.source import HOT, VIBRATION, Fault, Manoeuvre, Order, Source, Volts, dropped, slipped
from tracebench.core.transfer import INTAKE, INTAKE_DIVIDER

_SWEEP = Manoeuvre("sweep", "Two slow sweeps, key on, engine off", 32.0)


def _travel(order: Order) -> Volts:
    movement = order.movement if order.movement is not None else SweepPlan()
    travel = (
        swept(movement, order.duration_s, order.rng)
        if isinstance(movement, SweepPlan)
        else followed(movement, order.duration_s)
    )
    return np.asarray(np.interp(order.times_s - order.times_s[0], np.arange(travel.size) / MOVEMENT_HZ, travel))


def _throttle(order: Order) -> dict[str, Volts]:
    part = Potentiometer(
        closed_v=order.number("closed_v", 0.62),
        open_v=order.number("open_v", 4.25),
        fault=order.fault,
        severity=order.severity,
    )
    return part.volts(order.times_s, _travel(order), order.rng)


THROTTLE_POSITION = Source("throttle-position", THROTTLE_FAULTS, (_SWEEP,), 1000, 10.0, _throttle, by_hand=True)


def _pedal(order: Order) -> dict[str, Volts]:
    travel = _travel(order)
    t = order.times_s - order.times_s[0]
    s, fault, n = order.severity, order.fault, t.size
    reference1, reference2 = np.full(n, 5.01), np.full(n, 4.99)
    ground = np.full(n, 0.02)
    if fault == "reference-lost":
        # The controller's output gives way as it warms: a short record does not show it.
        for begin in (14.0, 22.5):
            start = begin + order.rng.uniform(-1.0, 1.0)
            away = (t > start) & (t < start + 0.6 + 0.8 * s)
            reference1 = np.where(away, 0.3, reference1)
    if fault == "ground-lifted":
        ground = ground + (0.2 + 0.3 * s) * (t > 0.4 * order.duration_s)
    track1 = (0.75 + 3.0 * travel) / 5.0 * (reference1 - ground) + ground
    track2 = (0.375 + 1.5 * travel) / 5.0 * (reference2 - ground) + ground
    if fault == "track-lost":
        start = order.duration_s * order.rng.uniform(0.35, 0.6)
        track2 = np.where((t > start) & (t < start + 1.5 + 2 * s), 0.01, track2)
    elif fault == "disagree":
        track2 = track2 + (0.10 + 0.12 * s) * np.clip((travel - 0.4) / 0.2, 0, 1)
    elif fault == "worn":
        worn = Potentiometer(closed_v=0.75, open_v=3.75, fault="worn-idle", severity=s)
        track1 = worn.volts(t, travel, order.rng)["signal"]
    elif fault == "probe-slip":
        start = order.duration_s * order.rng.uniform(0.3, 0.6)
        off = (t > start) & (t < start + 0.35)
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


PEDAL_POSITION = Source(
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
    (_SWEEP,),
    1000,
    10.0,
    _pedal,
    by_hand=True,
)


def _temperature(order: Order) -> dict[str, Volts]:
    t = order.times_s - order.times_s[0]
    start, end = order.number("start_c", 20.0), order.number("end_c", 62.0)
    celsius = end - (end - start) * np.exp(-t / (0.6 * max(order.duration_s, 1.0)))
    if order.manoeuvre == "steady":
        celsius = np.full_like(t, start)
    if order.fault == "offset":
        celsius = celsius - 9 - 8 * order.severity
    grid = np.linspace(float(celsius.min()) - 1, float(celsius.max()) + 1, 200)
    volts = np.interp(celsius, grid, [INTAKE_DIVIDER.volts(INTAKE.ohm(float(c))) for c in grid])
    if order.fault == "open":
        volts = np.full_like(t, 4.99)
    elif order.fault == "short":
        volts = np.where(t > 45.0, 0.01, volts)
    elif order.fault == "dropout":
        volts = dropped(order, volts, to=4.97)
    return {"signal": slipped(order, volts)}


TEMPERATURE = Source(
    "temperature",
    (
        Fault("none", "Sound"),
        Fault("open", "Open circuit"),
        Fault("short", "Shorts to ground when warm", HOT),
        Fault("offset", "Reads cold"),
        Fault("dropout", "Loose contact", VIBRATION),
    ),
    (Manoeuvre("warm-up", "Warm-up from cold", 120.0), Manoeuvre("steady", "Key on, steady", 10.0)),
    100,
    10.0,
    _temperature,
)
