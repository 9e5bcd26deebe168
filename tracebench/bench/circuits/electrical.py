"""What battery and alternator of the engine run feed: supply, reference and ground at a plug, and charging itself."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tracebench.bench.circuits.engine_sensors import RUNS_RPM, START_UP_S, drive
from tracebench.bench.source import VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.electrics import Regulator, Supply, at_rest, ripple_shape, supplied
from tracebench.bench.vehicle.engine import Run

POLE_PAIRS = 6
RIPPLE_V = 0.75
"""Ripple at the sense wire for a unit of the rectified wave; the battery takes up the rest."""

_CABLE_V = 0.08
"""Drop of a sound feed between battery and plug."""


def _supply(order: Order) -> dict[str, Volts]:
    s, fault, size = order.severity, order.fault, order.times_s.size
    if order.manoeuvre == "running" or order.controls is not None:
        result, instants = drive(order, "idle")
        battery = at(result.battery_v, instants)
        turns = at(result.turns, instants)
        battery += 0.3 * RIPPLE_V * ripple_shape(turns, Supply().pulley, POLE_PAIRS, 0.0) * charging(result, instants)
    else:
        # Key on, engine off: the battery sags a little under what the key switches on.
        battery = at(at_rest(Supply(), order.duration_s), order.times_s - order.times_s[0])
    # A relay feeds the plug with the key, and the controller its reference; a run of hands begins with it off.
    fed = np.ones(size) if order.controls is None else at(order.controls.course("key", order.until_s), order.run_s) > 0
    supply = np.where(fed, battery - _CABLE_V - (1.0 + s) * (fault == "low-supply"), 0.0)
    held = Regulator(5.01 - (0.25 + 0.4 * s) * (fault == "low-reference")).held(battery)
    # A wire chafed against the feed pulls the reference up to it through what resistance is left.
    chafed = (0.3 + s) / (12.5 - 5.01) * (fault == "high-reference")
    return {
        "supply": supply,
        "reference": np.where(fed, held + chafed * (battery - held), 0.0),
        "ground": np.full(size, 0.02) + (0.15 + 0.3 * s) * (fault == "high-ground"),
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


def charging(result: Run, instants: Volts) -> Volts:
    """1 at instants at which the machine turns fast enough to charge, else 0."""
    return np.asarray(at((result.rpm > RUNS_RPM).astype(float), instants) > 0, dtype=np.float64)


def _charging(order: Order) -> dict[str, Volts]:
    s, fault = order.severity, order.fault
    result, instants = drive(order, "charge")
    grid = result.times_s - START_UP_S["charge"]
    # Comes and goes: a record of a few seconds misses it.
    event = np.interp(grid, [9.0, 9.1, 15.0, 15.1], [0.0, 1.0, 1.0, 0.0])
    if order.controls is not None:
        event = order.loose(result.times_s, (0.3, 0.9)).astype(float)
    machine = Supply()
    if fault == "undercharge":
        machine = replace(machine, most_a=14.0 * (1 - 0.7 * s))
    set_v = np.full(grid.size, machine.set_v)
    ground, duty = np.full(grid.size, 0.015), 38.0 + 2 * np.sin(2 * np.pi * 0.11 * grid)
    if fault in ("regulator", "command"):
        set_v += (1.5 + s) * event
    if fault == "command":
        duty += 45 * event
    if fault == "ground-lifted":
        # The regulator measures against its own case, so that what the case loses is added to the rest of the car.
        ground += (1.0 + 0.6 * s) * event
        set_v += ground
    loads = np.where(np.sin(2 * np.pi * 0.13 * grid) > 0, machine.load_a + 15.0, machine.load_a)
    cranked = np.zeros(grid.size)
    if order.controls is not None:
        asked = order.controls.script(order.until_s)
        loads, cranked = machine.load_a + np.asarray(asked.load_a), asked.starter
    steady = supplied(machine, result.rpm, cranked, result.key, set_v, loads)
    lost = 0.7 + 0.3 * s if fault == "diode" else 0.0
    turns = at(result.turns, instants)
    ripple = RIPPLE_V * ripple_shape(turns, machine.pulley, POLE_PAIRS, lost)
    sense = at(steady, instants) + ripple * charging(result, instants)
    command = at(duty, instants)
    if order.part.get("command") == "pulses":
        command = np.where((instants * 128.0) % 1.0 < command / 100, at(steady, instants) - 0.3, 0.2)
    return {"sense": sense, "case_ground": at(ground, instants), "command": command}


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
