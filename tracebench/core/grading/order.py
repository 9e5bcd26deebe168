"""What a marker looks at first, why, and which sittings need no look of their own."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tracebench.core.grading.certainty import WORTH_A_LOOK
from tracebench.core.robust.median import median

FEWEST_IN_CLASS = 5
"""Sittings of a card of which one can be called unusual."""

LEAST_APART = 0.25
"""Share of the points that a sitting must be from the class's middle at the least to be called unusual."""

SPREADS = 3.0


@dataclass(frozen=True, slots=True)
class Handed:
    """What is known of a sitting that is marked: its share of the points, and what the tool doubts."""

    id: int
    card_id: int
    share: float
    certainty: float
    unsure: tuple[str, ...] = ()
    alike: bool = False
    asked: bool = False


@dataclass(frozen=True, slots=True)
class Look:
    """Why a sitting is looked at, in words; none: it is clear, and `sample` says whether it is one to check."""

    id: int
    reasons: tuple[str, ...]
    sample: bool = False

    @property
    def clear(self) -> bool:
        return not self.reasons


def looks(waiting: Sequence[Handed], others: Sequence[Handed] = ()) -> list[Look]:
    """Those that wait, the ones with reasons first (asked for again, likeness, doubt, unusual), then the clear ones.

    `others` are of the same cards and settled already: they say what is usual.
    """
    usual = _usual([*waiting, *others])
    found = [(one, _reasons(one, usual)) for one in waiting]
    clear = [one for one, reasons in found if not reasons]
    check = sample(clear)
    ranked = sorted(found, key=lambda f: (not f[1], not f[0].asked, not f[0].alike, f[0].certainty, f[0].id))
    return [Look(one.id, tuple(reasons), one.id in check) for one, reasons in ranked]


def sample(clear: Sequence[Handed]) -> set[int]:
    """Of the clear ones so many as the root of their number, two at the least, from the lowest mark to the highest."""
    count = min(len(clear), max(2, math.ceil(math.sqrt(len(clear)))))
    ordered = sorted(clear, key=lambda one: (one.share, one.id))
    return {ordered[k].id for k in np.linspace(0, len(ordered) - 1, count).round().astype(int)} if count else set()


def _usual(every: Sequence[Handed]) -> dict[int, tuple[float, float]]:
    """Middle of the shares of each card with enough sittings, and how far from it is unusual."""
    shares: dict[int, list[float]] = defaultdict(list)
    for one in every:
        shares[one.card_id].append(one.share)
    out = {}
    for card_id, row in shares.items():
        if len(row) >= FEWEST_IN_CLASS:
            middle = median(row)
            spread = 1.4826 * median(np.abs(np.array(row) - middle))
            out[card_id] = (middle, max(LEAST_APART, SPREADS * spread))
    return out


def _reasons(one: Handed, usual: dict[int, tuple[float, float]]) -> list[str]:
    out = []
    if one.asked:
        out.append("the learner asks for a second look")
    if one.alike:
        out.append("like another sitting")
    if one.certainty < WORTH_A_LOOK:
        about = ", ".join(one.unsure[:2]).lower()
        out.append(f"the tool is unsure of {about}" if about else "the tool is unsure of a criterion")
    if one.card_id in usual:
        middle, far = usual[one.card_id]
        if abs(one.share - middle) > far:
            way = "below" if one.share < middle else "above"
            out.append(f"far {way} the class: {100 * one.share:.0f} % where the middle is {100 * middle:.0f} %")
    return out
