"""A workshop meter on the same wire as the scope: slow figures of a lane, as it would have shown them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

UPDATE_S = 0.4
"""Seconds between two figures of a hand meter, each the mean since the one before (from memory)."""

COUNTS, RANGES_V = 2000, (0.2, 2.0, 20.0, 200.0)
"""Three and a half digits (from memory). The range stays what the whole sweep needs, so that digits do not jump."""

MOST_FIGURES = 200


def meter_figures(samples: NDArray[np.float64], interval_s: float, start_s: float) -> list[tuple[float, float]]:
    """Instant (s) and volts of each figure; `samples` has shape (n,). Empty for a record under two updates.

    A record longer than `MOST_FIGURES` updates is read at every second, third ... figure.
    """
    each = max(1, round(UPDATE_S / interval_s))
    count = samples.size // each
    if count < 2:
        return []
    means = samples[: count * each].reshape(count, each).mean(axis=1)
    top = float(np.max(np.abs(means)))
    digit = next((r for r in RANGES_V if top < r), RANGES_V[-1]) / COUNTS
    step = -(-count // MOST_FIGURES)
    places = range(step - 1, count, step)
    return [
        (round(start_s + (k + 1) * each * interval_s, 3), round(round(means[k] / digit) * digit, 6)) for k in places
    ]
