"""Battery and alternator that supply every part of the vehicle, whichever engine turns them.

A battery with open-circuit voltage and internal resistance; an alternator whose most depends on its speed, with a
regulator that holds a set voltage at its sense wire as long as it can. Figures are invented.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.script import STEP_S

Course = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Supply:
    """Figures of battery, alternator and loads; faults are other figures."""

    rest_v: float = 12.65
    battery_ohm: float = 0.012
    set_v: float = 14.15
    most_a: float = 110.0
    """Current of the alternator at high speed; a worn one gives less."""
    load_a: float = 22.0
    starter_a: float = 190.0
    pulley: float = 2.5


def supplied(
    supply: Supply,
    rpm: Course,
    starter: Course,
    key: Course,
    set_v: Course | None = None,
    load_a: Course | None = None,
) -> Course:
    """Volts at the battery's posts on the engine's grid; every array has one value a step of it.

    `set_v` and `load_a` are given where the regulator's set voltage or the loads move during the run.
    """
    s = supply
    wanted_v = set_v if set_v is not None else np.full(rpm.size, s.set_v)
    loads = load_a if load_a is not None else np.full(rpm.size, s.load_a)
    # Cuts in at some 1,000 turns of its own shaft a minute and saturates, as claw-pole machines do.
    able = s.most_a * (1 - np.exp(-np.maximum(0.0, rpm * s.pulley - 1000) / 1800)) * (key > 0)
    drawn = np.where(key > 0, loads, 0.5) + starter * s.starter_a * np.maximum(0.55, 1 - rpm / 700)
    out = np.empty(rpm.size)
    volts = s.rest_v - 0.05
    excitation = 0.0
    steps = zip(able.tolist(), drawn.tolist(), starter.tolist(), wanted_v.tolist(), strict=True)
    for k, (most, taken, cranking, hold) in enumerate(steps):
        aim = min(max(excitation + (hold - volts) * 0.8, 0.0), 1.0)
        excitation += (aim - excitation) * (STEP_S / 0.01)
        over = most * excitation - taken
        # Charging meets the plates' own rise of voltage, so that a full battery takes little.
        if over > 0:
            goal = min(s.rest_v + 0.25 * over, hold + 0.4)
        else:
            goal = s.rest_v - 0.05 * (taken > 5) + s.battery_ohm * over
        volts += (goal - volts) * (STEP_S / (0.03 if cranking else 0.12))
        out[k] = volts
    return out


def ripple_shape(turns: Course, pulley: float, pole_pairs: int, lost: float) -> Course:
    """Rectified three-phase ripple over crank turns, mean 0: six crests a period, and a gap where a diode is open.

    `lost` 0 to 1 says how much of one phase's half-wave fails to arrive.
    """
    electric = turns * pulley * pole_pairs
    phases = np.stack([np.sin(2 * np.pi * (electric + k / 3)) for k in range(3)])
    positive = phases.copy()
    positive[0] = np.where(positive[0] > 0, positive[0] * (1 - lost), positive[0])
    rectified = positive.max(axis=0) - phases.min(axis=0)
    return np.asarray(rectified - rectified.mean(), dtype=np.float64)
