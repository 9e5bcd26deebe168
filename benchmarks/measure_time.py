"""Time to measure a throttle sweep of 1 and 10 million samples: python -m benchmarks.measure_time"""

from __future__ import annotations

import statistics
import time

import numpy as np

from tests.support.waves import Sweep
from tracebench.core.circuits import measure


def main() -> None:
    for millions in (1, 10):
        sweep = Sweep(rate_hz=millions * 1e6 / 27, noise_v=0.005, bits=12)
        capture = sweep.capture()
        samples = capture.lanes["signal"].samples
        took, limit = [], []
        for _ in range(5):
            begun = time.perf_counter()
            measure(capture, "throttle-position")
            took.append(time.perf_counter() - begun)
            begun = time.perf_counter()
            np.max(samples)
            limit.append(time.perf_counter() - begun)
        print(
            f"{capture.samples:>10,} samples: measure {statistics.median(took):.2f} s "
            f"(np.max {1000 * statistics.median(limit):.1f} ms)"
        )


if __name__ == "__main__":
    main()
