"""Robust noise and resolution of a row of samples."""

from __future__ import annotations

import numpy as np

from tracebench.core.capture import Samples

MAD_TO_SIGMA = 1.4826
"""1 / Phi^-1(3/4): scales the median absolute deviation of normal noise to its standard deviation."""

_MOST_FOR_RESOLUTION = 200_000


def robust_sigma(samples: Samples) -> float:
    """1.4826 x median absolute deviation from the median, in the samples' unit; 0 if empty."""
    if samples.size == 0:
        return 0.0
    return MAD_TO_SIGMA * float(np.median(np.abs(samples - np.median(samples))))


def detrended(samples: Samples) -> Samples:
    """Samples less their least-squares straight line; unchanged length, zero mean."""
    if samples.size < 3:
        return samples - samples.mean() if samples.size else samples
    x = np.linspace(-1.0, 1.0, samples.size)
    level = samples.mean()
    slope = float(x @ (samples - level)) / float(x @ x)
    return np.asarray(samples - level - slope * x)


def resolution(samples: Samples) -> float:
    """Smallest step between distinct values, in the samples' unit (one code of the recorder); 0 if constant.

    Looks at no more than 200,000 samples, taken evenly from the record, so time does not grow with length.
    Steps under a millionth of the swing are rounding of the file's text and are not steps.
    """
    stride = max(1, samples.size // _MOST_FOR_RESOLUTION)
    values = np.unique(samples[::stride])
    steps = np.diff(values)
    if steps.size == 0:
        return 0.0
    steps = steps[steps > 1e-6 * (values[-1] - values[0])]
    return float(steps.min()) if steps.size else 0.0


def distinct_levels(samples: Samples) -> int:
    """How many codes the swing of the samples covers, at the resolution found; 1 if constant."""
    step = resolution(samples)
    return 1 if step == 0 else round(float(np.ptp(samples)) / step) + 1
