"""Signs that two captures are one recording: a note for the instructor, never a deduction."""

from __future__ import annotations

import math

import numpy as np
import scipy

from tracebench.core.grading.likeness import Likeness
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.noise import noise_floor, robust_sigma
from tracebench.core.robust.spectrum import strongest_line
from tracebench.core.samples import Samples

PATTERN = 4096
"""Samples of one capture that are looked for in the other."""

ALIKE, WORTH_A_LOOK = 0.9, 0.2
"""Correlation of sample-to-sample differences from which two stretches may be one, and under noise that was added."""

OWN_NOISE = 0.5
"""Part of a recording's own noise that may be left between it and a copy, as rounding leaves it. Between two recordings
of one part, however alike, the noise of both is left: 1.4 of it."""

SHARED = 0.35
"""Correlation of what is left of two records without their courses, from which one was made of the other. Noise as
large as the record's own, added to hide it, leaves 0.7 of it; two records of one part share nothing of theirs."""

OWN_CODES = 1.4
"""Codes of the recorder that the noise must reach before it is the record's own."""

MOST_LINE, LOOKED_AT = 0.08, 4096
"""Part of its power in one line up to which a rest is noise: a ripple that is left in it is the part's own."""

FEWEST_QUIET, CHANCE = 400, 10.0
"""Samples of noise alone that are wanted, and standard errors of a correlation that chance must not reach."""

FEWEST_MOVING = 32


def same_recording(ours: Samples, theirs: Samples, rate: float = 1.0) -> Likeness | None:
    """Whether two lanes hold the same samples, also cropped, shifted, scaled, resampled or under added noise; None if
    they do not. `rate` is our samples for one of theirs.

    A pattern from the liveliest part of the shorter lane is looked for in the other by normalised correlation of
    differences, so that neither offset nor factor hides it. Time grows with the samples of the longer lane.
    """
    if rate != 1.0 and theirs.size > 1:
        # Theirs at our instants, as a resampled copy was made.
        theirs = np.interp(np.arange(0, theirs.size - 1, 1 / rate), np.arange(theirs.size), theirs)
    small, large = (ours, theirs) if ours.size <= theirs.size else (theirs, ours)
    if small.size < 2 * FEWEST_MOVING:
        return None
    if ours.size == theirs.size and np.array_equal(ours, theirs):
        return Likeness("same", "the same samples, one for one")
    steps, wide = np.diff(small), np.diff(large)
    length = min(PATTERN, steps.size)
    begin = _liveliest(steps, length)
    pattern = steps[begin : begin + length]
    if np.count_nonzero(pattern) < FEWEST_MOVING:
        return None
    found = _correlation(pattern, wide)
    at = int(np.argmax(np.abs(found)))
    if abs(found[at]) < WORTH_A_LOOK:
        return None
    here = wide[at : at + length]
    factor = float(np.dot(here, pattern) / np.dot(pattern, pattern))
    # A ripple moves from sample to sample as noise does, and is the part's own.
    noise = min(robust_sigma(np.diff(pattern)) / math.sqrt(3.0), noise_floor(small[begin : begin + length]))
    left = robust_sigma(here / factor - pattern)
    plain = abs(found[at]) >= ALIKE and left < OWN_NOISE * noise
    if not plain:
        one, other = _overlap(small, large, at - begin)
        if not _noise_is_shared(one, other):
            return None
        # Noise in the steps makes their factor too small; the course that both have tells it.
        factor = float(np.cov(one, other)[0, 1] / np.var(one))
    if abs(factor - 1) > 0.02:
        return Likeness("scaled", f"the same recording, scaled by {factor:.3g}")
    shift = at - begin
    moved = f", shifted by {abs(shift)} samples" if shift else ", with another offset"
    return Likeness("cropped", f"the same recording{moved}")


def _overlap(small: Samples, large: Samples, shift: int) -> tuple[Samples, Samples]:
    first, last = max(0, -shift), min(small.size, large.size - shift)
    return small[first:last], large[first + shift : last + shift]


def _noise_is_shared(one: Samples, other: Samples) -> bool:
    """Whether two records laid over each other have their noise in common, where nothing else moves."""
    if one.size < FEWEST_QUIET:
        return False
    # Fourth differences leave noise and corners; corners are cut to what noise reaches.
    rests = []
    for part in (one, other):
        wave = np.diff(part, 4)
        sigma = robust_sigma(wave)
        # What a code's width rounds away follows the course, and two records of one part have that in common.
        if sigma / math.sqrt(70.0) <= OWN_CODES * resolution(part) or strongest_line(wave[:LOOKED_AT]) > MOST_LINE:
            return False
        rests.append(np.clip(wave / sigma, -3.0, 3.0))
    course = np.abs(np.convolve(one, [1.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, -1.0], mode="valid"))
    size = min(course.size, rests[0].size)
    quiet = course[:size] <= np.median(course[:size])
    a, b = rests[0][:size][quiet], rests[1][:size][quiet]
    if a.size < FEWEST_QUIET or not a.std() or not b.std():
        return False
    shared = abs(float(np.corrcoef(a, b)[0, 1]))
    return shared > max(SHARED, CHANCE / math.sqrt(a.size / 4))


def _liveliest(steps: Samples, length: int) -> int:
    """Where the stretch with the most movement begins; where all is alike, the middle."""
    energy = np.cumsum(np.concatenate([[0.0], steps**2]))
    inside = energy[length:] - energy[:-length]
    best = int(np.argmax(inside))
    middle = (steps.size - length) // 2
    return best if inside[best] > 4 * inside[middle] else middle


def _correlation(pattern: Samples, wide: Samples) -> Samples:
    """Normalised correlation of a pattern with every stretch of its length, shape (wide.size - pattern.size + 1,)."""
    size = scipy.fft.next_fast_len(wide.size + pattern.size, real=True)
    # Single precision tells one part in a million, and takes half the time.
    long, short = (scipy.fft.rfft(x.astype(np.float32), size) for x in (wide, pattern))
    product = scipy.fft.irfft(long * np.conj(short), size)[: wide.size - pattern.size + 1]
    energy = np.cumsum(np.concatenate([[0.0], wide**2]))
    norms = np.sqrt(np.maximum(energy[pattern.size :] - energy[: -pattern.size], 0.0))
    total = float(np.linalg.norm(pattern))
    quiet = norms <= 1e-6 * total
    return np.where(quiet, 0.0, product / np.where(quiet, 1.0, norms * total))
