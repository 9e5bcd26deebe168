"""What the throttle's steps share: the work in hand, and figures of its common practice (no published source)."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from tracebench.core.circuits import thinning
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.excursions import GRID_S, Excursion
from tracebench.core.samples import Samples

LONGEST_DROPOUT_S = Threshold(0.150, "s", "A fall that lasts longer is a level or a lost connection (from memory)")
DROPOUT_FLOOR_V = Threshold(0.060, "V", "Depth from which a fall is a dropout (from memory)")
SMALLEST_SWING_V = Threshold(0.25, "V", "A throttle that moves less was not moved")


@dataclass
class Sweep(Work):
    """A throttle capture being measured: `clean` is the signal with slips and excursions bridged."""

    reference_v: float = 5.0
    clean: Samples = field(default_factory=lambda: np.empty(0))
    excursions: list[Excursion] = field(default_factory=list)


def on_grid(work: Work, samples: Samples) -> tuple[Samples, float]:
    """Block medians of 2 ms and their interval: what a hand's movement is followed on."""
    grid = thinning.on_grid(work, samples, GRID_S)
    return grid.values, grid.interval_s
