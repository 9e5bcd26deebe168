"""Charging on the trainer: its signal, and its faults."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tracebench.bench.parts.electrical import POLE_PAIRS, RIPPLE_V, charging
from tracebench.bench.parts.engine_sensors import START_UP_S, drive
from tracebench.bench.source import VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at
from tracebench.bench.vehicle.electrics import Supply, ripple_shape, supplied


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


SOURCE = Source(
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
