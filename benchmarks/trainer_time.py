"""Time of one vehicle run of 20 s with 8 lanes at 100,000 samples a second: python -m benchmarks.trainer_time"""

from __future__ import annotations

import time

import numpy as np

from tracebench.bench.scope import ScopeSettings, digitised
from tracebench.bench.source import Order
from tracebench.bench.sources import SOURCES


def main() -> None:
    scope = ScopeSettings(range_v=10.0, duration_s=20.0, rate_hz=100_000)
    for turn in range(3):
        begun = time.perf_counter()
        order = Order(np.arange(2_000_000) / 1e5, manoeuvre="snap", rng=np.random.default_rng(1))
        pins = dict(SOURCES["airflow-voltage"].lanes(order))
        pins |= {f"map {n}": v for n, v in SOURCES["manifold-pressure"].lanes(order).items() if n != "throttle"}
        pins |= {f"crank {n}": v for n, v in SOURCES["crank-position"].lanes(order).items()}
        stored = {n: digitised(scope, v, order.rng) for n, v in pins.items()}
        took = time.perf_counter() - begun
        print(f"run {turn + 1}: {len(stored)} lanes, {sum(v.size for v in stored.values()):,} samples in {took:.2f} s")


if __name__ == "__main__":
    main()
