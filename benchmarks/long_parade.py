"""Measuring a minute of injector currents at 500,000 samples a second: python -m benchmarks.long_parade

30 million samples, four cylinders at idle, one bad pulse among some 1,600. Aim: under 6 s.
"""

from __future__ import annotations

import time

import numpy as np

from tests.support.pulses import Coil
from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits import measure

RATE, SECONDS, PITCH_S = 500_000, 60, 0.037
BAD = 1203


def main() -> None:
    starts = np.arange(0.01, SECONDS - 0.05, PITCH_S)
    samples = np.random.default_rng(1).normal(0, 0.006, RATE * SECONDS)
    sync = np.zeros(samples.size)
    window = np.arange(round(0.006 * RATE)) / RATE
    sound, weak = Coil().amperes(window, [0.0]), Coil(ohm=24.0).amperes(window, [0.0])
    for k, start in enumerate(starts):
        at = round(start * RATE)
        samples[at : at + window.size] += weak if k == BAD else sound
        if k % 4 == 0:
            sync[at - 100 : at + 500] = 5.0
    lanes = {"current": Lane("current", samples, "A"), "sync": Lane("sync", sync, "V")}
    capture = Capture(lanes, 1 / RATE)
    begun = time.perf_counter()
    answer = measure(capture, "injector-current-parade", options={"firing_order": "1-3-4-2"})
    took = time.perf_counter() - begun
    first = max(answer.events, key=lambda e: e.unusual)
    print(f"{samples.size / 1e6:.0f} M samples, {len(answer.events)} of {starts.size} pulses: {took:.2f} s")
    print(f"most unusual: number {first.number} (planted {BAD + 1}), by {first.by}, {first.unusual:.0f} spreads")


if __name__ == "__main__":
    main()
