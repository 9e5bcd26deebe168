"""Signs that two sittings share a capture or their answers: a note for the instructor, never a deduction."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy

from tracebench.core.cards.step import Given
from tracebench.core.robust.noise import robust_sigma
from tracebench.core.samples import Samples
from tracebench.core.steps.reading.step import Read

PATTERN = 4096
"""Samples of one capture that are looked for in the other."""

ALIKE = 0.9
"""Correlation of sample-to-sample differences from which it is worth comparing two stretches."""

OWN_NOISE = 0.5
"""Part of a recording's own noise that may be left between it and a copy, as rounding leaves it. Between two recordings
of one part, however alike, the noise of both is left: 1.4 of it."""

FEWEST_MOVING = 32
FEWEST_ANSWERS = 3


@dataclass(frozen=True, slots=True)
class Likeness:
    """What two sittings have in common. `shift` is where the pattern of one lies in the other, samples."""

    kind: Literal["same", "cropped", "scaled", "answers"]
    text: str

    def as_json(self) -> dict[str, str]:
        return {"kind": self.kind, "text": self.text}


def same_recording(ours: Samples, theirs: Samples) -> Likeness | None:
    """Whether two lanes hold the same samples, also cropped, shifted or scaled; None if they do not.

    A pattern from the liveliest part of the shorter lane is looked for in the other by normalised correlation of
    differences, so that neither offset nor factor hides it. Time grows with the samples of the longer lane.
    """
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
    if abs(found[at]) < ALIKE:
        return None
    here = wide[at : at + length]
    factor = float(np.dot(here, pattern) / np.dot(pattern, pattern))
    noise = robust_sigma(np.diff(pattern)) / np.sqrt(3.0)
    if robust_sigma(here / factor - pattern) >= OWN_NOISE * noise:
        return None
    if abs(factor - 1) > 0.02:
        return Likeness("scaled", f"the same recording, scaled by {factor:.3g}")
    shift = at - begin
    moved = f", shifted by {abs(shift)} samples" if shift else ", with another offset"
    return Likeness("cropped", f"the same recording{moved}")


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


def same_answers(ours: Mapping[str, Given], theirs: Mapping[str, Given]) -> Likeness | None:
    """Whether the readings are the same to the last digit with pegs at the same instants; None if they are not."""
    common = [
        (a, b)
        for key, a in ours.items()
        if isinstance(a, Read)
        and isinstance(b := theirs.get(key), Read)
        and a.value is not None
        and b.value is not None
    ]
    same = [a for a, b in common if a == b and a.pegs]
    if len(same) < FEWEST_ANSWERS or len(same) < len(common):
        return None
    return Likeness("answers", f"the same {len(same)} readings to the last digit, with pegs at the same instants")
