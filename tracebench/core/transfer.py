"""Transfer functions from a sensor's volts to what it senses: data with parameters, and their inverses."""

from __future__ import annotations

import math
from bisect import bisect_left
from dataclasses import dataclass

KELVIN = 273.15


@dataclass(frozen=True, slots=True)
class Linear:
    """quantity = offset + per_volt x volts."""

    offset: float
    per_volt: float
    unit: str

    def of(self, volts: float) -> float:
        return self.offset + self.per_volt * volts

    def volts(self, quantity: float) -> float:
        return (quantity - self.offset) / self.per_volt


def through(unit: str, low_v: float, low: float, high_v: float, high: float) -> Linear:
    """The straight line through two points."""
    per_volt = (high - low) / (high_v - low_v)
    return Linear(low - per_volt * low_v, per_volt, unit)


@dataclass(frozen=True, slots=True)
class Pieces:
    """Straight between points: lane values in rising order, and what each stands for."""

    lane: tuple[float, ...]
    quantity: tuple[float, ...]

    def holds(self, value: float) -> bool:
        return self.lane[0] <= value <= self.lane[-1]

    def at(self, value: float) -> Linear:
        """The straight line that holds at a lane value; the first or last one beyond the ends."""
        k = min(max(bisect_left(self.lane, value) - 1, 0), len(self.lane) - 2)
        return through("", self.lane[k], self.quantity[k], self.lane[k + 1], self.quantity[k + 1])


PRESSURE = through("kPa", 0.5, 20.0, 4.7, 105.0)
"""Absolute pressure sensor for exercises: made up, set per sensor."""


def standard_pressure_kpa(altitude_m: float) -> float:
    """Air pressure of the standard atmosphere up to 11 km. Source: ISO 2533:1975, troposphere layer."""
    temperature = 288.15 - 0.0065 * altitude_m
    return float(101.325 * (temperature / 288.15) ** (9.80665 * 0.0289644 / (8.31446 * 0.0065)))


@dataclass(frozen=True, slots=True)
class Divider:
    """A thermistor to ground below a pull-up: volts = supply x R / (R + pull_up)."""

    supply_v: float
    pull_up_ohm: float

    def ohm(self, volts: float) -> float:
        return self.pull_up_ohm * volts / (self.supply_v - volts)

    def volts(self, ohm: float) -> float:
        return self.supply_v * ohm / (ohm + self.pull_up_ohm)


@dataclass(frozen=True, slots=True)
class SteinhartHart:
    """1/T = a + b ln R + c (ln R)^3. Source: Steinhart and Hart, Deep-Sea Research 15, 1968."""

    a: float
    b: float
    c: float

    def celsius(self, ohm: float) -> float:
        log = math.log(ohm)
        return 1 / (self.a + self.b * log + self.c * log**3) - KELVIN

    def ohm(self, celsius: float) -> float:
        """Resistance at a temperature: the real root of the cubic in ln R (closed form), or exp for c = 0."""
        x = self.a - 1 / (celsius + KELVIN)
        if self.c == 0:
            return math.exp(-x / self.b)
        y = math.sqrt((self.b / (3 * self.c)) ** 3 + (x / (2 * self.c)) ** 2)
        half = x / (2 * self.c)
        return math.exp(_cbrt(y - half) - _cbrt(y + half))


def _cbrt(value: float) -> float:
    return math.copysign(abs(value) ** (1 / 3), value)


def beta_thermistor(ohm_25: float, beta: float) -> SteinhartHart:
    """The beta equation R = R25 exp(beta (1/T - 1/298.15 K)) as coefficients with c = 0."""
    return SteinhartHart(1 / 298.15 - math.log(ohm_25) / beta, 1 / beta, 0.0)


INTAKE = beta_thermistor(2046.0, 3500.0)
INTAKE_DIVIDER = Divider(5.0, 3750.0)
"""Thermistor and pull-up for exercises, made up to give the common-practice 2 V at 20 C; set per sensor."""
