"""The diesel's steps, compiled. Equations: see `diesel`."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from tracebench.bench.vehicle.script import STEP_S

BULK_PA = 1.4e9
"""Bulk modulus of diesel fuel at rail pressure (from memory)."""

FUEL_KG_M3 = 830.0
HEAT_J_KG = 42.6e6
BAR = 1e5

STARTED_RPM = 500.0
LONGEST_CRANK_S = 6.0


class Figures(NamedTuple):
    """What the steps need of a `Diesel`, under its names."""

    cylinders: int
    inertia: float
    friction_nm: float
    idle_rpm: float
    governed_rpm: float
    most_mg: float
    rail_m3: float
    pump_m3_turn: float
    leak_m3_s_bar: float
    valve_delay_s: float
    spill_m3_s_bar: float
    relief_bar: float


@njit(cache=True)
def rail_target_bar(rpm: float, fuel_mg: float) -> float:
    """What the controller asks of the rail: low at idle, more with speed and fuel."""
    return min(1600.0, 325.0 + 0.16 * max(0.0, rpm - 900.0) + 16.0 * max(0.0, fuel_mg - 16.0))


@njit(cache=True, nogil=True)
def driven(
    e: Figures, key: NDArray[np.float64], starter: NDArray[np.float64], pedal: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Rail bar, rpm, turns, fuel mg a stroke, and where the starter turned, shape (5, steps of the demands)."""
    out = np.empty((5, key.size))
    omega = turns = rail = fuel = integral = 0.0
    cranked, held = 0.0, False
    strokes = e.cylinders / 2
    # The metering valve at the pump's inlet: PI on pressure, and a valve that answers after a delay.
    metered, asked_bar = 0.0, 325.0
    waiting = np.zeros(max(1, round(e.valve_delay_s / STEP_S)))
    for k in range(key.size):
        rpm = omega * 30 / math.pi
        # A driver cranks until it runs, and gives up at last.
        held = key[k] > 0 and rpm < STARTED_RPM and cranked < LONGEST_CRANK_S and (held or starter[k] > 0)
        if held:
            cranked += STEP_S
        target = e.idle_rpm + pedal[k] * (e.governed_rpm - e.idle_rpm)
        # The injectors open only above a pressure at which they atomise.
        able = key[k] > 0 and rpm > 90 and rail > 160
        integral = min(max(integral + (target - rpm) * 0.012 * STEP_S, 4.0), 14.0) if able else 9.0
        wanted_mg = integral + 0.03 * (target - rpm)
        fuel += ((min(max(wanted_mg, 0.0), e.most_mg) if able else 0.0) - fuel) * (STEP_S / 0.03)
        torque = -(e.friction_nm + 0.06 * omega if omega > 0 else 0.0)
        if able:
            torque += 0.40 * fuel * 1e-6 * HEAT_J_KG * e.cylinders / (4 * math.pi)
        if held:
            torque += max(0.0, 130.0 - 4.0 * omega)
        omega = max(0.0, omega + torque / e.inertia * STEP_S)
        per_s = omega / (2 * math.pi)
        turns += per_s * STEP_S

        wanted, awake = 0.0, key[k] > 0 and rpm > 60
        if awake:
            asked_bar += (rail_target_bar(rpm, fuel) - asked_bar) * (STEP_S / 0.05)
            error = (asked_bar - rail) / 400.0
            metered = min(max(metered + error * 4.0 * STEP_S, 0.0), 1.0)
            wanted = min(max(1.5 * error + metered, 0.0), 1.0)
        else:
            metered, asked_bar = 0.0, rail_target_bar(rpm, fuel)
        opening = waiting[k % waiting.size]
        waiting[k % waiting.size] = wanted
        pumped = e.pump_m3_turn * per_s / 2 * opening
        injected = fuel * 1e-6 / FUEL_KG_M3 * strokes * per_s
        back = e.leak_m3_s_bar * rail
        # Spill at the regulator lets a pressure above the target go; the limiter lets everything above its spring go.
        spill = e.spill_m3_s_bar * max(0.0, rail - asked_bar - 15.0) if awake else 0.0
        limited = 4e-7 * max(0.0, rail - e.relief_bar)
        rail = max(0.0, rail + BULK_PA / e.rail_m3 * (pumped - injected - back - spill - limited) * STEP_S / BAR)
        out[0, k], out[1, k], out[2, k], out[3, k] = rail, rpm, turns, fuel
        out[4, k] = 1.0 if held else 0.0
    return out
