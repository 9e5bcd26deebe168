"""A mean-value common-rail diesel: crank inertia, governed fuel, and a rail between pump, injectors and leakage.

Crank as in E. Hendricks and S. C. Sorenson, SAE 900616, 1990, with governed fuel in place of throttle and manifold.
The rail is a stiff volume: dp/dt = K/V (in - out), with the fluid's bulk modulus K. Figures of the engine are invented.
"""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.electrics import Supply, supplied
from tracebench.bench.vehicle.script import STEP_S, Script

BULK_PA = 1.4e9
"""Bulk modulus of diesel fuel at rail pressure (from memory)."""

FUEL_KG_M3 = 830.0
HEAT_J_KG = 42.6e6
BAR = 1e5

STARTED_RPM = 500.0
LONGEST_CRANK_S = 6.0


@dataclass(frozen=True, slots=True)
class Diesel:
    """Figures of engine, pump and rail; faults are other figures."""

    cylinders: int = 4
    inertia: float = 0.22
    friction_nm: float = 30.0
    idle_rpm: float = 800.0
    governed_rpm: float = 4300.0
    most_mg: float = 48.0
    """Most fuel a stroke."""
    rail_m3: float = 24e-6
    pump_m3_turn: float = 0.62e-6
    """Delivered in a turn of the pump, which runs at half the crank's speed; a worn pump delivers less."""
    leak_m3_s_bar: float = 0.55e-9
    """Back-leakage of injectors and pump for each bar; it does not turn with the engine."""
    valve_delay_s: float = 0.004
    """Before the metering valve answers; a sticking one answers late, and the loop about it hunts."""
    spill_m3_s_bar: float = 2.2e-9
    """What the regulator lets go for each bar above what is asked."""
    relief_bar: float = 1900.0
    """The limiter opens here; a tired spring opens it early."""
    supply: Supply = field(default_factory=Supply)


@dataclass(frozen=True, slots=True, eq=False)
class DieselRun:
    """One run on the grid of `STEP_S`: every array has the same length."""

    key: NDArray[np.float64]
    rail_bar: NDArray[np.float64]
    rpm: NDArray[np.float64]
    turns: NDArray[np.float64]
    fuel_mg: NDArray[np.float64]
    """Fuel injected a stroke."""
    battery_v: NDArray[np.float64]
    cylinders: int


def rail_target_bar(rpm: float, fuel_mg: float) -> float:
    """What the controller asks of the rail: low at idle, more with speed and fuel."""
    return min(1600.0, 325.0 + 0.16 * max(0.0, rpm - 900.0) + 16.0 * max(0.0, fuel_mg - 16.0))


class _Metering:
    """The valve at the pump's inlet: PI on pressure, and a valve that answers after a delay."""

    def __init__(self, delay_s: float) -> None:
        self.integral, self.asked = 0.0, 325.0
        self.waiting = deque([0.0] * max(1, round(delay_s / STEP_S)))

    def step(self, target: float, rail: float, *, awake: bool) -> float:
        wanted = 0.0
        if awake:
            self.asked += (target - self.asked) * (STEP_S / 0.05)
            error = (self.asked - rail) / 400.0
            self.integral = min(max(self.integral + error * 4.0 * STEP_S, 0.0), 1.0)
            wanted = min(max(1.5 * error + self.integral, 0.0), 1.0)
        else:
            self.integral, self.asked = 0.0, target
        self.waiting.append(wanted)
        return self.waiting.popleft()


def run_diesel(engine: Diesel, script: Script) -> DieselRun:
    """Drive the engine through a script from rest; a script's travel is the pedal. Deterministic."""
    size = script.key.size
    out = {name: np.empty(size) for name in ("rail", "rpm", "turns", "fuel")}
    omega = turns = rail = fuel = integral = 0.0
    metering = _Metering(engine.valve_delay_s)
    turned, cranked, held = np.zeros(size), 0.0, False
    strokes = engine.cylinders / 2
    for k in range(size):
        key, pedal = script.key[k], float(script.travel[k])
        rpm = omega * 30 / math.pi
        # A driver cranks until it runs, and gives up at last.
        held = key > 0 and rpm < STARTED_RPM and cranked < LONGEST_CRANK_S and (held or script.starter[k] > 0)
        starter = float(held)
        turned[k], cranked = starter, cranked + starter * STEP_S
        target = engine.idle_rpm + pedal * (engine.governed_rpm - engine.idle_rpm)
        # The injectors open only above a pressure at which they atomise.
        able = key and rpm > 90 and rail > 160
        integral = min(max(integral + (target - rpm) * 0.012 * STEP_S, 4.0), 14.0) if able else 9.0
        asked = integral + 0.03 * (target - rpm)
        fuel += ((min(max(asked, 0.0), engine.most_mg) if able else 0.0) - fuel) * (STEP_S / 0.03)
        torque = -(engine.friction_nm + 0.06 * omega if omega > 0 else 0.0)
        if able:
            torque += 0.40 * fuel * 1e-6 * HEAT_J_KG * engine.cylinders / (4 * math.pi)
        if starter:
            torque += max(0.0, 130.0 - 4.0 * omega)
        omega = max(0.0, omega + torque / engine.inertia * STEP_S)
        per_s = omega / (2 * math.pi)
        turns += per_s * STEP_S
        opening = metering.step(rail_target_bar(rpm, fuel), rail, awake=bool(key) and rpm > 60)
        pumped = engine.pump_m3_turn * per_s / 2 * opening
        injected = fuel * 1e-6 / FUEL_KG_M3 * strokes * per_s
        back = engine.leak_m3_s_bar * rail
        # Spill at the regulator lets a pressure above the target go; the limiter lets everything above its spring go.
        spill = engine.spill_m3_s_bar * max(0.0, rail - metering.asked - 15.0) if key and rpm > 60 else 0.0
        limited = 4e-7 * max(0.0, rail - engine.relief_bar)
        flow = pumped - injected - back - spill - limited
        rail = max(0.0, rail + BULK_PA / engine.rail_m3 * flow * STEP_S / BAR)
        for name, value in zip(out, (rail, rpm, turns, fuel), strict=True):
            out[name][k] = value
    volts = supplied(engine.supply, out["rpm"], turned, script.key)
    return DieselRun(script.key, out["rail"], out["rpm"], out["turns"], out["fuel"], volts, engine.cylinders)
