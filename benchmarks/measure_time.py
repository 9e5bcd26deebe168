"""Time to measure: a throttle sweep of 1 and 10 million samples, 200,000 samples of every circuit, and the processor
time of the whole command on 20,000: python -m benchmarks.measure_time"""

from __future__ import annotations

import math
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from tests.support.waves import Sweep
from tracebench.bench.scope import RATES_HZ, ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS, measure


def median_s(run: Callable[[], object], times: int = 5) -> float:
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        run()
        took.append(time.perf_counter() - begun)
    return statistics.median(took)


def sound(code: str, samples: int) -> Capture:
    """A sound recording of the trainer of about so many samples a lane, over the circuit's own manoeuvre."""
    made_by = SOURCES[code]
    manoeuvre = made_by.manoeuvre("idle") if code == "secondary-voltage" else made_by.manoeuvres[0]
    # Events keep their rate and are fewer; slow circuits keep their manoeuvre and are sampled to fit.
    events = code.startswith(("injector", "coil", "secondary", "crank"))
    near = min(RATES_HZ, key=lambda r: abs(math.log(r * manoeuvre.duration_s / samples)))
    rate = made_by.rate_hz if events else near
    seconds = samples / rate if events else manoeuvre.duration_s
    settings = ScopeSettings(made_by.range_v, seconds, rate, bits=12)
    return record(code, settings, 1, part={"fault": "none"}, manoeuvre=manoeuvre.key)


def command_s(code: str, folder: Path) -> float:
    """Processor time of `tracebench measure` on a text file of some 20,000 samples."""
    capture = sound(code, 20_000)
    path = folder / f"{code}.csv"
    lanes = list(capture.lanes.values())
    times = capture.start_s + np.arange(capture.samples) * capture.interval_s
    head = ",".join(["time (s)", *(f"{x.name} ({x.unit})" for x in lanes)])
    np.savetxt(path, np.column_stack([times, *(x.samples for x in lanes)]), "%.7f", ",", header=head, comments="")
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    command = [sys.executable, "-m", "tracebench.cli", "measure", "--circuit", code, str(path)]
    subprocess.run(command, check=True, capture_output=True)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> None:
    for millions in (1, 10):
        capture = Sweep(rate_hz=millions * 1e6 / 27, noise_v=0.005, bits=12).capture()
        samples = capture.lanes["signal"].samples
        took, limit = median_s(lambda c=capture: measure(c, "throttle-position")), median_s(lambda s=samples: np.max(s))
        print(f"{capture.samples:>10,} samples: measure {took:.2f} s, {took / limit:.0f} times np.max")
    with tempfile.TemporaryDirectory() as folder:
        for code in CIRCUITS:
            capture = sound(code, 200_000)
            took = median_s(lambda c=capture, k=code: measure(c, k)) * 200_000 / capture.samples
            command = command_s(code, Path(folder))
            print(f"{code:<26} {1000 * took:>5.0f} ms for 200,000 samples; the command {command:.2f} s processor time")


if __name__ == "__main__":
    main()
