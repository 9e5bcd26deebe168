"""Readings: the learner's value against what the tool measures on the learner's own capture."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from tracebench.core.answer import Answer, Reading
from tracebench.core.circuits.circuit import ReadingSpec
from tracebench.core.grading.result import Attempt, Criterion, Result, Stretch

COVERAGE = 3.0
"""Standard uncertainties allowed on top of the hand's share."""

_HAND_SHARE = {"V": 0.02, "s": 0.05, "mV": 0.5, "%": 0.1, "": 0.0}
"""What placing a peg by hand may cost, as a part of the value (noise is only ever estimated by eye)."""

_HAND_LEAST = {"V": 0.02, "s": 0.02, "mV": 3.0, "%": 3.0, "": 0.0}

_FACTORS = {
    1000.0: "millivolts were given as volts, or a factor of 1,000 is in it",
    0.001: "a value in thousandths: volts were given for millivolts, or a factor of 1,000 is missing",
    10.0: "ten times too large: probe factor x10",
    0.1: "ten times too small: probe factor x10 left out",
    100.0: "a hundred times too large",
    0.01: "a hundred times too small",
    -1.0: "the right size with the wrong sign: leads or pegs reversed",
}


@dataclass(frozen=True, slots=True)
class _Slip:
    code: str
    text: str
    score: float


def tolerance(reading: Reading) -> float:
    """How far a learner's value may lie from the tool's and be right, in the reading's unit.

    Three standard uncertainties of the measurement, and the share that placing a peg by hand may cost.
    """
    share = _HAND_SHARE.get(reading.unit, 0.02) * abs(reading.value)
    return COVERAGE * reading.uncertainty + max(share, _HAND_LEAST.get(reading.unit, 0.0))


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card["steps"] if step["kind"] == "reading"]


def _one(attempt: Attempt, step: Mapping[str, Any], points: float) -> Result:
    spec = attempt.circuit.reading(step["reading"])
    given = attempt.answers.get(step["id"]) or {}
    if spec is None or attempt.measured is None:
        return _result(step, spec, points, 0.0, 1.0, "There is no capture to read this from.")
    reading = attempt.measured.reading(spec.id)
    if given.get("absent"):
        return _absent(attempt.measured, step, spec, reading, points)
    value = given.get("value")
    if value is None:
        return _result(step, spec, points, 0.0, 1.0, f"No value was given for {spec.title.lower()}.", reading)
    if reading is None:
        why = next((m.why for m in attempt.measured.missing if m.reading == spec.id), "it is not in this capture")
        text = f"You gave {_shown(spec, value)}, but this capture cannot give it: {why}."
        return _result(step, spec, points, 0.0, 0.8, text)
    allowed = tolerance(reading)
    off = abs(value - reading.value)
    compared = f"You read {_shown(spec, value)}; the capture gives {_shown(spec, reading.value)}"
    # On the limit counts as right.
    if off <= allowed * (1 + 1e-9):
        certainty = 1.0 if allowed == 0 else 0.5 + 0.5 * min(1.0, (allowed - off) / (0.5 * allowed))
        return _result(
            step, spec, points, 1.0, certainty, f"{compared}: right within {_shown(spec, allowed)}.", reading
        )
    slip = _slip(attempt.measured, spec, value, reading, given)
    if slip is not None:
        return _result(step, spec, points, slip.score, 0.9, f"{compared}: {slip.text}.", reading, slip.code)
    if 0 < off <= 2 * allowed:
        text = f"{compared}: close, but off by {_shown(spec, off)} where {_shown(spec, allowed)} is allowed."
        return _result(step, spec, points, 0.5, 0.5, text, reading)
    certainty = min(1.0, off / (4 * allowed)) if allowed else 1.0
    return _result(step, spec, points, 0.0, certainty, f"{compared}: off by {_shown(spec, off)}.", reading)


def _absent(
    measured: Answer, step: Mapping[str, Any], spec: ReadingSpec, reading: Reading | None, points: float
) -> Result:
    if reading is None:
        why = next((m.why for m in measured.missing if m.reading == spec.id), "it is not there")
        return _result(step, spec, points, 1.0, 0.95, f"Right, there is none to read: {why}.")
    text = f"You said there is none, but the capture gives {_shown(spec, reading.value)} here."
    return _result(step, spec, points, 0.0, 0.9, text, reading, "overlooked")


def _slip(
    measured: Answer, spec: ReadingSpec, value: float, reading: Reading, given: Mapping[str, Any]
) -> _Slip | None:
    """The slip that ratio or place gives away, most specific first."""
    for other in measured.readings:
        if other.id == spec.id and other.cycle is not None and abs(value - other.value) <= tolerance(other):
            text = f"that is sweep {other.cycle}, not the {spec.definition}"
            return _Slip("wrong_sweep", text, 0.5)
    if reading.value:
        for factor, text in _FACTORS.items():
            if abs(value / factor - reading.value) <= tolerance(reading):
                return _Slip(f"factor_{factor:g}", text, 0.25)
    for other in measured.readings:
        if (
            other.id != spec.id and other.unit == reading.unit and other.cycle is None and other.unit in ("V", "s")
        ) and abs(value - other.value) <= tolerance(other):
            return _Slip("wrong_phase", f"that is {other.id}, read in the wrong place", 0.0)
    pegs = given.get("pegs") or []
    if spec.phase and pegs and not _in_phase(measured, spec.phase, pegs):
        return _Slip("wrong_phase", f"the peg does not stand in a {spec.phase} phase", 0.0)
    return None


def _in_phase(measured: Answer, name: str, pegs: list[float]) -> bool:
    return all(any(p.from_s <= peg <= p.to_s for p in measured.phases if p.name == name) for peg in pegs)


def _shown(spec: ReadingSpec, value: float) -> str:
    return f"{value:.{spec.decimals}f} {spec.unit}".strip()


def _result(
    step: Mapping[str, Any],
    spec: ReadingSpec | None,
    points: float,
    score: float,
    certainty: float,
    reason: str,
    reading: Reading | None = None,
    slip: str | None = None,
) -> Result:
    where = [Stretch(reading.from_s, reading.to_s, reading.lane)] if reading is not None else []
    title = spec.title if spec else step["id"]
    return Result(
        f"reading:{step['reading']}",
        title,
        "measure",
        step["id"],
        score,
        points,
        certainty,
        reason,
        where,
        slip,
    )


READING = Criterion(
    "reading",
    "Readings",
    "measure",
    2.0,
    "Each value against the tool's own on the same capture; half for close, a share for a named slip.",
    _judge,
)
