"""Robust noise of a row of samples."""

from __future__ import annotations

import math

import numpy as np

from tracebench.core.robust.codes import code_doubt
from tracebench.core.robust.fits import line
from tracebench.core.robust.grouped import grouped_median
from tracebench.core.robust.median import median, percentile_span
from tracebench.core.samples import Samples

_RUN = 1024
_SECOND = math.sqrt(6.0)
"""What second differences of white noise scatter by, in its own sigmas."""

EVERY = slice(None)
ENOUGH = 16_384
_FOR_RANGE = 1 << 17
PLENTY = 1 << 18
"""Samples that tell a noise to about a hundredth, and to a fifth of that where it is answered."""

MAD_TO_SIGMA = 1.4826
"""1 / Phi^-1(3/4): scales the median absolute deviation of normal noise to its standard deviation."""

FAR_OFF = 4.0
"""Sigma beyond which a second difference is no noise but a corner."""

_FEWEST_BETWEEN = 40
_FEWEST_WITHIN = 50

NOT_TOLD_APART = 0.4
"""Part of a stretch's own scatter from which its noise, as fast differences show it, may be the signal itself."""


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
    return robust_sigma(differences(runs_of(samples), 2).ravel(), step) / _SECOND if samples.size > 3 else 0.0


def runs_of(samples: Samples, most: int = ENOUGH) -> Samples:
    """Runs of 1,024 samples taken evenly from a row, `most` in all, shape (runs, 1024); of a shorter row all of it."""
    if samples.size <= most:
        return samples[np.newaxis, :]
    count = most // _RUN
    apart = samples.size // count
    return samples[: count * apart].reshape(count, apart)[:, :_RUN]


def differences(rows: Samples, order: int) -> Samples:
    """Differences from sample to sample of each row, taken so many times over; shape (rows, n - order)."""
    for _ in range(order):
        rows = rows[:, 1:] - rows[:, :-1]
    return rows


def noise_within(samples: Samples) -> float:
    """Sigma from sample to sample of what does not rest on the highest or lowest value; 0 where too little is left."""
    low, high = float(samples.min()), float(samples.max())
    looked_at = runs_of(samples)
    inside = (looked_at > low) & (looked_at < high)
    second = differences(looked_at, 2)[inside[:, :-2] & inside[:, 1:-1] & inside[:, 2:]]
    return robust_sigma(second) / _SECOND if second.size >= _FEWEST_WITHIN else 0.0


def noise_between(values: Samples, expected: float) -> float:
    """Sigma of the noise from value to value of a row of means or medians, where `expected` holds for white noise.

    What a recorder's filter, held or interpolated samples leave alike does not average out as white noise does, and
    then the values scatter by more. Taken where their second differences over one and over two values agree, so that
    it is noise and no course; else `expected` stays.
    """
    if values.size < _FEWEST_BETWEEN:
        return expected
    near = _without_corners(values[:-2] - 2 * values[1:-1] + values[2:]) / _SECOND
    # Three times what second differences know of a sigma: about 1.5 over the root of their number.
    if near <= (1.0 + 4.5 / math.sqrt(values.size)) * expected:
        return expected
    far = _without_corners(values[:-4] - 2 * values[2:-2] + values[4:]) / _SECOND
    return near if far < 1.25 * near else expected


def _without_corners(bends: Samples) -> float:
    """Sigma of second differences but for the few large ones at the corners of flanks, which would widen it."""
    usual = robust_sigma(bends)
    return robust_sigma(bends[np.abs(bends) <= FAR_OFF * usual])


