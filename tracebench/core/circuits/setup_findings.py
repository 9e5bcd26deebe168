"""Set-up findings that every circuit shares: what they are called, and the checks on bare lanes."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Finding
from tracebench.core.capture import Capture, Lane, Samples
from tracebench.core.circuits.circuit import FindingSpec
from tracebench.core.measure.noise import distinct_levels, resolution, robust_sigma
from tracebench.core.measure.series import runs

SETUP_FINDINGS = (
    FindingSpec("flat_line", "Flat line", "set-up"),
    FindingSpec("clipped", "Clipped by the range", "set-up"),
    FindingSpec("undersampled", "Sampled too slowly", "set-up"),
    FindingSpec("too_short", "Too short a record", "set-up"),
    FindingSpec("missing_phase", "A needed phase is missing", "set-up"),
    FindingSpec("reversed_polarity", "Polarity reversed", "set-up"),
    FindingSpec("scale_suspect", "Scale factor suspect", "set-up"),
    FindingSpec("noisy", "Noise hides the answer", "set-up"),
    FindingSpec("over_filtered", "Filtered too hard", "set-up"),
    FindingSpec("low_range_use", "Range far too large", "set-up"),
    FindingSpec("probe_slip", "Probe slipped", "set-up"),
    FindingSpec("sweep_too_fast", "Sweep too fast", "set-up"),
    FindingSpec("lanes_swapped", "Lanes swapped", "set-up"),
)

FEWEST_LEVELS = 32
FEWEST_SAMPLES = 10
_FACTORS = (10.0, 100.0, 1000.0, 0.1, 0.01, 0.001)


def whole(capture: Capture, code: str, text: str, lane: str | None = None, hides: bool = False) -> Finding:
    """A set-up finding that speaks of the whole record."""
    end = capture.start_s + capture.duration_s
    return Finding(code, "set-up", capture.start_s, end, text, lane=lane, hides=hides)


def scale_factor(lane: Lane, top_at_least: float, top_at_most: float) -> float | None:
    """The factor of 10, 100, 1000 or an inverse by which a lane is off; None if its size is possible.

    The size is the 99.5th percentile of the magnitude. It is possible from `top_at_least` / 2.5 to
    `top_at_most` x 1.5, so that a genuine level fault is not mistaken for a wrong probe setting.
    """
    stride = max(1, lane.samples.size // 200_000)
    top = float(np.percentile(np.abs(lane.samples[::stride]), 99.5))
    if top_at_least / 2.5 <= top <= 1.5 * top_at_most or top == 0:
        return None
    for factor in _FACTORS:
        if top_at_least <= top / factor <= top_at_most:
            return factor
    return None


def low_range_use(capture: Capture, lane: Lane, hides_above: float) -> Finding | None:
    """Fewer than 32 codes across the swing; hides the answer when one code exceeds `hides_above`."""
    levels = distinct_levels(lane.samples)
    if levels >= FEWEST_LEVELS or levels < 2:
        return None
    step = resolution(lane.samples)
    return whole(
        capture,
        "low_range_use",
        f"the swing covers only {levels} steps of {1000 * step:.3g} mV; choose a smaller range",
        lane.name,
        hides=step > hides_above,
    )


def clipped_stretches(samples: Samples, quiet_sigma: float) -> list[tuple[int, int]]:
    """Runs that rest on the highest or lowest value of the record while noise stirs the rest of it.

    A range rail shows as a run of identical extreme values where the noise (`quiet_sigma`, seen elsewhere)
    would move every sample by more than a code. A record without noise cannot tell a rail from a rest,
    so nothing is claimed for it.
    """
    step = resolution(samples)
    if step == 0 or quiet_sigma < 0.8 * step:
        return []
    out: list[tuple[int, int]] = []
    for extreme in (float(samples.max()), float(samples.min())):
        shortest = max(3, FEWEST_SAMPLES)
        out += [(a, b) for a, b in runs(np.abs(samples - extreme) < 0.5 * step) if b - a >= shortest]
    return sorted(out)


def is_flat(samples: Samples, smallest_swing: float) -> bool:
    """True if the lane carries no more than noise and offset."""
    stride = max(1, samples.size // 200_000)
    thin = samples[::stride]
    swing = float(np.percentile(thin, 99.0) - np.percentile(thin, 1.0))
    return bool(swing < max(smallest_swing, 6 * robust_sigma(np.diff(thin)) / np.sqrt(2.0)))
