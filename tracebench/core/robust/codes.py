"""Codes of the recorder, as a row of samples shows them, and what they leave in doubt."""

from __future__ import annotations

import math

import numpy as np

from tracebench.core.samples import Samples

_MOST_FOR_RESOLUTION = 16_384

STIRS = 0.75
"""Noise, in steps, from which codes show it: less than that sits in two codes by turns, or in one."""


def resolution(samples: Samples) -> float:
    """Smallest step between distinct values, in the samples' unit (one code of the recorder); 0 if constant."""
    return steps_of(samples)[0]


def steps_of(samples: Samples) -> tuple[float, int]:
    """Smallest step between distinct values, in the samples' unit, 0 if constant; and how many values there are.

    Looks at no more than about 16,000 samples, taken evenly from the record, so time does not grow with length.
    Steps under a millionth of the swing are rounding of the file's text and are not steps.
    """
    stride = max(1, samples.size // _MOST_FOR_RESOLUTION)
    values = np.sort(samples[::stride])
    if values.size < 2:
        return 0.0, values.size
    steps = values[1:] - values[:-1]
    steps = steps[steps > 1e-6 * (values[-1] - values[0])]
    return (float(steps.min()), steps.size + 1) if steps.size else (0.0, 1)


def distinct_levels(samples: Samples, step: float | None = None) -> int:
    """How many codes the swing of the samples covers, `step` wide or at the resolution found; 1 if constant."""
    step = resolution(samples) if step is None else step
    return 1 if step == 0 else round(float(np.ptp(samples)) / step) + 1


def code_doubt(step: float, sigma: float) -> float:
    """One standard uncertainty of a level by the recorder's step, which noise of `sigma` stirs; in the samples' unit.

    Without noise step / sqrt(12) (JCGM 100, 4.3.7); what normal noise leaves of it is the first term of the error's
    Fourier series, exp(-2 pi^2 (sigma / step)^2) (Widrow and Kollar, Quantization Noise, 2008, from memory).
    """
    if step == 0:
        return 0.0
    # Under three quarters of a step the codes cannot tell how much noise there is, only that there is little.
    stirred = math.exp(-2.0 * (math.pi * sigma / step) ** 2) if sigma > STIRS * step else 1.0
    return step / math.sqrt(12.0) * stirred
