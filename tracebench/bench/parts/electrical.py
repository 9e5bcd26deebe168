"""What battery and alternator of the engine run feed: supply, reference and ground at a plug, and charging itself."""

from __future__ import annotations

import numpy as np

from tracebench.bench.parts.engine_sensors import RUNS_RPM
from tracebench.bench.source import Volts, at
from tracebench.bench.vehicle.engine import Run

POLE_PAIRS = 6
RIPPLE_V = 0.75
"""Ripple at the sense wire for a unit of the rectified wave; the battery takes up the rest."""


def charging(result: Run, instants: Volts) -> Volts:
    """1 at instants at which the machine turns fast enough to charge, else 0."""
    return np.asarray(at((result.rpm > RUNS_RPM).astype(float), instants) > 0, dtype=np.float64)
