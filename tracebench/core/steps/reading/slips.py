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


CYCLE = "cycle_ms"
"""An engine cycle, two turns."""


@dataclass(frozen=True, slots=True)
class Slip:
    code: str
    text: str
    score: float


@dataclass(frozen=True, slots=True)
class _Wrong:
    """A value that is not the reading's, with all that may explain it."""

    circuit: Circuit
    measured: Answer
    step: ReadingStep
    reading: Reading
    value: float
    pegs: tuple[float, ...]
    rubric: Rubric

    def is_value_of(self, other: Reading, spec: ReadingSpec | None = None) -> bool:
        return within(self.value, other, tolerance(spec or self.step.spec, other))

    def others(self) -> Sequence[Reading]:
        """The same reading of every sweep, cylinder and event."""
        return [r for r in self.measured.readings if r.id == self.step.reading]


def slip_of(
    circuit: Circuit, measured: Answer, step: ReadingStep, reading: Reading, given: Read, rubric: Rubric
) -> Slip | None:
    """The slip that explains a value that is not the reading's, or None."""
    if given.value is None:
        return None
    wrong = _Wrong(circuit, measured, step, reading, given.value, given.pegs, rubric)
    ways = (
        *(_sweeps, _others_of_its_kind, _mistaken, _of_turns, _duty),
        *(_factors, _turned_over, _other_readings, _by_pegs),
    )
    return next((slip for way in ways for slip in way(wrong)), None)


def _sweeps(w: _Wrong) -> Iterator[Slip]:
    """Another sweep of the same movement, where the summary is the largest or slowest of them."""
    if w.step.named:
        return
    for other in w.others():
        if other.cycle is not None and other.cylinder is None and w.is_value_of(other):
            text = f"that is sweep {other.cycle}, not the {w.step.spec.definition}"
            yield Slip("wrong_sweep", text, w.rubric.wrong_sweep)


def _others_of_its_kind(w: _Wrong) -> Iterator[Slip]:
    """Another cylinder's or event's value."""
    for other in w.others():
        if other is w.reading or not w.is_value_of(other):
            continue
        if other.cylinder is not None and other.cylinder != w.step.cylinder:
            yield Slip("wrong_cylinder", f"that is cylinder {other.cylinder}'s", w.rubric.wrong_place)
        elif other.cycle is not None:
            yield Slip("wrong_event", f"that is event {other.cycle}'s", w.rubric.wrong_place)


def _mistaken(w: _Wrong) -> Iterator[Slip]:
    """The wrong edge or end, as the reading declares them."""
    for mistake in w.step.spec.mistaken:
        signed = [(1.0, r) for r in mistake.plus] + [(-1.0, r) for r in mistake.less]
        more = [(sign, w.measured.reading(r)) for sign, r in signed]
        mistaken = mistake.times * w.reading.value + sum(sign * m.value for sign, m in more if m is not None)
        if all(m is not None for _, m in more) and abs(w.value - mistaken) <= tolerance(w.step.spec, w.reading):
            yield Slip("wrong_edge", mistake.text, w.rubric.wrong_place)


def _of_turns(w: _Wrong) -> Iterator[Slip]:
    """A turn and a cycle of two turns mistaken for each other, or one turn's time given for the speed."""
    reading, allowed, part = w.reading.value, tolerance(w.step.spec, w.reading), w.rubric.wrong_place
    if not reading or (w.step.spec.unit not in ("rpm", "Hz") and w.step.reading != CYCLE):
        return
    for times in (0.5, 2.0):
        if abs(w.value - times * reading) <= times * allowed:
            yield Slip("half_forgotten", "a turn was taken for a cycle of two turns, or two for one", part)
    if w.step.spec.unit == "rpm":
        turns = (60.0 / reading, 60_000.0 / reading)
        if any(abs(w.value - t) <= allowed / abs(reading) * abs(t) for t in turns):
            yield Slip("turn_for_speed", "one turn's time was given for the speed", part)


def _duty(w: _Wrong) -> Iterator[Slip]:
    """The other part of the period: high for low, or off for on."""
    if w.step.spec.unit != "%" or "duty" not in w.step.reading:
        return
    if abs(w.value - (100.0 - w.reading.value)) <= tolerance(w.step.spec, w.reading):
        text = "the other part of the period was given: low for high, off for on"
        yield Slip("inverted_duty", text, w.rubric.wrong_place)


def _factors(w: _Wrong) -> Iterator[Slip]:
    if not w.reading.value or w.step.spec.counted:
        return
    for factor, text in _FACTORS:
        same_sign = w.value * w.reading.value * factor > 0
        if same_sign and within(w.value / factor, w.reading, tolerance(w.step.spec, w.reading)):
            small, large = _THOUSANDTHS.get(w.step.spec.unit, ("thousandths", "whole units"))
            yield Slip(f"factor_{factor:g}", text.format(small=small, large=large), w.rubric.wrong_place)


def _turned_over(w: _Wrong) -> Iterator[Slip]:
    """A period given for a frequency, or the other way round, in seconds or in thousandths."""
    unit, reading = w.step.spec.unit, w.reading.value
    if not w.value or not reading or unit not in ("Hz", "s", "ms"):
        return
    share = tolerance(w.step.spec, w.reading) / abs(reading)
    turned = {"Hz": (1.0 / reading, 1000.0 / reading), "s": (1.0 / reading,), "ms": (1000.0 / reading,)}[unit]
    if any(abs(w.value - t) <= share * abs(t) for t in turned):
        what = "a period was given for the frequency" if unit == "Hz" else "a frequency was given for the time"
        yield Slip("period_for_frequency", what, w.rubric.wrong_place)


def _other_readings(w: _Wrong) -> Iterator[Slip]:
    """Another reading of the same unit: read in the wrong phase or on the wrong lane."""
    for other in w.measured.readings:
        spec = w.circuit.reading(other.id)
        summary = other.cycle is None and other.cylinder in (None, w.step.cylinder)
        if other.id == w.step.reading or spec is None or spec.counted or not summary:
            continue
        if other.unit == w.reading.unit and other.unit and w.is_value_of(other, spec):
            text = f"that is the {spec.title.lower()}, read in the wrong place"
            yield Slip("wrong_phase", text, w.rubric.wrong_place)


def _by_pegs(w: _Wrong) -> Iterator[Slip]:
    """The place gives it away though the figure does not: the pegs stand in another phase."""
    phase = w.step.spec.phase
    here = phase_at(w.measured, w.pegs) if phase is not None and w.pegs else None
    if here is not None and here.name != phase:
        yield Slip("wrong_phase", f"the peg stands in a {here.name} phase, not in a {phase} one", 0.0)
