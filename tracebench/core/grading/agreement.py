"""How far two markers agree: Cohen's weighted kappa over ordered levels of a criterion's points.

J. Cohen, "Weighted kappa: nominal scale agreement with provision for scaled disagreement or partial credit",
Psychological Bulletin 70 (1968), 213-220.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

LEVELS = 5
"""Shares of a criterion's points that are told apart: none, a quarter, half, three quarters, all."""

LEAST_PAIRS = 10
"""Fewer decisions say nothing of how two people agree (common practice, no published source)."""


@dataclass(frozen=True, slots=True)
class Agreement:
    """`kappa` is None where there are too few decisions, or where nothing was left to chance to disagree on."""

    pairs: int
    same: int
    kappa: float | None


def level(earned: float, points: float) -> int:
    """The level, from 0, of so many of a criterion's points, of which there are more than none."""
    return min(LEVELS - 1, max(0, round((LEVELS - 1) * earned / points)))


def agreement(pairs: Sequence[tuple[int, int]]) -> Agreement:
    """Of two markers' levels for the same decisions."""
    kappa = weighted_kappa(pairs, LEVELS) if len(pairs) >= LEAST_PAIRS else None
    return Agreement(len(pairs), sum(a == b for a, b in pairs), kappa)


def weighted_kappa(pairs: Sequence[tuple[int, int]], levels: int) -> float | None:
    """Kappa with squared weights over `levels` ordered levels, None where chance alone would never disagree."""
    seen = np.zeros((levels, levels))
    for a, b in pairs:
        seen[a, b] += 1
    away = np.subtract.outer(np.arange(levels), np.arange(levels)) ** 2
    by_chance = np.outer(seen.sum(axis=1), seen.sum(axis=0)) / max(1, len(pairs))
    expected = float((away * by_chance).sum())
    return None if expected == 0 else 1.0 - float((away * seen).sum()) / expected
