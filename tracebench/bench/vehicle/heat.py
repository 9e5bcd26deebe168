"""Coolant that the engine's own fuel warms: one lumped heat capacity, what the air takes, and a thermostat.

C dT/dt = share x fuel x heat of combustion - k (T - ambient), k small until the thermostat opens. Figures are invented.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.constants import HEAT_J_KG, STOICHIOMETRIC
from tracebench.bench.vehicle.engine import Run
from tracebench.bench.vehicle.script import STEP_S

COARSE_S = 0.1
"""Step of the coolant, which nothing moves faster than in seconds."""


@dataclass(frozen=True, slots=True)
class Jacket:
    """What is warmed: a small engine's head and the coolant that circulates while the thermostat is shut."""

    capacity_j_k: float = 21_000.0
    share: float = 0.30
    """Part of the fuel's heat that goes into the coolant."""
    loss_w_k: float = 14.0
    thermostat_c: float = 88.0
    radiator_w_k: float = 900.0
    """More that is taken for each kelvin over the thermostat's opening."""


def warmed(jacket: Jacket, run: Run, start_c: float, seconds: float) -> NDArray[np.float64]:
    """Degrees Celsius of the coolant every `COARSE_S`, for `seconds`, of an engine that was soaked at `start_c`.

    What the engine does at the end of its run it goes on doing.
    """
    fuel_kg_s = run.airflow_gs / 1000 / (STOICHIOMETRIC * np.maximum(run.mixture, 0.5)) * (run.rpm > 300)
    each = round(COARSE_S / STEP_S)
    whole = fuel_kg_s[: fuel_kg_s.size // each * each].reshape(-1, each).mean(axis=1)
    count = round(seconds / COARSE_S) + 2
    settled = float(whole[-20:].mean())
    fuel = np.concatenate([whole, np.full(max(0, count - whole.size), settled)])[:count]
    out = np.empty(count)
    celsius = start_c
    for k in range(count):
        out[k] = celsius
        given_off = jacket.loss_w_k * (celsius - start_c)
        given_off += jacket.radiator_w_k * max(0.0, celsius - jacket.thermostat_c)
        celsius += (jacket.share * float(fuel[k]) * HEAT_J_KG - given_off) / jacket.capacity_j_k * COARSE_S
    return out
