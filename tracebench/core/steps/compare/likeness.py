"""A reading beside that of another capture or of the other cylinders: lower, alike or higher."""

from __future__ import annotations

import math
import statistics
from dataclasses import dataclass

from tracebench.core.answer import Answer, Reading
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.steps.compare.step import CompareStep, Likeness, Other, own_value
from tracebench.core.steps.reading.tolerance import COVERAGE, tolerance

WHOSE = {
    "reference": "the reference's",
    "before": "that before the repair",
    "siblings": "the middle of the other cylinders'",
}


@dataclass(frozen=True, slots=True)
class Held:
    """A value beside another one, with how far apart the two may lie and be alike, in the reading's unit."""

    value: float
    other: float
    zone: float
    uncertainty: float

    def state_of(self, value: float) -> Likeness:
        apart = value - self.other
        if abs(apart) <= self.zone:
            return "alike"
        return "lower" if apart < 0 else "higher"

    @property
    def state(self) -> Likeness:
        return self.state_of(self.value)

    @property
    def certainty(self) -> float:
        """Low where the value lies within two uncertainties of where alike ends."""
        if self.uncertainty == 0:
            return 1.0
        to_edge = abs(abs(self.value - self.other) - self.zone)
        return sure.away_from_a_border(to_edge, self.uncertainty)


def held(step: CompareStep, measured: Answer | None) -> Held | None:
    """The reading beside the other value; None where one of the two is not there."""
    reading = measured.reading(step.reading, cylinder=step.cylinder) if measured is not None else None
    other = _siblings(step, measured) if step.against == "siblings" else step.other
    if reading is None or other is None:
        return None
    both = math.hypot(reading.uncertainty, other.uncertainty)
    hand = tolerance(step.spec, reading)
    zone = max(step.within_pct / 100 * abs(other.value), hand, COVERAGE * both)
    return Held(reading.value, other.value, zone, both)


def _siblings(step: CompareStep, measured: Answer | None) -> Other | None:
    """The middle of the others, as certain as one of them."""
    others: dict[int, Reading] = {}
    for r in measured.readings if measured is not None else ():
        if r.id == step.reading and r.cycle is None and r.cylinder not in (None, step.cylinder):
            others[int(r.cylinder or 0)] = r
    if not others:
        return None
    rows = list(others.values())
    return Other(statistics.median(r.value for r in rows), statistics.median(r.uncertainty for r in rows))


def beside_another(
    attempt: Attempt, step: CompareStep, state: str | None, measured: Answer | None
) -> tuple[float, float, str, str | None]:
    """Share, certainty, reason and slip of a chosen likeness."""
    whose = WHOSE[step.against]
    found = held(step, measured)
    own = own_value(attempt, step)
    if found is None:
        text = f"There is no value of this reading to hold beside {whose}."
        if measured is None or state is not None:
            return 0.0, sure.NEAR_A_BORDER, text, None
        return 1.0, sure.BY_TABLE, f"Right to choose none: {text[:1].lower()}{text[1:]}", None
    unit, places = step.spec.unit, step.spec.decimals
    value, other = (f"{x:.{places}f} {unit}".strip() for x in (found.value, found.other))
    says = f"{value} is {_words(found.state)} {whose}, {other} (alike within {found.zone:.3g} {unit}".rstrip() + ")"
    if state is None:
        return 0.0, sure.CERTAIN, f"No state was chosen; {says}.", None
    if state == found.state:
        return 1.0, found.certainty, f"Right: {says}.", None
    if own is not None and state == found.state_of(own):
        text = f"Right for the value you read, {own:g} {unit}".strip()
        share = attempt.card.rubric.follow_through
        return share, sure.BY_TABLE, f"{text}; {says}. The mistake was made at the reading.", "follow_through"
    if "alike" in (state, found.state):
        return (
            attempt.card.rubric.one_off,
            min(found.certainty, sure.NEAR_A_BORDER),
            f"You said {state}; {says}. One step off.",
            None,
        )
    return 0.0, found.certainty, f"You said {state}; {says}.", None


def _words(state: Likeness) -> str:
    return {"lower": "lower than", "alike": "alike to", "higher": "higher than"}[state]
