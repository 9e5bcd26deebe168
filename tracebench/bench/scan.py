"""The trainer's scan tool: parameter values of the same engine run, time-stamped at the controller's own pace.

Scaling of standard parameters: SAE J1979 (ISO 15031-5), service 01. Each value is encoded into the bytes that the
standard defines and decoded again, so it has the standard's steps.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.vehicle.engine import Run

Points = list[tuple[float, float]]


@dataclass(frozen=True, slots=True)
class Parameter:
    """One parameter of service 01: value = raw x scale + offset, raw in `size` bytes, most significant first."""

    pid: int
    name: str
    unit: str
    size: int
    scale: float
    offset: float

    def encoded(self, value: float) -> bytes:
        """The bytes a controller answers; a value beyond the parameter's reach stays at its end."""
        raw = round((value - self.offset) / self.scale)
        return int(min(max(raw, 0), 256**self.size - 1)).to_bytes(self.size, "big")

    def decoded(self, raw: bytes) -> float:
        return int.from_bytes(raw, "big") * self.scale + self.offset


PARAMETERS: Mapping[str, Parameter] = {
    p.name: p
    for p in (
        Parameter(0x05, "coolant", "°C", 1, 1.0, -40.0),
        Parameter(0x0B, "manifold pressure", "kPa", 1, 1.0, 0.0),
        Parameter(0x0C, "engine speed", "rpm", 2, 0.25, 0.0),
        Parameter(0x0D, "vehicle speed", "km/h", 1, 1.0, 0.0),
        Parameter(0x0F, "intake air", "°C", 1, 1.0, -40.0),
        Parameter(0x10, "airflow", "g/s", 2, 0.01, 0.0),
        Parameter(0x11, "throttle", "%", 1, 100 / 255, 0.0),
        Parameter(0x33, "barometer", "kPa", 1, 1.0, 0.0),
        Parameter(0x42, "controller supply", "V", 2, 0.001, 0.0),
    )
}

_OF_RUN: Mapping[str, Callable[[Run], NDArray[np.float64]]] = {
    "engine speed": lambda r: r.rpm,
    "manifold pressure": lambda r: r.manifold_kpa,
    "airflow": lambda r: r.airflow_gs,
    "throttle": lambda r: 14.0 + 70.0 * r.travel,
    "controller supply": lambda r: r.battery_v,
}


def of_run(run: Run, names: Sequence[str]) -> dict[str, NDArray[np.float64]]:
    """Courses of the named parameters over an engine run, on its grid."""
    return {name: _OF_RUN[name](run) for name in names}


def scanned(
    courses: Mapping[str, NDArray[np.float64]], step_s: float, start_s: float, seconds: float, rng: np.random.Generator
) -> dict[str, Points]:
    """Values of parameters as (seconds from the record's start, value), one update after another.

    `courses` have a value every `step_s`, and the record begins `start_s` into them. The tool asks for one parameter
    at a time, so that each comes once a round; a round takes 50 to 500 ms.
    """
    each = rng.uniform(0.045, 0.075)
    out: dict[str, Points] = {name: [] for name in courses}
    at = rng.uniform(0, each)
    while at < seconds:
        for name, values in courses.items():
            parameter = PARAMETERS[name]
            value = float(values[min(int((start_s + at) / step_s), values.size - 1)])
            out[name].append((round(at, 4), round(parameter.decoded(parameter.encoded(value)), 4)))
            at += each * rng.uniform(0.85, 1.3)
    return out
