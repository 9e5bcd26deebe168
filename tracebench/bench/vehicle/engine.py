"""A mean-value spark-ignition engine: throttle flow, manifold filling, pumping, crank inertia, fuel and mixture.

Source: E. Hendricks and S. C. Sorenson, 'Mean Value Modelling of Spark Ignition Engines', SAE 900616, 1990.
Throttle flow is compressible flow through an orifice; the manifold fills by the ideal gas law; the engine draws by
speed-density; the crank follows Newton. Fuel is metered from the air with a wall film and a closed loop on the
oxygen sensor; it is cut in the overrun. Figures of the engine are invented.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.electrics import Supply, supplied
from tracebench.bench.vehicle.script import STEP_S, Script

GAS = 287.05
"""Specific gas constant of dry air, J/(kg K) (ISO 2533)."""

GAMMA = 1.4
STOICHIOMETRIC = 14.7
HEAT_J_KG = 43e6

_CRITICAL = (2 / (GAMMA + 1)) ** (GAMMA / (GAMMA - 1))
_CHOKED = math.sqrt(GAMMA) * (2 / (GAMMA + 1)) ** ((GAMMA + 1) / (2 * (GAMMA - 1)))


@dataclass(frozen=True, slots=True)
class Engine:
    """Figures of the engine and of its surroundings; faults are other figures, not paint on the trace."""

    displacement_m3: float = 1.6e-3
    manifold_m3: float = 2.6e-3
    throttle_m2: float = 1.5e-3
    discharge: float = 0.8
    leak_m2: float = 0.0
    breathing: float = 0.84
    """Volumetric efficiency; a restricted exhaust leaves residual gas and lowers it."""
    inertia: float = 0.14
    idle_rpm: float = 800.0
    ambient_kpa: float = 101.0
    ambient_k: float = 294.0
    fuel_delay_s: float = 0.03
    """From a load request to the fuel that answers it; a weak supply answers late."""
    fuel_gain: float = 1.0
    """Fuel delivered for fuel asked; a bias the closed loop cannot take out when it is beyond its authority."""
    sensor_lag_s: float = 0.020
    """Of the oxygen sensor that the loop listens to."""
    cylinders: int = 4
    supply: Supply = field(default_factory=Supply)


@dataclass(frozen=True, slots=True, eq=False)
class Run:
    """One run on the grid of `STEP_S`: every array has the same length."""

    key: NDArray[np.float64]
    starter: NDArray[np.float64]
    travel: NDArray[np.float64]
    manifold_kpa: NDArray[np.float64]
    airflow_gs: NDArray[np.float64]
    rpm: NDArray[np.float64]
    turns: NDArray[np.float64]
    mixture: NDArray[np.float64]
    """Lambda at the oxygen sensor, after combustion and transport."""
    battery_v: NDArray[np.float64]
    ambient_kpa: float
    cylinders: int

    @property
    def times_s(self) -> NDArray[np.float64]:
        return np.asarray(np.arange(self.key.size) * STEP_S, dtype=np.float64)


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


def filling_time_s(engine: Engine, rpm: float) -> float:
    """Time constant of the manifold: its volume over the volume drawn a second, V / (e n Vd / 2)."""
    drawn_m3_s = engine.breathing * rpm / 60 * engine.displacement_m3 / 2
    return engine.manifold_m3 / drawn_m3_s


def _opening(travel: float) -> float:
    """Part of the bore that a plate leaves free, from a nearly shut rest to wide open."""
    angle = math.radians(6.0 + 82.0 * travel)
    return (1 - math.cos(angle)) - (1 - math.cos(math.radians(6.0)))


_IDLE_M2 = 2.0e-5


class _Fuel:
    """Metering: base fuel by air, a wall film, cut in the overrun, closed loop on what the sensor shows later."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self.film = self.known = 0.0
        self.trim, self.side, self.sensed, self.here = 1.0, 1.0, 1.0, 1.0
        self.lag = [1.0] * 2048

    def step(self, k: int, drawn: float, rpm: float, travel: float, key: bool, cut: bool) -> float:
        """One step; answers lambda at the sensor."""
        e = self.engine
        self.known += (drawn - self.known) * (STEP_S / max(e.fuel_delay_s, STEP_S))
        ahead = 1.6 * max(0.0, 1 - e.fuel_delay_s / 0.12)
        air = max(0.0, self.known + ahead * (drawn - self.known))
        rich = 1.25 if travel > 0.5 else 1.0
        asked = air / STOICHIOMETRIC * self.trim * rich * e.fuel_gain if key and not cut else 0.0
        self.film += (asked - self.film) * (STEP_S / 0.02)
        if rpm < 30:
            self.here = 1.0
        else:
            self.here = min(3.0, drawn / (STOICHIOMETRIC * self.film)) if self.film > 1e-8 else 3.0
        self.lag[k & 2047] = self.here
        delay = min(2047, round((0.04 + 40.0 / max(rpm, 300.0)) / STEP_S))
        burnt = self.lag[(k - delay) & 2047]
        self.sensed += (burnt - self.sensed) * (STEP_S / e.sensor_lag_s)
        # The loop walks against the sensor, with a step at each change of sides, as long as nothing is asked.
        if key and rpm > 500 and travel < 0.3 and not cut and abs(self.sensed - 1) < 0.6:
            now = 1.0 if self.sensed > 1.0 else -1.0
            if now != self.side:
                self.trim += 0.004 * now
                self.side = now
            self.trim = min(max(self.trim + now * 0.14 * STEP_S, 0.80), 1.20)
        return self.sensed

    def burnt_kg_s(self, drawn: float) -> float:
        """Fuel that finds air to burn with."""
        return min(self.film, drawn / STOICHIOMETRIC / 0.9)


