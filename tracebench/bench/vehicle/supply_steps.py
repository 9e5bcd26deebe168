"""Battery and alternator step by step, compiled. Equations: see `electrics`."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from tracebench.bench.vehicle.script import STEP_S


@njit(cache=True, nogil=True)
def battery_volts(
    rest_v: float,
    battery_ohm: float,
    able_a: NDArray[np.float64],
    drawn_a: NDArray[np.float64],
    cranking: NDArray[np.float64],
    hold_v: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Volts at the posts; every array has one value a step."""
    out = np.empty(able_a.size)
    volts, excitation = rest_v - 0.05, 0.0
    for k in range(able_a.size):
        aim = min(max(excitation + (hold_v[k] - volts) * 0.8, 0.0), 1.0)
        excitation += (aim - excitation) * (STEP_S / 0.01)
        over = able_a[k] * excitation - drawn_a[k]
        # Charging meets the plates' own rise of voltage, so that a full battery takes little.
        if over > 0:
            goal = min(rest_v + 0.25 * over, hold_v[k] + 0.4)
        else:
            goal = rest_v - 0.05 * (drawn_a[k] > 5) + battery_ohm * over
        volts += (goal - volts) * (STEP_S / (0.03 if cranking[k] > 0 else 0.12))
        out[k] = volts
    return out
