"""The slip that a wrong value gives away by its ratio or its place, most specific first."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tracebench.core.answer import Answer, Reading
from tracebench.core.cards.rubric import Rubric
from tracebench.core.circuits.circuit import Circuit, ReadingSpec
from tracebench.core.steps.reading.pegs import phase_at
from tracebench.core.steps.reading.step import Read, ReadingStep
from tracebench.core.steps.reading.tolerance import tolerance, within

_FACTORS = (
    (1000.0, "{small} were given as {large}, or a factor of 1,000 is in it"),
    (0.001, "{large} were given where {small} were meant, or a factor of 1,000 is missing"),
    (10.0, "ten times too large: a factor of 10 of probe, clamp or decimal point"),
    (0.1, "a tenth of it: a factor of 10 of probe, clamp or decimal point is missing"),
    (100.0, "a hundred times too large"),
    (0.01, "a hundredth of it"),
    (-1.0, "the right size with the wrong sign: leads or pegs reversed"),
)

_THOUSANDTHS = {
    "V": ("millivolts", "volts"),
    "mV": ("microvolts", "millivolts"),
    "kV": ("volts", "kilovolts"),
    "A": ("milliamperes", "amperes"),
    "s": ("milliseconds", "seconds"),
    "ms": ("microseconds", "milliseconds"),
    "Hz": ("hertz", "kilohertz"),
}


@dataclass(frozen=True, slots=True)
class Slip:
    code: str
    text: str
    score: float


def slip_of(
    circuit: Circuit, measured: Answer, step: ReadingStep, reading: Reading, given: Read, rubric: Rubric
) -> Slip | None:
    """The slip that explains a value that is not the reading's, or None."""
    if given.value is None:
        return None
    ways = (_sweeps, _others_of_its_kind, _mistaken, _factors, _turned_over, _other_readings, _by_pegs)
    for way in ways:
        for slip in way(circuit, measured, step, reading, given, given.value, rubric):
            return slip
    return None


def _is(spec: ReadingSpec, value: float, other: Reading) -> bool:
    return within(value, other, tolerance(spec, other))


def _sweeps(
    _circuit: Circuit, measured: Answer, step: ReadingStep, reading: Reading, _given: Read, value: float, rubric: Rubric
) -> Iterator[Slip]:
    """Another sweep of the same movement, where the summary is the largest or slowest of them."""
    if step.named:
        return
    for other in _same(measured, step.reading):
        if other.cycle is not None and other.cylinder is None and _is(step.spec, value, other):
            text = f"that is sweep {other.cycle}, not the {step.spec.definition}"
            yield Slip("wrong_sweep", text, rubric.wrong_sweep)


def _others_of_its_kind(
    _circuit: Circuit, measured: Answer, step: ReadingStep, reading: Reading, _given: Read, value: float, rubric: Rubric
) -> Iterator[Slip]:
    """Another cylinder's or event's value."""
    for other in _same(measured, step.reading):
        if other is reading or not _is(step.spec, value, other):
            continue
        if other.cylinder is not None and other.cylinder != step.cylinder:
            yield Slip("wrong_cylinder", f"that is cylinder {other.cylinder}'s", rubric.wrong_place)
        elif other.cycle is not None:
            yield Slip("wrong_event", f"that is event {other.cycle}'s", rubric.wrong_place)


def _mistaken(
    _circuit: Circuit, measured: Answer, step: ReadingStep, reading: Reading, _given: Read, value: float, rubric: Rubric
) -> Iterator[Slip]:
    """The wrong edge or end, as the reading declares them."""
    allowed = tolerance(step.spec, reading)
    for mistake in step.spec.mistaken:
        more = [measured.reading(r) for r in mistake.plus]
        if any(m is None for m in more):
            continue
        mistaken = mistake.times * reading.value + sum(m.value for m in more if m is not None)
        if abs(value - mistaken) <= allowed:
            yield Slip("wrong_edge", mistake.text, rubric.wrong_place)


def _factors(
    _circuit: Circuit,
    _measured: Answer,
    step: ReadingStep,
    reading: Reading,
    _given: Read,
    value: float,
    rubric: Rubric,
) -> Iterator[Slip]:
    if not reading.value or step.spec.counted:
        return
    for factor, text in _FACTORS:
        if within(value / factor, reading, tolerance(step.spec, reading)) and value * reading.value * factor > 0:
            small, large = _THOUSANDTHS.get(step.spec.unit, ("thousandths", "whole units"))
            yield Slip(f"factor_{factor:g}", text.format(small=small, large=large), rubric.wrong_place)


def _turned_over(
    _circuit: Circuit,
    _measured: Answer,
    step: ReadingStep,
    reading: Reading,
    _given: Read,
    value: float,
    rubric: Rubric,
) -> Iterator[Slip]:
    """A period given for a frequency, or the other way round, in seconds or in thousandths."""
    unit = step.spec.unit
    if not value or not reading.value or unit not in ("Hz", "s", "ms"):
        return
    share = tolerance(step.spec, reading) / abs(reading.value)
    per_second = 1000.0 if unit == "ms" else 1.0
    turned = [per_second / reading.value, *([1000.0 / reading.value] if unit == "Hz" else [])]
    if any(abs(value - t) <= share * abs(t) for t in turned):
        what = "a period was given for the frequency" if unit == "Hz" else "a frequency was given for the time"
        yield Slip("period_for_frequency", what, rubric.wrong_place)


def _other_readings(
    circuit: Circuit, measured: Answer, step: ReadingStep, reading: Reading, _given: Read, value: float, rubric: Rubric
) -> Iterator[Slip]:
    """Another reading of the same unit: read in the wrong phase or on the wrong lane."""
    for other in measured.readings:
        spec = circuit.reading(other.id)
        if other.id == step.reading or spec is None or spec.counted or not _summary(other, step):
            continue
        if other.unit == reading.unit and other.unit and _is(spec, value, other):
            yield Slip("wrong_phase", f"that is the {spec.title.lower()}, read in the wrong place", rubric.wrong_place)


def _summary(other: Reading, step: ReadingStep) -> bool:
    return other.cycle is None and other.cylinder in (None, step.cylinder)


def _by_pegs(
    _circuit: Circuit,
    measured: Answer,
    step: ReadingStep,
    _reading: Reading,
    given: Read,
    _value: float,
    _rubric: Rubric,
) -> Iterator[Slip]:
    """The place gives it away though the figure does not: the pegs stand in another phase."""
    if step.spec.phase is None or not given.pegs:
        return
    here = phase_at(measured, given.pegs)
    if here is not None and here.name != step.spec.phase:
        yield Slip("wrong_phase", f"the peg stands in a {here.name} phase, not in a {step.spec.phase} one", 0.0)


def _same(measured: Answer, reading_id: str) -> Sequence[Reading]:
    return [r for r in measured.readings if r.id == reading_id]
