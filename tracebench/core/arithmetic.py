"""Small calculations of the workshop, each with its working: the lines that one would write on paper."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from tracebench.core.errors import BadOption
from tracebench.core.transfer import through


@dataclass(frozen=True, slots=True)
class Input:
    """A figure that goes in. It must be over `over`, and at most `most`."""

    key: str
    title: str
    unit: str
    over: float = 0.0
    most: float = 1e6


@dataclass(frozen=True, slots=True)
class Worked:
    """A result in its unit, and the lines of its working."""

    value: float
    unit: str
    lines: tuple[str, ...]


Steps = tuple[float, tuple[str, ...]]
"""What comes out, and the lines of the working."""


@dataclass(frozen=True, slots=True)
class Calculation:
    key: str
    title: str
    rule: str
    inputs: tuple[Input, ...]
    unit: str
    """What comes out is in; empty where it is that of what went in."""
    work: Callable[..., Steps]


def figure(value: float) -> str:
    """Up to five significant figures, without powers of ten and trailing noughts."""
    if value == 0:
        return "0"
    places = max(0, 4 - math.floor(math.log10(abs(value))))
    text = f"{value:.{min(places, 9)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def _clamp(volts: float, mv_per_a: float) -> Steps:
    amperes = 1000 * volts / mv_per_a
    lines = (
        f"{figure(volts)} V = {figure(1000 * volts)} mV",
        f"{figure(1000 * volts)} mV / {figure(mv_per_a)} mV/A = {figure(amperes)} A",
    )
    return amperes, lines


def _group(injectors: float, each_a: float) -> Steps:
    total = injectors * each_a
    return total, (f"{figure(injectors)} x {figure(each_a)} A = {figure(total)} A",)


def _resistance(volts: float, amperes: float) -> Steps:
    ohm = volts / amperes
    return ohm, (f"R = U / I = {figure(volts)} V / {figure(amperes)} A = {figure(ohm)} ohm",)


def _current(volts: float, ohm: float) -> Steps:
    amperes = volts / ohm
    return amperes, (f"I = U / R = {figure(volts)} V / {figure(ohm)} ohm = {figure(amperes)} A",)


def _energy(millihenry: float, amperes: float) -> Steps:
    joule = 0.5 * millihenry * amperes**2
    lines = (
        f"{figure(amperes)} A squared = {figure(amperes**2)} A2",
        f"E = 1/2 L I2 = 0.5 x {figure(millihenry)} mH x {figure(amperes**2)} A2 = {figure(joule)} mJ",
    )
    return joule, lines


def _dwell(dwell_ms: float, rpm: float) -> Steps:
    degrees = 6 * rpm * dwell_ms / 1000
    lines = (
        f"{figure(rpm)} rpm = {figure(rpm / 60)} turns a second = {figure(6 * rpm)} degrees a second",
        f"{figure(6 * rpm)} degrees/s x {figure(dwell_ms)} ms / 1000 = {figure(degrees)} crank degrees",
    )
    return degrees, lines


def _duty(on_ms: float, period_ms: float) -> Steps:
    if on_ms > period_ms:
        raise BadOption(f"On-time of {figure(on_ms)} ms is longer than the period of {figure(period_ms)} ms")
    duty = 100 * on_ms / period_ms
    return duty, (f"{figure(on_ms)} ms / {figure(period_ms)} ms x 100 % = {figure(duty)} %",)


def _speed(hertz: float, cylinders: float, turns: float) -> Steps:
    rpm = 60 * hertz * turns / cylinders
    lines = (
        f"{figure(hertz)} events/s / {figure(cylinders)} a cycle = {figure(hertz / cylinders)} cycles a second",
        f"{figure(hertz / cylinders)} x {figure(turns)} turns x 60 = {figure(rpm)} rpm",
    )
    return rpm, lines


def _part_of_step(before: float, after: float, percent: float) -> Steps:
    size = after - before
    level = before + percent / 100 * size
    lines = (
        f"{figure(after)} - {figure(before)} = {figure(size)}",
        f"{figure(before)} + {figure(percent)} / 100 x {figure(size)} = {figure(level)}",
    )
    return level, lines


def _response(first_s: float, second_s: float) -> Steps:
    if second_s < first_s:
        raise BadOption("the second instant must not lie before the first")
    ms = 1000 * (second_s - first_s)
    # Instants late in a record differ in digits that five figures do not hold.
    lines = (
        f"{second_s:.10g} s - {first_s:.10g} s = {figure(second_s - first_s)} s",
        f"{figure(second_s - first_s)} s x 1000 = {figure(ms)} ms",
    )
    return ms, lines


def _transfer(low_v: float, low: float, high_v: float, high: float, volts: float) -> Steps:
    if high_v == low_v:
        raise BadOption("the two points must have different voltages")
    line = through("", low_v, low, high_v, high)
    per_volt, value = line.per_volt, line.of(volts)
    lines = (
        f"({figure(high)} - {figure(low)}) / ({figure(high_v)} V - {figure(low_v)} V) = {figure(per_volt)} a volt",
        f"{figure(low)} + {figure(per_volt)} x ({figure(volts)} V - {figure(low_v)} V) = {figure(value)}",
    )
    return value, lines


CALCULATIONS: Mapping[str, Calculation] = {
    c.key: c
    for c in (
        Calculation(
            "clamp",
            "Current from a clamp",
            "amperes = millivolts / factor",
            (Input("volts", "Voltage shown", "V"), Input("mv_per_a", "Clamp factor", "mV/A")),
            "A",
            _clamp,
        ),
        Calculation(
            "group",
            "Current of a group",
            "expected = injectors x current of each",
            (Input("injectors", "Injectors together", ""), Input("each_a", "Current of each", "A")),
            "A",
            _group,
        ),
        Calculation(
            "resistance",
            "Resistance from current",
            "R = U / I",
            (Input("volts", "Voltage", "V"), Input("amperes", "Current", "A")),
            "ohm",
            _resistance,
        ),
        Calculation(
            "current",
            "Full current",
            "I = U / R",
            (Input("volts", "Supply", "V"), Input("ohm", "Resistance", "ohm")),
            "A",
            _current,
        ),
        Calculation(
            "energy",
            "Energy in a coil",
            "E = 1/2 L I2",
            (Input("millihenry", "Inductance", "mH"), Input("amperes", "Current at release", "A")),
            "mJ",
            _energy,
        ),
        Calculation(
            "dwell",
            "Dwell as an angle",
            "degrees = 6 x rpm x seconds",
            (Input("dwell_ms", "Dwell", "ms"), Input("rpm", "Engine speed", "rpm")),
            "°",
            _dwell,
        ),
        Calculation(
            "duty",
            "Duty",
            "on-time / period",
            (Input("on_ms", "On-time", "ms"), Input("period_ms", "Period", "ms")),
            "%",
            _duty,
        ),
        Calculation(
            "speed",
            "Engine speed from events",
            "rpm = 60 x events/s x turns a cycle (2 for four strokes) / events a cycle",
            (
                Input("hertz", "Events a second", "Hz"),
                Input("cylinders", "Events a cycle", ""),
                Input("turns", "Turns a cycle", "", most=2.0),
            ),
            "rpm",
            _speed,
        ),
        Calculation(
            "part",
            "Level at a part of a step",
            "before + percent of the step; a response is timed from 10 % to 90 % (IEEE 181)",
            (
                Input("before", "Level before", "", over=-1e6),
                Input("after", "Level after", "", over=-1e6),
                Input("percent", "Part of the step", "%", over=-1e-9, most=100.0),
            ),
            "",
            _part_of_step,
        ),
        Calculation(
            "response",
            "Response time",
            "second instant - first instant, where the trace passes 10 % and 90 % of the step (IEEE 181)",
            (
                Input("first_s", "Instant at 10 %", "s", over=-1e6),
                Input("second_s", "Instant at 90 %", "s", over=-1e6),
            ),
            "ms",
            _response,
        ),
        Calculation(
            "transfer",
            "What a voltage stands for",
            "straight between two points of the sensor's own: kPa, degrees, g/s, bar",
            (
                Input("low_v", "First point", "V", over=-1e6),
                Input("low", "First stands for", "", over=-1e6),
                Input("high_v", "Second point", "V", over=-1e6),
                Input("high", "Second stands for", "", over=-1e6),
                Input("volts", "Voltage read", "V", over=-1e6),
            ),
            "",
            _transfer,
        ),
    )
}


def worked(key: str, figures: Mapping[str, Any]) -> Worked:
    """A calculation with its working. Raises BadOption that names the figure and what it may be."""
    calculation = CALCULATIONS.get(key)
    if calculation is None:
        raise BadOption(f"unknown calculation {key!r}; known: {', '.join(CALCULATIONS)}")
    values = {i.key: _value(i, figures.get(i.key)) for i in calculation.inputs}
    value, lines = calculation.work(**values)
    return Worked(value, calculation.unit, lines)


def _value(wanted: Input, given: Any) -> float:
    text = str(given if given is not None else "").strip().replace(",", ".")
    if not text:
        raise BadOption(f"{wanted.title} is missing")
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise BadOption(f"{wanted.title} must be a number, not {text!r}")
    if not wanted.over < value <= wanted.most:
        raise BadOption(f"{wanted.title} must be over {wanted.over:g} and at most {wanted.most:g}, not {text}")
    return value