def _torque(
    engine: Engine, mixture: float, fuel_kg_s: float, p: float, omega: float, *, firing: bool, idling: bool
) -> float:
    """Shaft torque: indicated less pumping and friction; the spark steadies idle as real controllers do."""
    pumping = (engine.ambient_kpa * 1000 - p) * engine.displacement_m3 / (4 * math.pi)
    friction = 17.0 + 0.05 * omega if omega > 0 else 0.0
    if not firing or mixture > 1.6 or omega < 10:
        return -pumping - friction
    efficiency = 0.31 * p / (p + 12_000)
    rpm = omega * 30 / math.pi
    spark = 1 + min(max((engine.idle_rpm - rpm) * 0.0015, -0.25), 0.25) if idling and rpm < 1300 else 1.0
    return efficiency * spark * fuel_kg_s * HEAT_J_KG / omega - pumping - friction


def run(engine: Engine, script: Script) -> Run:
    """Drive the engine through a script from rest; deterministic."""
    size = script.key.size
    out = {name: np.empty(size) for name in ("travel", "p", "air", "rpm", "turns", "mix")}
    up = engine.ambient_kpa * 1000
    p, omega, turns = up, 0.0, 0.0
    bypass, travel_now, integral, cranked = _IDLE_M2, 0.0, 0.0, 0.0
    fuel = _Fuel(engine)
    for k in range(size):
        key, starter, target = script.key[k], script.starter[k], script.target_rpm[k]
        rpm = omega * 30 / math.pi
        travel = float(script.travel[k])
        if target > 0:
            foot = 0.127 + (target - 2500) * 5.7e-5
            integral = min(max(integral + (target - rpm) * 2e-8, -0.05), 0.1)
            travel = min(max(foot + integral + (target - rpm) * 3e-5, 0.0), 0.4)
        travel_now += (travel - travel_now) * (STEP_S / 0.006)
        shut = travel < 0.02 and target == 0
        # Idle is held by the bypass, which opens with speed when the throttle shuts, as a dashpot does.
        if key and not starter and shut and 300 < rpm < 1300:
            bypass = min(max(bypass + (engine.idle_rpm - rpm) * 8e-12, 0.6e-5), 4e-5)
        open_m2 = bypass * (max(1.0, 0.55 * rpm / engine.idle_rpm) if shut else 1.0)
        area = engine.throttle_m2 * _opening(travel_now) + open_m2
        through = orifice_flow_kg_s(area, up, p, engine.ambient_k, engine.discharge)
        leak = orifice_flow_kg_s(engine.leak_m2, up, p, engine.ambient_k, engine.discharge) if engine.leak_m2 else 0.0
        drawn = engine.breathing * engine.displacement_m3 / 2 * rpm / 60 * p / (GAS * engine.ambient_k)
        p = min(up, p + GAS * engine.ambient_k / engine.manifold_m3 * (through + leak - drawn) * STEP_S)
        cranked = cranked + STEP_S if starter else cranked
        mixed = fuel.step(k, drawn, rpm, travel_now, key > 0, cut=shut and rpm > 1300)
        firing = key and rpm > 120 and (cranked > 0.6 or not starter)
        torque = _torque(engine, fuel.here, fuel.burnt_kg_s(drawn), p, omega, firing=bool(firing), idling=shut)
        if starter:
            torque += max(0.0, 70.0 - 2.6 * omega)
        omega = max(0.0, omega + torque / engine.inertia * STEP_S)
        turns += omega / (2 * math.pi) * STEP_S
        for name, value in zip(out, (travel_now, p / 1000, through * 1000, rpm, turns, mixed), strict=True):
            out[name][k] = value
    return Run(
        script.key,
        script.starter,
        out["travel"],
        out["p"],
        out["air"],
        out["rpm"],
        out["turns"],
        out["mix"],
        supplied(engine.supply, out["rpm"], script.starter, script.key),
        engine.ambient_kpa,
        engine.cylinders,
    )
