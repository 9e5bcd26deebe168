"""Whether the pegs of an answer stand where its reading is taken."""

from __future__ import annotations

from collections.abc import Sequence

from tracebench.core.answer import Answer, Phase, Reading
from tracebench.core.circuits.circuit import ReadingSpec
from tracebench.core.grading.slack import slack_of

BY_PEGS = ("level", "difference", "span")
"""Ways of reading that pegs take; what is counted or worked out has none."""

END_PART = 0.25
"""Part of a time's own length by which a peg may stand beside its end."""


def stand_right(
    measured: Answer, spec: ReadingSpec, readings: Sequence[Reading], pegs: Sequence[float], named: bool
) -> bool:
    """True if pegs stand at one of the readings (sweeps, cylinders, events) that an answer may be taken from.

    A time's pegs stand at its ends; a level's or a difference's within its stretch or its phase. Of a `named`
    cylinder or event, only its own count.
    """
    if not pegs:
        return False
    slack = slack_of(measured)
    if spec.how == "span" and len(pegs) == 2:
        like = not named and _one_like_it(measured, spec, pegs, slack)
        return any(_at_ends(r, pegs, slack) for r in readings) or like
    # One peg at a time's beginning or end shows where it was taken as well.
    phases = [p for p in measured.phases if p.name == spec.phase and not named]
    places = [*((r.from_s, r.to_s) for r in readings), *((p.from_s, p.to_s) for p in phases)]
    return any(all(a - slack <= peg <= b + slack for peg in pegs) for a, b in places)


def _at_ends(reading: Reading, pegs: Sequence[float], slack: float) -> bool:
    reach = max(slack, END_PART * (reading.to_s - reading.from_s))
    return abs(pegs[0] - reading.from_s) <= reach and abs(pegs[1] - reading.to_s) <= reach


def _one_like_it(measured: Answer, spec: ReadingSpec, pegs: Sequence[float], slack: float) -> bool:
    """A time that begins in one of its phases or events and lasts no longer than that and a half."""
    places = [(p.from_s, p.to_s) for p in measured.phases if p.name == spec.phase]
    places += [(e.from_s, e.to_s) for e in measured.events]
    return any(a - slack <= pegs[0] <= b + slack and pegs[1] - pegs[0] <= 1.5 * (b - a) + slack for a, b in places)


def phase_at(measured: Answer, pegs: Sequence[float]) -> Phase | None:
    """The phase that holds all pegs, the shortest if there are several."""
    holding = [p for p in measured.phases if all(p.from_s <= peg <= p.to_s for peg in pegs)]
    return min(holding, key=lambda p: p.to_s - p.from_s, default=None)
