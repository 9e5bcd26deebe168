"""What real recorders and their files do to a drawn capture: coarse codes, rows and cells that are missing, rounded
stamps.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from tracebench.core.capture import Capture, capture_from_stamps
from tracebench.core.samples import Samples


def each(capture: Capture, change: Callable[[Samples], Samples]) -> Capture:
    return replace(capture, lanes={n: replace(x, samples=change(x.samples)) for n, x in capture.lanes.items()})


def stamps(capture: Capture) -> Samples:
    return capture.start_s + capture.interval_s * np.arange(capture.samples)


def coarse_codes(capture: Capture, rng: np.random.Generator) -> Capture:
    """Eight bits over a range of which the lane uses a half to all."""

    def read(samples: Samples) -> Samples:
        step = 2 * float(np.abs(samples).max()) * rng.uniform(1.05, 2.2) / 256
        return np.round(samples / step) * step

    return each(capture, read)


def uneven_rows(capture: Capture, rng: np.random.Generator) -> Capture:
    """One row in twelve is missing."""
    kept = rng.random(capture.samples) > 0.08
    lanes = {n: replace(x, samples=x.samples[kept]) for n, x in capture.lanes.items()}
    return capture_from_stamps(stamps(capture)[kept], lanes)


def blank_cells(capture: Capture, rng: np.random.Generator) -> Capture:
    """Eight bits, and one cell in twenty of each lane empty."""
    coarse = coarse_codes(capture, rng)
    lanes = {
        n: replace(x, samples=np.where(rng.random(x.samples.size) < 0.05, np.nan, x.samples))
        for n, x in coarse.lanes.items()
    }
    return capture_from_stamps(stamps(capture), lanes)


def uneven_codes(capture: Capture, rng: np.random.Generator) -> Capture:
    """Eight bits, and stamps so uneven that what lies between two rows lies between two codes."""
    return uneven_rows(coarse_codes(capture, rng), rng)


def rounded_stamps(capture: Capture, rng: np.random.Generator) -> Capture:
    """Stamps of too few digits, so that two to five rows share one."""
    digit = capture.interval_s * rng.uniform(2, 5)
    return capture_from_stamps(np.floor(stamps(capture) / digit) * digit, capture.lanes)


RECORDERS: dict[str, Callable[[Capture, np.random.Generator], Capture]] = {
    "as drawn": lambda capture, _: capture,
    "coarse codes": coarse_codes,
    "uneven rows": uneven_rows,
    "rounded stamps": rounded_stamps,
    "blank cells": blank_cells,
    "uneven codes": uneven_codes,
}
