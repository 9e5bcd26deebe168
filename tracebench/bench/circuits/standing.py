"""Sources that need no engine model: pedal, temperature, supply and ground, charging, and the diesel's rail."""

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


def _supply(order: Order) -> dict[str, Volts]:
    t = order.times_s - order.times_s[0]
    running = order.manoeuvre == "running"
    s, fault = order.severity, order.fault
    battery = np.full_like(t, 14.1 if running else 12.6) + 0.01 * np.sin(2 * np.pi * 0.3 * t)
    if running:
        battery = battery + 0.03 * np.sin(2 * np.pi * 120 * t)
    return {
        "supply": battery - 0.08 - (1.0 + s) * (fault == "low-supply"),
        "reference": np.full_like(t, 5.01)
        - (0.25 + 0.4 * s) * (fault == "low-reference")
        + (0.3 + s) * (fault == "high-reference"),
        "ground": np.full_like(t, 0.02) + (0.15 + 0.3 * s) * (fault == "high-ground"),
        "battery": battery,
    }


SUPPLY_GROUND = Source(
    "supply-ground",
    (
        Fault("none", "Sound"),
        Fault("low-supply", "Drop in the feed"),
        Fault("low-reference", "Reference low"),
        Fault("high-reference", "Reference high: short to supply"),
        Fault("high-ground", "Drop in the ground"),
    ),
    (Manoeuvre("key-on", "Key on, engine off", 5.0), Manoeuvre("running", "Engine running", 5.0)),
    1000,
    20.0,
    _supply,
)

POLE_PAIRS = 6


def _charging(order: Order) -> dict[str, Volts]:
    t = order.times_s - order.times_s[0]
    s, fault = order.severity, order.fault
    turns = order.number("engine_rpm", 1500.0) * order.number("pulley_ratio", 2.5) / 60 * t
    electric = turns * POLE_PAIRS
    ripple = 0.05 * np.abs(np.sin(np.pi * 6 * electric))
    if fault == "diode":
        ripple = ripple + (0.55 + 0.4 * s) * np.maximum(0, np.sin(2 * np.pi * electric)) ** 2
    # Comes and goes: a record of a few seconds misses it.
    event = (t > 9.0) & (t < 15.0)
    sense = 14.15 + 0.05 * np.sin(2 * np.pi * 0.2 * t) + ripple - ripple.mean()
    duty = np.full_like(t, 38.0) + 2 * np.sin(2 * np.pi * 0.11 * t)
    ground = np.full_like(t, 0.015)
    rise = np.clip(np.convolve(event.astype(float), np.ones(25) / 25, mode="same"), 0, 1) * (1.5 + s)
    if fault in ("regulator", "command"):
        sense = sense + rise
    if fault == "command":
        duty = duty + 45 * event
    if fault == "ground-lifted":
        ground = ground + 0.35 * event
        sense = sense + rise
    if fault == "undercharge":
        sense = sense - 1.4 - 0.5 * s
    command = duty
    if order.part.get("command") == "pulses":
        command = np.where((t * 128.0) % 1.0 < duty / 100, 12.0, 0.2)
    return {"sense": sense, "case_ground": ground, "command": command}


CHARGING = Source(
    "charging",
    (
        Fault("none", "Sound"),
        Fault("regulator", "Internal regulator fails now and then", VIBRATION),
        Fault("command", "The controller asks for too much"),
        Fault("ground-lifted", "Case ground lifts"),
        Fault("undercharge", "Does not charge"),
        Fault("diode", "One diode open"),
    ),
    (Manoeuvre("drive", "Running, loads on and off", 20.0),),
    5000,
    20.0,
    _charging,
)


def _rail(order: Order) -> dict[str, Volts]:
    """A pump that fills a rail by speed, a regulator that holds its target, injectors and leak-back that empty it."""
    step = 0.002
    size = int(order.duration_s / step) + 2
    jitter = order.rng.uniform(0.95, 1.05, 4)
    crank_at, up_at = 2.0 * jitter[0], 8.0 * jitter[1]
    down_at, stop_at = up_at + 2.2 * jitter[2], 15.0 * jitter[3]
    s, fault = order.severity, order.fault
    weak = 0.031 - 0.008 * s if fault == "slow-build" else 1.0
    most = 1.78 - 0.15 * s if fault == "low-peak" else 3.1
    volts = np.empty(size)
    rail = 0.5
    for k in range(size):
        t = k * step
        target = 0.5 if t < crank_at or t > stop_at else (most if up_at < t < down_at else 1.22)
        flow = 0.0
        if crank_at < t < stop_at:
            speed = 0.35 if t < crank_at + 0.7 else 1.0
            flow = min(max((target - rail) * 9.0, -3.0), 14.0 * speed * weak)
            if t < crank_at + 0.25:
                flow = 0.0
        elif t > stop_at:
            flow = -(rail - 0.5) / 1.1
        rail += flow * step
        volts[k] = rail
    grid = np.arange(size) * step
    hunting = (0.16 + 0.1 * s) * np.sin(2 * np.pi * 0.9 * grid) if fault == "hunting" else 0.0
    alive = (grid > crank_at + 1.2) & (grid < stop_at)
    volts = volts + alive * (0.012 * np.sin(2 * np.pi * 27 * grid) + hunting)
    t = order.times_s - order.times_s[0]
    signal = np.interp(t, grid, volts)
    if fault == "dropout":
        signal = dropped(order, signal, np.abs(signal - 1.22) < 0.1)
    return {"signal": slipped(order, signal)}


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
)
