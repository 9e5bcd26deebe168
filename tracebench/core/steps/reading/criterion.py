"""Readings: the learner's value against what the tool measures on the learner's own capture."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tracebench.core.answer import Answer, Reading
from tracebench.core.circuits.circuit import ReadingSpec
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.steps.reading.pegs import BY_PEGS, stand_right
from tracebench.core.steps.reading.slips import slip_of
from tracebench.core.steps.reading.step import Read, ReadingStep
from tracebench.core.steps.reading.tolerance import tolerance, within

CLOSE = 2.0
"""Tolerances within which a value is close."""

EDGE_PART = 0.005
"""Part of the record from its ends in which a movement is cut off."""


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, ReadingStep)]


def _one(attempt: Attempt, step: ReadingStep, points: float) -> Result:
    score, certainty, reason, reading, slip = _marked(attempt, step)
    where = [Stretch(reading.from_s, reading.to_s, reading.lane)] if reading is not None else []
    title = _title(step)
    return Result.of(READING, step, score, points, certainty, reason, where, slip, key=step.name, title=title)


def _title(step: ReadingStep) -> str:
    whose = f", cylinder {step.cylinder}" if step.cylinder is not None else ""
    return f"{step.spec.title}{whose}" if step.event is None else f"{step.spec.title}{whose}, event {step.event}"


def earned(attempt: Attempt, step: ReadingStep) -> float:
    """The share of its points that the answer to a step earns, 0 to 1."""
    return _marked(attempt, step)[0]


def was_read(attempt: Attempt, step: ReadingStep) -> bool:
    """True if the value given was read on this trace: it is right, or its pegs stand where such a reading is taken.

    What no pegs take (a count, a rate) is read where it is a figure of this trace.
    """
    given, measured = attempt.given(step), attempt.measured_for(step)
    if given is None or given.value is None or measured is None:
        return False
    if step.spec.how not in BY_PEGS:
        return earned(attempt, step) > 0
    reading = step.wanted(measured)
    if reading is not None and within(given.value, reading, tolerance(step.spec, reading)):
        return True
    of_its_kind = [r for r in measured.readings if r.id == step.reading]
    return stand_right(measured, step, of_its_kind, given.pegs)


Marked = tuple[float, float, str, Reading | None, str | None]
"""Score, certainty, reason, the tool's reading, slip."""


def _marked(attempt: Attempt, step: ReadingStep) -> Marked:
    return attempt.once("marked", step, lambda: _judged(attempt, step))


def _judged(attempt: Attempt, step: ReadingStep) -> Marked:
    measured, spec = attempt.measured_for(step), step.spec
    if measured is None:
        return 0.0, sure.CERTAIN, "There is no capture to read this from.", None, None
    given = attempt.given(step) or Read()
    reading = step.wanted(measured)
    if given.absent:
        return _absent(measured, step, reading)
    if given.value is None:
        return 0.0, sure.CERTAIN, f"No value was given for {spec.title.lower()}.", reading, None
    if reading is None:
        text = f"You gave {shown(spec, given.value)}, but this capture cannot give it: {_why(measured, step)}."
        return 0.0, sure.BY_TABLE, text, None, "not_there"
    return _valued(attempt, measured, step, given, given.value, reading)


def _valued(
    attempt: Attempt, measured: Answer, step: ReadingStep, given: Read, value: float, reading: Reading
) -> Marked:
    spec, rubric = step.spec, attempt.card.rubric
    own = [r for r in _may_be_taken(measured, step, reading) if within(value, r, tolerance(spec, r))]
    compared = f"You read {shown(spec, value)}; the capture gives {shown(spec, reading.value)}"
    if own:
        best = reading if reading in own else min(own, key=lambda r: abs(value - r.value))
        allowed = tolerance(spec, best)
        certainty = 0.5 + 0.5 * min(1.0, (allowed - abs(value - best.value)) / (0.5 * allowed)) if allowed else 1.0
        text = f"{compared}: right within {shown(spec, allowed)}"
        if best is not reading:
            text += f" of one {'event' if measured.events else 'sweep'}'s own {shown(spec, best.value)}"
        return _pegged(attempt, measured, step, given, (certainty, text, best))
    slip = slip_of(attempt.card.circuit_of(step), measured, step, reading, given, rubric)
    allowed, off = tolerance(spec, reading), abs(value - reading.value)
    if slip is not None and (slip.score > 0 or off > CLOSE * allowed):
        return slip.score, sure.FIRM, f"{compared}: {slip.text}.", reading, slip.code
    if off <= CLOSE * allowed * (1 + 1e-9):
        text = f"{compared}: close, but off by {shown(spec, off)} where {shown(spec, allowed)} is allowed."
        rounded = _of_rounded_figures(spec, value, off)
        if rounded:
            text += " A difference of figures that were rounded first is off by a digit: subtract, then round."
        return rubric.close, sure.OPEN, text, reading, "rounded_difference" if rounded else None
    certainty = min(1.0, off / (4 * allowed)) if allowed else 1.0
    return 0.0, certainty, f"{compared}: off by {shown(spec, off)}.", reading, None


