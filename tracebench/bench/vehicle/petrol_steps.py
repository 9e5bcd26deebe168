"""The petrol engine's steps, compiled: a run has tens of thousands, each of which needs the one before.

Equations: see `engine`. Compiled code is kept beside this file by numba, so that only the first run ever waits for it.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from tracebench.bench.vehicle.constants import GAMMA, GAS, HEAT_J_KG, STOICHIOMETRIC
from tracebench.bench.vehicle.script import STEP_S

_CRITICAL = (2 / (GAMMA + 1)) ** (GAMMA / (GAMMA - 1))
_CHOKED = math.sqrt(GAMMA) * (2 / (GAMMA + 1)) ** ((GAMMA + 1) / (2 * (GAMMA - 1)))
_IDLE_M2 = 2.0e-5
_ON_ITS_WAY = 2048
"""Steps of exhaust that can be between the valve and the sensor."""


class Figures(NamedTuple):
    """What the steps need of an `Engine`, under its names."""

    displacement_m3: float
    manifold_m3: float
    throttle_m2: float
    discharge: float
    leak_m2: float
    breathing: float
    inertia: float
    idle_rpm: float
    limit_rpm: float
    ambient_kpa: float
    ambient_k: float
    fuel_delay_s: float
    fuel_gain: float
    sensor_lag_s: float


@njit(cache=True)
def orifice_flow_kg_s(area_m2: float, up_pa: float, down_pa: float, temperature_k: float, discharge: float) -> float:
    """Compressible flow through an orifice; choked below the critical pressure ratio (0.528 for air)."""
    ratio = down_pa / up_pa
    if ratio >= 1.0:
        return 0.0
    if ratio <= _CRITICAL:
        shape = _CHOKED
    else:
        shape = ratio ** (1 / GAMMA) * math.sqrt(2 * GAMMA / (GAMMA - 1) * (1 - ratio ** ((GAMMA - 1) / GAMMA)))
    return float(discharge * area_m2 * up_pa / math.sqrt(GAS * temperature_k) * shape)


@njit(cache=True)
def _opening(travel: float) -> float:
    """Part of the bore that a plate leaves free, from a nearly shut rest to wide open."""
    angle = math.radians(6.0 + 82.0 * travel)
    return (1 - math.cos(angle)) - (1 - math.cos(math.radians(6.0)))


@njit(cache=True)
def _foot(target_rpm: float, rpm: float, integral: float) -> tuple[float, float]:
    """What a driver who holds a speed has learnt so far, and the travel asked for."""
    foot = 0.127 + (target_rpm - 2500) * 5.7e-5
    integral = min(max(integral + (target_rpm - rpm) * 2e-8, -0.05), 0.1)
    return integral, min(max(foot + integral + (target_rpm - rpm) * 3e-5, 0.0), 0.4)


@njit(cache=True)
def _burning(rpm: float, drawn: float, film: float) -> float:
    """Lambda in the cylinders: of air drawn and fuel off the film, 3 at most."""
    if rpm < 30:
        return 1.0
    return min(3.0, drawn / (STOICHIOMETRIC * film)) if film > 1e-8 else 3.0


@njit(cache=True)
def _torque(e: Figures, mixture: float, fuel_kg_s: float, p: float, omega: float, firing: bool, idling: bool) -> float:
    """Shaft torque: indicated less pumping and friction; the spark steadies idle as real controllers do."""
    pumping = (e.ambient_kpa * 1000 - p) * e.displacement_m3 / (4 * math.pi)
    friction = 17.0 + 0.05 * omega if omega > 0 else 0.0
    if not firing or mixture > 1.6 or omega < 10:
        return -pumping - friction
    efficiency = 0.31 * p / (p + 12_000)
    rpm = omega * 30 / math.pi
    spark = 1 + min(max((e.idle_rpm - rpm) * 0.0015, -0.25), 0.25) if idling and rpm < 1300 else 1.0
    return efficiency * spark * fuel_kg_s * HEAT_J_KG / omega - pumping - friction


@njit(cache=True, nogil=True)
def driven(
    e: Figures,
    key: NDArray[np.float64],
    starter: NDArray[np.float64],
    target_rpm: NDArray[np.float64],
    wanted_travel: NDArray[np.float64],
    load_nm: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Travel, manifold kPa, airflow g/s, rpm, turns and lambda at the sensor, shape (6, steps of the demands)."""
    out = np.empty((6, key.size))
    up = e.ambient_kpa * 1000
    p, omega, turns = up, 0.0, 0.0
    bypass, travel_now, integral, cranked = _IDLE_M2, 0.0, 0.0, 0.0
    # Fuel: a wall film, the air that metering knows of, and the closed loop's trim and side.
    film, known, trim, side, sensed = 0.0, 0.0, 1.0, 1.0, 1.0
    exhaust = np.ones(_ON_ITS_WAY)
    for k in range(key.size):
        rpm = omega * 30 / math.pi
        travel = wanted_travel[k]
        if target_rpm[k] > 0:
            integral, travel = _foot(target_rpm[k], rpm, integral)
        travel_now += (travel - travel_now) * (STEP_S / 0.006)
        shut = travel < 0.02 and target_rpm[k] == 0
        # Idle is held by the bypass, which opens with speed when the throttle shuts, as a dashpot does.
        if key[k] > 0 and starter[k] == 0 and shut and 300 < rpm < 1300:
            bypass = min(max(bypass + (e.idle_rpm - rpm) * 8e-12, 0.6e-5), 4e-5)
        open_m2 = bypass * (max(1.0, 0.55 * rpm / e.idle_rpm) if shut else 1.0)
        area = e.throttle_m2 * _opening(travel_now) + open_m2
        through = orifice_flow_kg_s(area, up, p, e.ambient_k, e.discharge)
        leak = orifice_flow_kg_s(e.leak_m2, up, p, e.ambient_k, e.discharge) if e.leak_m2 > 0 else 0.0
        drawn = e.breathing * e.displacement_m3 / 2 * rpm / 60 * p / (GAS * e.ambient_k)
        p = min(up, p + GAS * e.ambient_k / e.manifold_m3 * (through + leak - drawn) * STEP_S)
        if starter[k] > 0:
            cranked += STEP_S

        # Metering: base fuel by air, cut in the overrun and over the limit.
        cut = (shut and rpm > 1300) or rpm > e.limit_rpm
        known += (drawn - known) * (STEP_S / max(e.fuel_delay_s, STEP_S))
        ahead = 1.6 * max(0.0, 1 - e.fuel_delay_s / 0.12)
        air = max(0.0, known + ahead * (drawn - known))
        fed = air / STOICHIOMETRIC * trim * (1.25 if travel_now > 0.5 else 1.0) * e.fuel_gain
        asked = fed if key[k] > 0 and not cut else 0.0
        film += (asked - film) * (STEP_S / 0.02)
        here = _burning(rpm, drawn, film)
        exhaust[k % _ON_ITS_WAY] = here
        delay = min(_ON_ITS_WAY - 1, round((0.04 + 40.0 / max(rpm, 300.0)) / STEP_S))
        sensed += (exhaust[(k - delay) % _ON_ITS_WAY] - sensed) * (STEP_S / e.sensor_lag_s)
        # The loop walks against the sensor, with a step at each change of sides, as long as nothing is asked.
        if key[k] > 0 and rpm > 500 and travel_now < 0.3 and not cut and abs(sensed - 1) < 0.6:
            now = 1.0 if sensed > 1.0 else -1.0
            if now != side:
                trim += 0.004 * now
                side = now
            trim = min(max(trim + now * 0.14 * STEP_S, 0.80), 1.20)

        firing = key[k] > 0 and rpm > 120 and (cranked > 0.6 or starter[k] == 0)
        burnt = min(film, drawn / STOICHIOMETRIC / 0.9)
        torque = _torque(e, here, burnt, p, omega, firing, shut) - (load_nm[k] if rpm > 400 else 0.0)
        if starter[k] > 0:
            torque += max(0.0, 70.0 - 2.6 * omega)
        omega = max(0.0, omega + torque / e.inertia * STEP_S)
        turns += omega / (2 * math.pi) * STEP_S
        out[0, k], out[1, k], out[2, k] = travel_now, p / 1000, through * 1000
        out[3, k], out[4, k], out[5, k] = rpm, turns, sensed
    return out
