"""How surely a learner has a skill: a rating with its uncertainty, from the criteria of released sittings.

Model: Glicko (M. E. Glickman, 'Parameter estimation in large dynamic paired comparison experiments',
Applied Statistics 48, 1999; worked example in 'The Glicko system'). A learner 'plays' each criterion; a
score of 0-1 counts as the result, the criterion's difficulty as the opponent. Sittings are rating periods;
between them the uncertainty grows. Later work can let difficulties be estimated by the same rules.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

SKILLS = (
    ("connect", "Connect and protect"),
    ("capture", "Set up and capture"),
    ("measure", "Measure"),
    ("recognise", "Recognise"),
    ("compare", "Compare"),
    ("conclude", "Conclude"),
)

START_RATING = 1500.0
START_DEVIATION = 350.0
STANDARD_DIFFICULTY = 1500.0
DIFFICULTY_DEVIATION = 60.0
GROWTH_PER_WEEK = 18.0
"""Rating points (one deviation) that certainty is lost by a week without practice: from memory of the range used."""

_Q = math.log(10) / 400


@dataclass(frozen=True, slots=True)
class Rating:
    """A Glicko rating and its deviation (one standard deviation), in rating points."""

    rating: float = START_RATING
    deviation: float = START_DEVIATION

    def chance(self, difficulty: float = STANDARD_DIFFICULTY) -> float:
        """Expected score 0-1 on a criterion of the given difficulty."""
        return 1 / (1 + 10 ** (-(self.rating - difficulty) / 400))

    def band(self) -> tuple[float, float]:
        """Expected scores one deviation below and above the rating."""
        low = Rating(self.rating - self.deviation, self.deviation)
        high = Rating(self.rating + self.deviation, self.deviation)
        return low.chance(), high.chance()


@dataclass(frozen=True, slots=True)
class Outcome:
    """One criterion: the score reached, 0-1, its weight (1 for a full criterion) and its difficulty."""

    score: float
    weight: float = 1.0
    difficulty: float = STANDARD_DIFFICULTY
    difficulty_deviation: float = DIFFICULTY_DEVIATION


@dataclass(frozen=True, slots=True)
class Estimate:
    """A rating after a sitting, at `at_days` on any common time scale."""

    at_days: float
    rating: Rating
    outcomes: int


def rested(rating: Rating, weeks: float) -> Rating:
    """The rating after weeks without practice: same value, larger deviation, never beyond a newcomer's."""
    deviation = math.sqrt(rating.deviation**2 + GROWTH_PER_WEEK**2 * max(weeks, 0.0))
    return Rating(rating.rating, min(deviation, START_DEVIATION))


def updated(rating: Rating, outcomes: Sequence[Outcome]) -> Rating:
    """The rating after one period of outcomes (Glickman 1999, equations 5-7); unchanged if there are none."""
    information = 0.0
    surprise = 0.0
    for o in outcomes:
        g = 1 / math.sqrt(1 + 3 * _Q**2 * o.difficulty_deviation**2 / math.pi**2)
        expected = 1 / (1 + 10 ** (-g * (rating.rating - o.difficulty) / 400))
        information += o.weight * (g * _Q) ** 2 * expected * (1 - expected)
        surprise += o.weight * g * (o.score - expected)
    if information == 0:
        return rating
    precision = 1 / rating.deviation**2 + information
    return Rating(rating.rating + _Q / precision * surprise, math.sqrt(1 / precision))


def course_of(periods: Iterable[tuple[float, Sequence[Outcome]]]) -> list[Estimate]:
    """Estimates after each sitting, given (day, outcomes) in order of time."""
    rating, last, out = Rating(), None, []
    for at_days, outcomes in periods:
        if last is not None:
            rating = rested(rating, (at_days - last) / 7)
        rating = updated(rating, outcomes)
        out.append(Estimate(at_days, rating, len(outcomes)))
        last = at_days
    return out
