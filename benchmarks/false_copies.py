"""Notes on copies that are none: honest recordings of one part on the trainer, each circuit, every pair of a class.

    .venv/bin/python -m benchmarks.false_copies [recordings a circuit]

And on copies that are: the same with noise as large as the record's own, cropped, scaled and at another rate.
"""

from __future__ import annotations

import sys

import numpy as np

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.grading.copies import same_recording
from tracebench.core.robust.noise import fast_noise


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 14
    pairs = false = copies = found = 0
    for code, source in SOURCES.items():
        scope = ScopeSettings(
            source.range_v, min(source.manoeuvres[0].duration_s, 2e6 / source.rate_hz), source.rate_hz
        )
        lanes = [next(iter(record(code, scope, seed).lanes.values())).samples for seed in range(count)]
        noted = [same_recording(a, b) for k, a in enumerate(lanes) for b in lanes[:k]]
        pairs, false = pairs + len(noted), false + sum(x is not None for x in noted)
        hidden = 0
        for k, lane in enumerate(lanes[:4]):
            rng = np.random.default_rng(k)
            noisy = lane + rng.normal(0, fast_noise(lane), lane.size)
            at = np.arange(0, lane.size - 1, 1.25)
            made = [
                (noisy, 1.0),
                (3.0 * noisy[lane.size // 5 :], 1.0),
                (np.interp(at, np.arange(lane.size), lane), 1.25),
            ]
            hidden += sum(same_recording(lane, other, rate) is not None for other, rate in made)
            copies += len(made)
        found += hidden
        told = sum(x is not None for x in noted)
        print(f"{code:26s} {told:3d} of {len(noted)} honest pairs noted, {hidden:2d} of 12 hidden copies", flush=True)
    print(f"{false} of {pairs} honest pairs noted ({100 * false / pairs:.2f} %), {found} of {copies} hidden copies")


if __name__ == "__main__":
    main()
