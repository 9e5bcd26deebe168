"""Sound recordings of every circuit that cannot carry it: how many are called faulty?

    .venv/bin/python -m benchmarks.disturbed_sound

Each is thinned out, cut off by the ends of the range on its main lane, cut in length, and put under mains hum; what is
called faulty is listed with its reasons. None should be: at the most nothing can be told of it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from tests.support.setup_changes import sound
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.errors import TraceBenchError
from tracebench.core.samples import Samples


def each_lane(capture: Capture, kept: slice, by: int = 1) -> Capture:
    lanes = {n: replace(x, samples=x.samples[kept]) for n, x in capture.lanes.items()}
    start = capture.start_s + (kept.start or 0) * capture.interval_s
    return replace(capture, lanes=lanes, interval_s=by * capture.interval_s, start_s=start)


def with_main(capture: Capture, code: str, samples: Samples) -> Capture:
    name = CIRCUITS[code].main_lane(capture.lanes)
    return replace(capture, lanes={**capture.lanes, name: replace(capture.lanes[name], samples=samples)})


def disturbed(code: str) -> Iterator[tuple[str, Capture]]:
    """How, and the capture."""
    capture = sound(code)
    samples = capture.lanes[CIRCUITS[code].main_lane(capture.lanes)].samples
    low, high = float(samples.min()), float(samples.max())
    for by in (2, 5, 10, 20, 50, 100, 200, 500):
        if capture.samples // by >= 100:
            yield f"one of {by}", each_lane(capture, slice(None, None, by), by)
    for share in (0.95, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4):
        yield f"range over {share}", with_main(capture, code, np.maximum(samples, high - share * (high - low)))
        yield f"range under {share}", with_main(capture, code, np.minimum(samples, low + share * (high - low)))
    for first, last in ((0, 2), (0, 4), (0, 8), (1, 2), (1, 4), (3, 4), (2, 3), (1, 8)):
        kept = slice(capture.samples * first // 8, capture.samples * last // 8)
        if last > first and kept.stop - kept.start >= 100:
            yield f"eighths {first} to {last}", each_lane(capture, kept)
    times = capture.interval_s * np.arange(capture.samples)
    for percent in (3, 5, 8, 10, 15):
        hum = percent / 100 * (high - low) * np.sin(2 * np.pi * 50 * times + 1.0)
        yield f"hum of {percent} %", with_main(capture, code, samples + hum)


def main() -> None:
    count, faulty = 0, Counter[str]()
    for code in CIRCUITS:
        for how, capture in disturbed(code):
            count += 1
            try:
                answer = measure(capture, code)
            except TraceBenchError:
                continue
            if answer.call == "faulty":
                faulty[how.split()[0]] += 1
                print(f"{code:24s} {how:16s} {', '.join(answer.because)}", flush=True)
    told = ", ".join(f"{kind} {n}" for kind, n in faulty.most_common())
    print(f"{faulty.total()} of {count} called faulty ({told})")


if __name__ == "__main__":
    main()
