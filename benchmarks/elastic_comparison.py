"""Banded dynamic time warping beside dtaidistance (its C library), one query against 200 rows, one thread.

    .venv/bin/python -m benchmarks.elastic_comparison

Medians of runs that take turns. Goals (a pair): at most 0.30 of the library's time at 1,000 samples and 0.16 at
4,000, equal within 1e-9; the nearest of 200 at most 0.25 of its own search with `max_dist`.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from statistics import median

import numpy as np
from dtaidistance import dtw

from tracebench.core.samples import Samples
from tracebench.core.shape import elastic

ROWS = 200
WINDOW = 0.05


def walks(length: int, seed: int = 7) -> Samples:
    """Rows that wander as traces do, each to mean 0 and standard deviation 1."""
    rows = np.cumsum(np.random.default_rng(seed).normal(size=(ROWS + 1, length)), axis=1)
    out: Samples = (rows - rows.mean(axis=1, keepdims=True)) / rows.std(axis=1, keepdims=True)
    return out


def timed(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def library_nearest(query: Samples, rows: Samples, window: int) -> float:
    best = np.inf
    for row in rows:
        best = min(best, dtw.distance_fast(query, row, window=window, max_dist=best))
    return best


def beside(length: int, goal: float) -> None:
    query, *rest = walks(length)
    rows = np.array(rest)
    radius = round(WINDOW * length)
    window = radius + 1  # the library counts shifts smaller than its window
    found: dict[str, Samples] = {}

    def ours() -> None:
        found["ours"] = elastic.distances(query, rows, radius)

    def theirs() -> None:
        found["theirs"] = np.array([dtw.distance_fast(query, row, window=window) for row in rows])

    def near() -> None:
        found["near"] = elastic.nearest(query, rows, radius)[1]

    def their_near() -> None:
        library_nearest(query, rows, window)

    ways = (ours, theirs, near, their_near)
    for way in ways:
        way()
    turns = [[timed(way) for way in ways] for _ in range(5)]
    took = [median(times) for times in zip(*turns, strict=True)]
    apart = float(np.abs(found["ours"] - found["theirs"]).max())
    same = abs(float(found["near"][0]) - float(found["theirs"].min())) < 1e-9
    print(
        f"{length} samples: {1e3 * took[0] / ROWS:.3f} ms a pair, library {1e3 * took[1] / ROWS:.3f}, "
        f"ratio {took[0] / took[1]:.2f} (goal {goal}); largest difference {apart:.1e}"
    )
    print(
        f"  nearest of {ROWS}: {1e3 * took[2]:.1f} ms, library {1e3 * took[3]:.1f}, "
        f"ratio {took[2] / took[3]:.2f} (goal 0.25); the same: {same}"
    )


def main() -> None:
    for length, goal in ((1000, 0.30), (4000, 0.16)):
        beside(length, goal)


if __name__ == "__main__":
    main()