def percentile_range(samples: Samples, low: float, high: float, step: float) -> tuple[float, float]:
    """Range from the `low`-th to the `high`-th percentile as it would be without noise, and its uncertainty.

    `step` is the width of a code of the recorder, in the samples' unit, 0 for none.
    Noise widens such a range. Noise as large as the record's own is added by halves and wholes, and what that does is
    carried back to none by a parabola (simulation extrapolation: Cook and Stefanski, J. Am. Stat. Assoc. 89, 1994).
    Looks at no more than about 130,000 samples, in runs taken evenly from the record.
    """
    samples = runs_of(samples, _FOR_RANGE).ravel()
    rng = np.random.default_rng(1)
    white = min(fast_noise(samples), noise_floor(samples))
    noise = float(np.hypot(white, step / np.sqrt(12.0)))
    drawn = 2.1 * float(np.std(samples)) / np.sqrt(samples.size)
    # Where either crest lies in a code stays unknown, as far as noise, less the codes' own, does not stir them.
    codes = math.sqrt(2.0) * code_doubt(step, math.sqrt(max(0.0, white**2 - step**2 / 12.0)))
    if noise > NOT_TOLD_APART * float(np.std(samples)):
        # A few samples a wave look like noise: the two cannot be told apart, and all of it stays.
        return percentile_span(samples, low, high), math.hypot(0.5 * noise, codes, drawn)
    # Codes are spread over their width first, or a percentile sticks to one of them.
    samples = samples + rng.uniform(-0.5 * step, 0.5 * step, samples.size)
    added = rng.standard_normal(samples.size) * noise
    shares = np.array([0.0, 0.5, 1.0, 1.5])
    widths = [percentile_span(samples + np.sqrt(x) * added, low, high) for x in shares]
    without = max(0.0, float(np.polyval(np.polyfit(shares, widths, 2), -1.0)))
    # What the parabola leaves depends on the shape of the crest, the more the fewer samples lie beyond the percentile:
    # six tenths of the noise at the 1st, a fifth at the 5th, over sines, triangles, ramps and rectified waves.
    crest = 0.6 * max(low, 0.25) ** -0.6 * noise
    return without, math.hypot(crest, codes, drawn)


def fast_noise(samples: Samples) -> float:
    """Sigma of white noise under a signal that moves from sample to sample: fourth differences over sqrt(70)."""
    return robust_sigma(differences(runs_of(samples), 4).ravel()) / math.sqrt(70.0) if samples.size > 5 else 0.0


_FLOOR = 4096


def noise_floor(samples: Samples) -> float:
    """Sigma of white noise beside lines and slow courses: the median of the spectrum, as a wave with few samples a
    period moves from sample to sample as far as noise does and lies in few lines.

    The median of an exponential distribution is ln 2 of its mean (periodogram of white noise: Priestley, Spectral
    Analysis and Time Series, 1981, ch. 6). Looks at the first 4,096 samples.
    """
    part = samples[:_FLOOR]
    if part.size < 64:
        return math.inf
    window = np.hanning(part.size)
    power = np.abs(np.fft.rfft((part - part.mean()) * window))[2:] ** 2
    return float(np.sqrt(median(power) / math.log(2.0) / np.sum(window**2)))


LAGS = 6
"""Neighbours that a recorder's own filter, interpolation or a held value makes alike."""

_LOCAL = 48
"""Samples within which a lane's slow course, hum included, is taken for a straight level."""


def correlation(residuals: Samples) -> float:
    """How many times the mean of `residuals` scatters what independent ones of the same size would; at least 1.

    The square root of 1 + 2 (r1 + r2 + ...) of their first autocorrelations, up to the first that is no more than
    chance, over at most 6 neighbours; hum and drift are slower and are left to whoever calls. Looks at no more than
    about 16,000 samples, in short blocks taken evenly from the row.
    """
    blocks = residuals.size // _LOCAL
    if blocks > 1:
        local = residuals[: blocks * _LOCAL].reshape(blocks, _LOCAL)[:: max(1, blocks * _LOCAL // ENOUGH)]
    elif residuals.size >= 3 * LAGS:
        local = residuals[np.newaxis, :]
    else:
        return 1.0
    count, length = local.shape
    local = local - (local.sum(axis=1) / length)[:, np.newaxis]
    # Strays are no noise: three spreads are as far as one counts.
    most = 3 * MAD_TO_SIGMA * median(np.abs(local))
    local = np.minimum(np.maximum(local, -most), most) if most else local
    power = float(np.vdot(local, local)) / local.size
    if power == 0:
        return 1.0
    chance = 2.0 / math.sqrt(local.size)
    total = 1.0
    for lag in range(1, LAGS + 1):
        both = float(np.einsum("ij,ij->", local[:, lag:], local[:, :-lag])) / (count * (length - lag))
        # The mean that was taken off pulls every figure down by one part in the block's length.
        alike = both / power + 1.0 / length
        if alike <= chance:
            break
        total += 2 * alike
    return math.sqrt(total)


def detrended(samples: Samples, some: slice = EVERY) -> Samples:
    """Samples less the least-squares straight line of all of them, zero mean in all; with `some` only those."""
    if samples.size < 3:
        return samples - samples.mean() if samples.size else samples
    slope, offset = line(samples)
    return np.asarray(samples[some] - (offset + slope * np.arange(*some.indices(samples.size))))
