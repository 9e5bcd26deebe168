"""Whether the pegs of an answer stand where its reading is taken."""

from __future__ import annotations

from collections.abc import Sequence

from tracebench.core.answer import Answer, Phase, Reading
from tracebench.core.grading.slack import slack_of
from tracebench.core.steps.reading.step import ReadingStep

BY_PEGS = ("level", "difference", "span")
"""Ways of reading that pegs take; what is counted or worked out has none."""

END_PART = 0.25
"""Part of a time's own length by which a peg may stand beside its end."""


def stand_right(measured: Answer, step: ReadingStep, readings: Sequence[Reading], pegs: Sequence[float]) -> bool:
    """True if pegs stand at one of the readings (sweeps, cylinders, events) that an answer may be taken from.

    A time's pegs stand at its ends; a level's or a difference's within its stretch, its phase or its event. Of a named
    cylinder only its own events count, of a named event only that.
    """
    if not pegs:
        return False
    spec = step.spec
    slack = slack_of(measured)
    own = [e for e in measured.events if step.cylinder in (None, e.cylinder) and step.event in (None, e.number)]
    events = [(e.from_s, e.to_s) for e in own]
    phases = [(p.from_s, p.to_s) for p in measured.phases if p.name == spec.phase and not step.named]
    if spec.how == "span" and len(pegs) == 2:
        like = any(_begins_in(place, pegs, slack) for place in (*phases, *events))
        return like or any(_at_ends(r, pegs, slack) for r in readings)
    # One peg at a time's beginning or end shows where it was taken as well.
    places = [*((r.from_s, r.to_s) for r in readings), *phases, *events]
    return any(all(a - slack <= peg <= b + slack for peg in pegs) for a, b in places)


def _at_ends(reading: Reading, pegs: Sequence[float], slack: float) -> bool:
    reach = max(slack, END_PART * (reading.to_s - reading.from_s))
    return abs(pegs[0] - reading.from_s) <= reach and abs(pegs[1] - reading.to_s) <= reach


def _begins_in(place: tuple[float, float], pegs: Sequence[float], slack: float) -> bool:
    """A time that begins in a phase or event and lasts no longer than that and a half."""
    a, b = place
    return a - slack <= pegs[0] <= b + slack and pegs[1] - pegs[0] <= 1.5 * (b - a) + slack


def phase_at(measured: Answer, pegs: Sequence[float]) -> Phase | None:
    """The phase that holds all pegs, the shortest if there are several."""
    holding = [p for p in measured.phases if all(p.from_s <= peg <= p.to_s for peg in pegs)]
    return min(holding, key=lambda p: p.to_s - p.from_s, default=None)
