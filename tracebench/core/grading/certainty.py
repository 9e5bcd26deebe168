"""How sure the tool is of a mark, 0 to 1: figures of judgement, no published source, each stated here once."""

from __future__ import annotations

CERTAIN = 1.0
"""Nothing is to be weighed: no answer was given, or there is nothing to hold one against."""

PLAIN = 0.95
"""The trace shows it, well away from any border."""

FIRM = 0.9
"""A rule of marking says so: a usual mistake, an instrument's own limits, one step of several."""

LIKELY = 0.85

BY_TABLE = 0.8
"""By what the circuit's table says follows; another marker may know a further way."""

PARTLY = 0.75
"""Several parts were weighed, and some earned nothing."""

WORTH_A_LOOK = 0.7
"""Under this a mark is looked at first and told as unsure."""

NEAR_A_BORDER = 0.6
"""The measured value itself lies where two answers meet."""

OPEN = 0.5
"""Either way could be argued."""

LEFT_TO_THE_MARKER = 0.0


def away_from_a_border(apart: float, uncertainty: float) -> float:
    """OPEN on a border, CERTAIN from two standard uncertainties on; both in one unit."""
    return OPEN + OPEN * min(1.0, apart / (2 * uncertainty))
