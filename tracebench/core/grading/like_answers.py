"""Signs that two learners' answers are one's: a note for the instructor, never a deduction."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Hashable, Mapping, Sequence
from itertools import combinations

import numpy as np
import scipy
from numpy.typing import NDArray

from tracebench.core.cards.step import Given
from tracebench.core.grading.likeness import Likeness
from tracebench.core.steps.call.step import Called
from tracebench.core.steps.capture import Recorded
from tracebench.core.steps.explain import Explained
from tracebench.core.steps.name import Named
from tracebench.core.steps.reading.step import Read

FEWEST_ANSWERS = 3

LEAST_CLASS = 6
"""Sittings of a class from which it tells how near two honest answers lie to each other."""

UNLIKELY = 0.05
"""Chance in a whole class that some honest pair is as like, under which a pair is noted."""

Answers = Mapping[str, Given]


def same_answers(ours: Answers, theirs: Answers) -> Likeness | None:
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


class ClassAnswers:
    """The answers of a class to one card, and how near any two lie. Work grows with the square of the class."""

    def __init__(self, answers: Sequence[Answers]) -> None:
        self._pairs = list(combinations(range(len(answers)), 2))
        self._place = {pair: k for k, pair in enumerate(self._pairs)}
        self._size = len(answers)
        keys = sorted(set().union(*answers)) if answers else []
        self._apart = {key: self._distances([a.get(key) for a in answers]) for key in keys}

    def _distances(self, given: Sequence[Given | None]) -> NDArray[np.float64]:
        """How far two answers to a step lie apart, for each pair; NaN where that says nothing. Shape (pairs,).

        Of readings the rank among all pairs, in value or in pegs, whichever is farther; the same thing chosen or typed
        is as far apart as the part of the class that says it, another one infinitely.
        """
        out = np.full((len(self._pairs), 2), math.nan)
        said = [_said(one) for one in given]
        often = Counter(said)
        for k, (i, j) in enumerate(self._pairs):
            one, other = given[i], given[j]
            if isinstance(one, Read) and isinstance(other, Read):
                out[k] = _apart(one, other)
            elif said[i] is not None and said[j] is not None:
                out[k] = often[said[i]] / len(said) if said[i] == said[j] else math.inf
        if any(isinstance(one, Read) for one in given):
            out = scipy.stats.rankdata(out, axis=0, nan_policy="omit")
        return np.asarray(out.max(axis=1))

    def unlikely(self, one: int, other: int) -> Likeness | None:
        """Whether the answers of two lie nearer to each other than chance brings two of their class; None if not.

        Of each step that says something of both: the part of the class's other pairs that lie as near, or agree on what
        as few say; 1 where they chose differently. A mistake that hardly anybody makes tells much, what everybody has
        right next to nothing.
        Their chances are put together by Fisher's method (Statistical Methods for Research Workers, 1925) and held
        against the number of pairs in the class.
        """
        if self._size < LEAST_CLASS:
            return None
        mine = self._place[min(one, other), max(one, other)]
        rest = np.array([not {one, other} & set(pair) for pair in self._pairs])
        chances = [c for apart in self._apart.values() if (c := _chance(apart[mine], apart[rest])) is not None]
        if len(chances) < FEWEST_ANSWERS:
            return None
        together = float(scipy.stats.chi2.sf(-2.0 * np.sum(np.log(chances)), 2 * len(chances)))
        if together * len(self._pairs) >= UNLIKELY:
            return None
        near = sum(c < 0.5 for c in chances)
        return Likeness(
            "answers", f"{near} answers together are nearer to each other than chance brings two of the class"
        )


FEWEST_PAIRS = LEAST_CLASS * (LEAST_CLASS - 1) // 2 - LEAST_CLASS


def _chance(mine: float, others: NDArray[np.float64]) -> float | None:
    """The part of the other pairs whose answers to a step lie as near as these two, those just as near by half
    (Lancaster, J. Am. Stat. Assoc. 56, 1961, for what can take few values only). None where it says nothing."""
    others = others[~np.isnan(others)]
    if np.isnan(mine) or len(others) < FEWEST_PAIRS:
        return None
    nearer, just = np.count_nonzero(others < mine), np.count_nonzero(others == mine)
    return float((0.5 + nearer + 0.5 * just) / (1 + len(others)))


def _said(given: Given | None) -> Hashable:
    """What was chosen or typed, as far as two may have it alike; None for what is read, marked or told in words."""
    if given is None or isinstance(given, (Read, Named, Explained, Recorded)):
        return None
    if isinstance(given, Called):
        return given.verdict, given.cause, given.next_test
    told = given.as_json()
    return repr(sorted(told.items())) if told else None


def _apart(one: Read, other: Read) -> tuple[float, float]:
    """How far two readings lie apart in value and, at the most, in pegs; NaN where they cannot be held together."""
    if one.value is None or other.value is None or not one.pegs or len(one.pegs) != len(other.pegs):
        return math.nan, math.nan
    return abs(one.value - other.value), max(abs(a - b) for a, b in zip(one.pegs, other.pegs, strict=True))