def _pegged(
    attempt: Attempt, measured: Answer, step: ReadingStep, given: Read, right: tuple[float, str, Reading]
) -> Marked:
    """A right number, with the share that it earns without a peg at a right place."""
    certainty, text, best = right
    places = _places(measured, step, best)
    if step.spec.how not in BY_PEGS or stand_right(measured, step, places, given.pegs):
        return 1.0, certainty, f"{text}.", best, None
    share = attempt.card.rubric.no_peg
    if share >= 1:
        return 1.0, certainty, f"{text}.", best, None
    where = "the pegs do not stand where it is read" if given.pegs else "no peg shows where it was read"
    return share, sure.BY_TABLE, f"{text}, but {where}.", best, "peg_elsewhere" if given.pegs else "no_peg"


def _may_be_taken(measured: Answer, step: ReadingStep, reading: Reading) -> list[Reading]:
    """The reading, and each sweep's, pulse's or cycle's own value that a summary may be taken from.

    One whose summary is the slowest or deepest, or a step that names its cylinder or event, has only its own.
    """
    if step.event is not None or step.spec.farthest or step.spec.counted:
        return [reading]
    own = [r for r in measured.readings if r.id == step.reading and r.cycle is not None]
    if step.cylinder is not None:
        return [reading, *(r for r in own if r.cylinder == step.cylinder)]
    odd = _odd_cylinders(measured)
    return [reading, *(r for r in own if r.cylinder not in odd)]


def _odd_cylinders(measured: Answer) -> set[int]:
    """Cylinders with a fault of their own: their values are not the row's, unless all have it."""
    odd = {f.cylinder for f in measured.findings if f.kind == "fault" and f.cylinder is not None}
    there = {e.cylinder for e in measured.events if e.cylinder is not None}
    return odd if there - odd else set()


def _places(measured: Answer, step: ReadingStep, best: Reading) -> Sequence[Reading]:
    """Readings at which pegs stand right: the one that was taken, and those of the same value elsewhere."""
    allowed = tolerance(step.spec, best)
    same = [r for r in measured.readings if r.id == step.reading and within(best.value, r, 2 * allowed)]
    if step.event is not None:
        return [best]
    # A dropout's depth may be taken at any that is as deep.
    for f in measured.findings:
        if f.value is not None and f.unit == best.unit and abs(f.value - best.value) <= 2 * allowed:
            same += [replace(best, from_s=a, to_s=b, cylinder=f.cylinder) for a, b in f.shows_in]
    return [best, *(r for r in same if step.cylinder is None or r.cylinder == step.cylinder)]


def _absent(measured: Answer, step: ReadingStep, reading: Reading | None) -> Marked:
    if reading is None:
        return 1.0, sure.PLAIN, f"Right, there is none to read: {_why(measured, step)}.", None, None
    if _cut_off(measured, step, reading):
        text = (
            f"Right: the movement that would give it is cut off; what is there gives {shown(step.spec, reading.value)}."
        )
        return 1.0, sure.BY_TABLE, text, reading, None
    text = f"You said there is none, but the capture gives {shown(step.spec, reading.value)} here."
    return 0.0, sure.FIRM, text, reading, "overlooked"


def _why(measured: Answer, step: ReadingStep) -> str:
    if step.named and measured.reading(step.reading) is not None:
        return f"no such {'event' if step.event is not None else 'cylinder'} in it"
    return next((m.why for m in measured.missing if m.reading == step.reading), "it is not in this capture")


def _cut_off(measured: Answer, step: ReadingStep, reading: Reading) -> bool:
    """True for a time whose movement runs into an end of the record."""
    if step.spec.how != "span" or step.spec.phase is None or not measured.phases:
        return False
    begin = min(p.from_s for p in measured.phases)
    end = max(p.to_s for p in measured.phases)
    near = EDGE_PART * measured.duration_s
    mine = [
        p
        for p in measured.phases
        if p.name == step.spec.phase and p.from_s <= reading.to_s and p.to_s >= reading.from_s
    ]
    return bool(mine) and all(p.from_s <= begin + near or p.to_s >= end - near for p in mine)


def _of_rounded_figures(spec: ReadingSpec, value: float, off: float) -> bool:
    """True if a difference is off by no more than two roundings of the digits it was given with."""
    if spec.how not in ("difference", "span"):
        return False
    given = next((n for n in range(spec.decimals + 1) if abs(round(value, n) - value) < 1e-9), spec.decimals)
    return off <= 10.0**-given


def shown(spec: ReadingSpec, value: float) -> str:
    """A value as people see it."""
    return f"{value:.{spec.decimals}f} {spec.unit}".strip()


READING = Criterion(
    "reading",
    "Readings",
    "measure",
    3.0,
    "Each value against the tool's own on the same capture; half for close or for a number without its peg, a share "
    "for a named slip.",
    _judge,
)
