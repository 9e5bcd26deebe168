"""A mean-value spark-ignition engine: throttle flow, manifold filling, pumping, crank inertia, fuel and mixture.

Source: E. Hendricks and S. C. Sorenson, 'Mean Value Modelling of Spark Ignition Engines', SAE 900616, 1990.
Throttle flow is compressible flow through an orifice; the manifold fills by the ideal gas law; the engine draws by
speed-density; the crank follows Newton. Fuel is metered from the air with a wall film and a closed loop on the
oxygen sensor; it is cut in the overrun. Figures of the engine are invented.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.electrics import Supply, supplied
from tracebench.bench.vehicle.script import STEP_S, Script


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
    limit_rpm: float = 7000.0
    """Fuel is cut over it."""
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


def run(engine: Engine, script: Script) -> Run:
    """Drive the engine through a script from rest; deterministic."""
    # Not before an engine turns: the compiler takes half a second to load.
    from tracebench.bench.vehicle.petrol_steps import Figures, driven  # noqa: PLC0415

    figures = Figures(*(getattr(engine, name) for name in Figures._fields))
    drag = script.load_nm if script.load_nm is not None else np.zeros(script.key.size)
    travel, kpa, air, rpm, turns, mixture = driven(
        figures, script.key, script.starter, script.target_rpm, script.travel, drag
    )
    loads = None if script.load_a is None else engine.supply.load_a + script.load_a
    battery_v = supplied(engine.supply, rpm, script.starter, script.key, load_a=loads)
    return Run(
        script.key,
        script.starter,
        travel,
        kpa,
        air,
        rpm,
        turns,
        mixture,
        battery_v,
        engine.ambient_kpa,
        engine.cylinders,
    )
