"""Agreement of two markers: Cohen's kappa with quadratic weights (J. Cohen, Psychological Bulletin 70, 1968)."""

from __future__ import annotations

import numpy as np


def weighted_kappa(first: list[float], second: list[float]) -> float:
    """1 less the mean squared difference over what it would be if marks met by chance; 1 is full agreement."""
    a, b = np.asarray(first), np.asarray(second)
    observed = np.mean((a - b) ** 2)
    by_chance = np.mean((a[:, None] - b[None, :]) ** 2)
    return float(1 - observed / by_chance)
