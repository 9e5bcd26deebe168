"""State levels in the sense of IEEE Std 181-2011: histogram modes, and the level of a known stretch."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tracebench.core.robust.codes import code_doubt, resolution
from tracebench.core.robust.grouped import grouped_median, grouped_medians
from tracebench.core.robust.noise import ENOUGH, correlation, detrended, robust_sigma
from tracebench.core.samples import Samples

_BLOCKS = 16

_LOOKS = 3
"""So often the ends of a rest are taken off: it keeps an eighth at least."""

_LOOKED_AT = 8192
"""Samples, taken evenly, that show where a rest ends."""

_FOR_CORRELATION = 1 << 15
"""Samples in a row that show whether neighbours are alike."""

_OFF = 4.0
"""Deviations of eight medians from which another is no longer one of them."""


@dataclass(frozen=True, slots=True)
class Level:
    """A level and one standard uncertainty, both in the samples' unit."""

    value: float
    uncertainty: float


def _share_of_code(step: float, sigma: float) -> float:
    """Part of normal samples that fall into the code in their middle, its place in it being anywhere."""
    return step / (np.sqrt(2 * np.pi) * sigma) if sigma > step else 0.0


def rest_of(samples: Samples, code: float = 0.0) -> Samples:
    """A stretch without the ends on which it still, or already, moves; its middle at least.

    A hand sets off and stops so gently that no phase's border lies where it does. A sixteenth at an end belongs to the
    movement where its median lies off that of the middle half by more than noise, or hum there, would take it; what is
    left is looked at again.
    """
    step = code or (resolution(samples) if samples.size else 0.0)
    ends = _BLOCKS // 4
    for _ in range(_LOOKS):
        if samples.size < 4 * _BLOCKS:
            break
        part = samples.size // _BLOCKS
        stride = max(1, samples.size // _LOOKED_AT)
        middles = grouped_medians(samples[: _BLOCKS * part].reshape(_BLOCKS, part)[:, ::stride], step)
        inner = middles[ends:-ends]
        # A code that noise does not stir counts whole.
        off = np.abs(middles - np.median(inner)) > _OFF * float(np.std(inner, ddof=1)) + 0.25 * step
        first = next((k for k in range(ends, 0, -1) if off[k - 1]), 0)
        last = next((k for k in range(_BLOCKS - ends, _BLOCKS) if off[k]), _BLOCKS)
        if last - first == _BLOCKS:
            break
        samples = samples[first * part : last * part if last < _BLOCKS else None]
    return samples


def level_of(samples: Samples, code: float = 0.0) -> Level:
    """Level of a stretch: its median, with the uncertainty from noise, hum and vertical resolution.

    Where the medians of 16 parts scatter more than independent noise would, as with hum and drift, their
    scatter is the noise part. A step of the recorder that noise does not stir adds its
    rectangular uncertainty (JCGM 100, 4.3.7), step / sqrt(12). `code` is the recorder's step, known from the rest of
    the lane, for a stretch that never leaves one code. Raises ValueError on an empty stretch.
    """
    if samples.size == 0:
        raise ValueError("an empty stretch has no level")
    step = max(resolution(samples), code)
    value = grouped_median(samples, step)
    sigma = robust_sigma(detrended(samples[:: max(1, samples.size // ENOUGH)]), step)
    parts = min(_BLOCKS, samples.size)
    even = samples[: samples.size // parts * parts].reshape(parts, -1)
    scatter = float(np.std(grouped_medians(even, step), ddof=1)) / np.sqrt(parts) if parts > 1 else sigma
    # A median of normal noise; inside a code it is a mean of the counts on either side, and better known.
    white = 1.2533 * sigma / np.sqrt(samples.size) * float(np.sqrt(1 - _share_of_code(step, sigma) / 2))
    white *= correlation(detrended(samples[:_FOR_CORRELATION]))
    # Sixteen parts give the scatter to a fifth: only well over white noise does it speak of hum or drift.
    noise = scatter if scatter > 1.5 * white else white
    quantised = float(np.hypot(code_doubt(step, sigma), step / np.sqrt(12.0 * samples.size)))
    return Level(value, float(np.hypot(noise, quantised)))
