"""A mean-value common-rail diesel: crank inertia, governed fuel, and a rail between pump, injectors and leakage.

Crank as in E. Hendricks and S. C. Sorenson, SAE 900616, 1990, with governed fuel in place of throttle and manifold.
The rail is a stiff volume: dp/dt = K/V (in - out), with the fluid's bulk modulus K. Figures of the engine are invented.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.electrics import Supply, supplied
from tracebench.bench.vehicle.script import Script


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


def run_diesel(engine: Diesel, script: Script) -> DieselRun:
    """Drive the engine through a script from rest; a script's travel is the pedal. Deterministic."""
    # Not before an engine turns: the compiler takes half a second to load.
    from tracebench.bench.vehicle.diesel_steps import Figures, driven  # noqa: PLC0415

    figures = Figures(*(getattr(engine, name) for name in Figures._fields))
    rail_bar, rpm, turns, fuel_mg, turned = driven(figures, script.key, script.starter, script.travel)
    volts = supplied(engine.supply, rpm, turned, script.key)
    return DieselRun(script.key, rail_bar, rpm, turns, fuel_mg, volts, engine.cylinders)
