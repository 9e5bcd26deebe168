"""One recording of the trainer: a part, a movement and a scope make a capture. Same seed, same samples."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tracebench.bench.circuits.throttle_position import Potentiometer
from tracebench.bench.hand import MOVEMENT_HZ, SweepPlan, followed, swept
from tracebench.bench.scope import ScopeSettings, digitised
from tracebench.core.capture import Capture, Lane, capture_from_stamps

LANES = ("signal", "reference", "ground")


def record(
    part: Potentiometer,
    scope: ScopeSettings,
    movement: SweepPlan | Sequence[tuple[float, float]],
    seed: int,
    lanes: Sequence[str] = LANES,
) -> Capture:
    """Record a sweep; `movement` is a plan, or points (seconds, travel 0-1) of a real hand. Raises BadOption."""
    scope = scope.checked()
    rng = np.random.default_rng(seed)
    count = round(scope.duration_s * scope.rate_hz)
    times = np.arange(count) / scope.rate_hz
    travel = (
        swept(movement, scope.duration_s, rng)
        if isinstance(movement, SweepPlan)
        else followed(movement, scope.duration_s)
    )
    # The part is worked out finer than the scope samples, so that a gouge narrower than a sample is not lost.
    fine = max(1, round(2000.0 / scope.rate_hz))
    fine_times = np.arange(count * fine) / (scope.rate_hz * fine)
    fine_travel = np.interp(fine_times, np.arange(travel.size) / MOVEMENT_HZ, travel)
    pins = part.volts(fine_times, fine_travel, rng)
    seen = {name: Lane(name, digitised(scope, pins[name][::fine], rng), "V", f"trainer {name}") for name in lanes}
    return capture_from_stamps(times, seen)
