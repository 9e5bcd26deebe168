"""Robust noise of a row of samples."""

from __future__ import annotations

import numpy as np

from tracebench.core.robust.fits import line
from tracebench.core.robust.median import median, percentile_span
from tracebench.core.samples import Samples

_RUN = 1024
EVERY = slice(None)
ENOUGH = 16_384
PLENTY = 1 << 18
"""Samples that tell a noise to about a hundredth, and to a fifth of that where it is answered."""

MAD_TO_SIGMA = 1.4826
"""1 / Phi^-1(3/4): scales the median absolute deviation of normal noise to its standard deviation."""

_FEWEST_BETWEEN = 40

NOT_TOLD_APART = 0.4
"""Part of a stretch's own scatter from which its noise, as fast differences show it, may be the signal itself."""


def grouped_median(samples: Samples, step: float) -> float:
    """Median of samples that stand for codes `step` wide: interpolated inside the middle code.

    Where noise stirs only a few codes the plain median sticks to one of them; the interpolated median of
    grouped data (a textbook formula) does not. Equal samples give their own value.
    """
    middle = median(samples)
    if step == 0:
        return middle
    # A quarter of a step tells a code from its neighbours, and from a middle that lies between two of them.
    below = np.count_nonzero(samples < middle - 0.25 * step)
    within = np.count_nonzero(np.abs(samples - middle) <= 0.25 * step)
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
    return MAD_TO_SIGMA * grouped_median(np.abs(samples - median(samples)), step)


def sample_noise(samples: Samples, step: float = 0.0) -> float:
    """Sigma of the noise from sample to sample, whatever slope it rides on: second differences over sqrt(6).

    With the recorder's `step` given they are taken as grouped data. Looks at no more than about 16,000 samples, in
    runs taken evenly from the record: that many know it to a hundredth.
    """
    second = [np.diff(part, 2) for part in runs_of(samples)]
    return robust_sigma(np.concatenate(second), step) / np.sqrt(6.0) if samples.size > 3 else 0.0


def runs_of(samples: Samples) -> list[Samples]:
    """Runs of 1,024 samples taken evenly from a row, some 16,000 samples in all; the whole of a shorter one."""
    starts = range(0, samples.size, _RUN * max(1, -(-samples.size // ENOUGH)))
    return [samples[start : start + _RUN] for start in starts]


def noise_between(values: Samples, expected: float) -> float:
    """Sigma of the noise from value to value of a row of means or medians, where `expected` holds for white noise.

    What a recorder's filter, held or interpolated samples leave alike does not average out as white noise does, and
    then the values scatter by more. Taken where their second differences over one and over two values agree, so that
    it is noise and no course; else `expected` stays.
    """
    if values.size < _FEWEST_BETWEEN:
        return expected
    near = robust_sigma(np.diff(values, 2)) / np.sqrt(6.0)
    far = robust_sigma(values[:-4] - 2 * values[2:-2] + values[4:]) / np.sqrt(6.0)
    # Three times what second differences know of a sigma: about 1.5 over the root of their number.
    clearly = 1.0 + 4.5 / np.sqrt(values.size)
    return near if near > clearly * expected and far < 1.25 * near else expected


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
        return percentile_span(samples, low, high), float(np.hypot(0.5 * noise, drawn))
    # Codes are spread over their width first, or a percentile sticks to one of them.
    samples = samples + rng.uniform(-0.5 * step, 0.5 * step, samples.size)
    added = rng.standard_normal(samples.size) * noise
    shares = np.array([0.0, 0.5, 1.0, 1.5])
    widths = [percentile_span(samples + np.sqrt(x) * added, low, high) for x in shares]
    without = max(0.0, float(np.polyval(np.polyfit(shares, widths, 2), -1.0)))
    # What the parabola leaves depends on the shape of the crest, the more the fewer samples lie beyond the percentile:
    # six tenths of the noise at the 1st, a fifth at the 5th, over sines, triangles, ramps and rectified waves.
    return without, float(np.hypot(0.6 * max(low, 0.25) ** -0.6 * noise, drawn))


def fast_noise(samples: Samples) -> float:
    """Sigma of white noise under a signal that moves from sample to sample: fourth differences over sqrt(70)."""
    fourth = np.concatenate([np.diff(part, 4) for part in runs_of(samples)])
    return robust_sigma(fourth) / np.sqrt(70.0) if samples.size > 5 else 0.0


LAGS = 6
"""Neighbours that a recorder's own filter, interpolation or a held value makes alike."""

MOST_FOR_CORRELATION = 1 << 16

_LOCAL = 48
"""Samples within which a lane's slow course, hum included, is taken for a straight level."""


def correlation(residuals: Samples) -> float:
    """How many times the mean of `residuals` scatters what independent ones of the same size would; at least 1.

    The square root of 1 + 2 (r1 + r2 + ...) of their first autocorrelations, up to the first that is no more than
    chance, over at most 6 neighbours; hum and drift are slower and are left to whoever calls. Looks at no more than
    about 65,000 samples.
    """
    part = residuals[:MOST_FOR_CORRELATION]
    blocks = part.size // _LOCAL
    if blocks > 1:
        local = part[: blocks * _LOCAL].reshape(blocks, _LOCAL)
        local = local - local.mean(axis=1, keepdims=True)
    elif part.size >= 3 * LAGS:
        local = (part - part.mean())[None, :]
    else:
        return 1.0
    # Strays are no noise: three spreads are as far as one counts.
    sigma = MAD_TO_SIGMA * median(np.abs(local))
    local = np.clip(local, -3 * sigma, 3 * sigma) if sigma else local
    power = float(np.mean(local**2))
    if power == 0:
        return 1.0
    chance = 2.0 / np.sqrt(local.size)
    total = 1.0
    for lag in range(1, LAGS + 1):
        # The mean that was taken off pulls every figure down by one part in the block's length.
        alike = float(np.mean(local[:, lag:] * local[:, :-lag])) / power + 1.0 / local.shape[1]
        if alike <= chance:
            break
        total += 2 * alike
    return float(np.sqrt(total))


def detrended(samples: Samples, some: slice = EVERY) -> Samples:
    """Samples less the least-squares straight line of all of them, zero mean in all; with `some` only those."""
    if samples.size < 3:
        return samples - samples.mean() if samples.size else samples
    slope, offset = line(samples)
    return np.asarray(samples[some] - (offset + slope * np.arange(*some.indices(samples.size))))
