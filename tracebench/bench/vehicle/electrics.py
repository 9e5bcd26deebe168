"""Battery and alternator that supply every part of the vehicle, whichever engine turns them, and what controllers
make of it for their sensors.

A battery with open-circuit voltage and internal resistance; an alternator whose most depends on its speed, with a
regulator that holds a set voltage at its sense wire as long as it can; a linear regulator for the sensors' reference.
Figures are invented.
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
    # Not before it is needed: the compiler takes half a second to load.
    from tracebench.bench.vehicle.supply_steps import battery_volts  # noqa: PLC0415

    s = supply
    wanted_v = set_v if set_v is not None else np.full(rpm.size, s.set_v)
    loads = load_a if load_a is not None else np.full(rpm.size, s.load_a)
    # Cuts in at some 1,000 turns of its own shaft a minute and saturates, as claw-pole machines do.
    able = s.most_a * (1 - np.exp(-np.maximum(0.0, rpm * s.pulley - 1000) / 1800)) * (key > 0)
    drawn = np.where(key > 0, loads, 0.5) + starter * s.starter_a * np.maximum(0.55, 1 - rpm / 700)
    return battery_volts(s.rest_v, s.battery_ohm, able, drawn, starter, wanted_v)


def at_rest(supply: Supply, seconds: float) -> Course:
    """Volts at the posts with the key on and the engine at rest, one value a step and one more than fits."""
    still = np.zeros(round(seconds / STEP_S) + 2)
    return supplied(supply, still, still, still + 1)


@dataclass(frozen=True, slots=True)
class Regulator:
    """A controller's output for its sensors: it hardly follows its supply, until that is too low to hold it up."""

    output_v: float = 5.0
    """At a supply of 12.5 V."""
    line_v_per_v: float = 0.0015
    headroom_v: float = 0.6
    """What it needs over its output, with what the feed to the controller loses."""

    def held(self, battery_v: Course) -> Course:
        """Reference in volts for volts at the battery's posts."""
        wanted = self.output_v + self.line_v_per_v * (battery_v - 12.5)
        return np.clip(wanted, 0.0, np.maximum(battery_v - self.headroom_v, 0.0))


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
