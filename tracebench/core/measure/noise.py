"""Robust noise and resolution of a row of samples."""

from __future__ import annotations

import bottleneck as bn
import numpy as np

from tracebench.core.capture import Samples

MAD_TO_SIGMA = 1.4826
"""1 / Phi^-1(3/4): scales the median absolute deviation of normal noise to its standard deviation."""

NOT_TOLD_APART = 0.4
"""Part of a stretch's own scatter from which its noise, as fast differences show it, may be the signal itself."""

_MOST_FOR_RESOLUTION = 200_000


def grouped_median(samples: Samples, step: float) -> float:
    """Median of samples that stand for codes `step` wide: interpolated inside the middle code.

    Where noise stirs only a few codes the plain median sticks to one of them; the interpolated median of
    grouped data (a textbook formula) does not. Equal samples give their own value.
    """
    middle = float(bn.median(samples))
    if step == 0:
        return middle
    below = int((samples < middle - 0.5 * step).sum())
    within = int((np.abs(samples - middle) <= 0.5 * step).sum())
    # With nearly all samples in one code the others are strays, not neighbours.
    if within == 0 or within > 0.9 * samples.size:
        return middle
    return middle - 0.5 * step + step * (samples.size / 2 - below) / within


def robust_sigma(samples: Samples, step: float = 0.0) -> float:
    """1.4826 x median absolute deviation from the median, in the samples' unit; 0 if empty.

    With the recorder's `step` given, deviations are taken as grouped data: where noise stirs only a code or two
    the plain figure jumps between nothing and a whole code.
    """
    if samples.size == 0:
        return 0.0
    return MAD_TO_SIGMA * grouped_median(np.abs(samples - bn.median(samples)), step)


def sample_noise(samples: Samples, step: float = 0.0) -> float:
    """Sigma of the noise from sample to sample, whatever slope it rides on: second differences over sqrt(6).

    With the recorder's `step` given they are taken as grouped data. Looks at no more than about 200,000 samples, in
    runs taken evenly from the record.
    """
    run = 4096
    starts = range(0, samples.size, run * max(1, samples.size // 200_000))
    second = [np.diff(samples[start : start + run], 2) for start in starts]
    return robust_sigma(np.concatenate(second), step) / np.sqrt(6.0) if samples.size > 3 else 0.0


def percentile_range(samples: Samples, low: float, high: float, step: float) -> tuple[float, float]:
    """Range from the `low`-th to the `high`-th percentile as it would be without noise, and its uncertainty.

    `step` is the width of a code of the recorder, in the samples' unit, 0 for none.
    Noise widens such a range. Noise as large as the record's own is added by halves and wholes, and what that does is
    carried back to none by a parabola (simulation extrapolation: Cook and Stefanski, J. Am. Stat. Assoc. 89, 1994).
    """
    rng = np.random.default_rng(1)
    noise = float(np.hypot(fast_noise(samples), step / np.sqrt(12.0)))
    drawn = 2.1 * float(np.std(samples)) / np.sqrt(samples.size)
    if noise > NOT_TOLD_APART * float(np.std(samples)):
        # A few samples a wave look like noise: the two cannot be told apart, and all of it stays.
        return float(np.subtract(*np.percentile(samples, (high, low)))), float(np.hypot(0.5 * noise, drawn))
    # Codes are spread over their width first, or a percentile sticks to one of them.
    samples = samples + rng.uniform(-0.5 * step, 0.5 * step, samples.size)
    added = rng.standard_normal(samples.size) * noise
    shares = np.array([0.0, 0.5, 1.0, 1.5])
    widths = [float(np.subtract(*np.percentile(samples + np.sqrt(x) * added, (high, low)))) for x in shares]
    without = max(0.0, float(np.polyval(np.polyfit(shares, widths, 2), -1.0)))
    # What the parabola leaves depends on the shape of the crest, the more the fewer samples lie beyond the percentile:
    # six tenths of the noise at the 1st, a fifth at the 5th, over sines, triangles, ramps and rectified waves.
    return without, float(np.hypot(0.6 * max(low, 0.25) ** -0.6 * noise, drawn))


def fast_noise(samples: Samples) -> float:
    """Sigma of white noise under a signal that moves from sample to sample: fourth differences over sqrt(70)."""
    return robust_sigma(np.diff(samples, 4)) / np.sqrt(70.0) if samples.size > 5 else 0.0


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
