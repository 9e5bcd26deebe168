"""Min/max envelopes of a row of samples, and the pyramid that serves any zoom without missing an extreme."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

BASE_FACTOR = 64
STEP_FACTOR = 8
"""Kept levels hold one bin for 64, 512, 4096, ... samples: a thirtieth of the raw size in all."""

Row = NDArray[Any]


def envelope(low: Row, high: Row, factor: int) -> tuple[Row, Row]:
    """Smallest of `low` and largest of `high` in each run of `factor`, shape (ceil(n / factor),), dtype kept."""
    if factor == 1 or low.size == 0:
        return low, high
    whole = low.size // factor * factor
    least, most = low[:whole].reshape(-1, factor).min(axis=1), high[:whole].reshape(-1, factor).max(axis=1)
    if whole < low.size:
        least, most = np.append(least, low[whole:].min()), np.append(most, high[whole:].max())
    return least, most


def pyramid(samples: Row) -> list[tuple[int, Row, Row]]:
    """Levels (factor, low, high) from factor 64 up by 8, until a level has no more than 512 bins."""
    levels: list[tuple[int, Row, Row]] = []
    low, high, factor = samples, samples, BASE_FACTOR
    step = BASE_FACTOR
    while samples.size > factor:
        low, high = envelope(low, high, step)
        levels.append((factor, low, high))
        if low.size <= 512:
            break
        step = STEP_FACTOR
        factor *= step
    return levels
