"""How far two markers agree beyond chance: Cohen's weighted kappa (J. Cohen, Psychological Bulletin 70, 1968)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np


def weighted_kappa(one: Sequence[int], other: Sequence[int], categories: int) -> float | None:
    """Of two rows of ordered categories 0 to `categories` - 1, quadratic weights. 1 is full agreement, 0 is chance.

    None where there is nothing to agree on: no pairs, or both gave one and the same category throughout. Raises
    ValueError for rows of different length or a category out of range.
    """
    if len(one) != len(other):
        raise ValueError("two markers' rows must be of the same length")
    if any(not 0 <= c < categories for c in (*one, *other)):
        raise ValueError(f"categories are 0 to {categories - 1}")
    seen = np.zeros((categories, categories))
    for a, b in zip(one, other, strict=True):
        seen[a, b] += 1
    total = seen.sum()
    places = np.arange(categories)
    weights = (places[:, None] - places[None, :]) ** 2
    chance = np.outer(seen.sum(axis=1), seen.sum(axis=0)) / total if total else seen
    expected = float((weights * chance).sum())
    return None if expected == 0 else 1 - float((weights * seen).sum()) / expected
