"""What every reader of a file answers: columns of numbers and how their time axis is given."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tracebench.core.errors import BadFile

UNIT_FACTORS: dict[str, tuple[str, float]] = {
    "v": ("V", 1.0),
    "mv": ("V", 1e-3),
    "uv": ("V", 1e-6),
    "µv": ("V", 1e-6),
    "μv": ("V", 1e-6),
    "kv": ("V", 1e3),
    "volt": ("V", 1.0),
    "volts": ("V", 1.0),
    "a": ("A", 1.0),
    "ma": ("A", 1e-3),
    "amp": ("A", 1.0),
    "amps": ("A", 1.0),
    "%": ("%", 1.0),
}
"""Stated unit (lower case) -> base unit and the factor into it."""

TIME_FACTORS: dict[str, float] = {
    "s": 1.0,
    "sec": 1.0,
    "secs": 1.0,
    "second": 1.0,
    "seconds": 1.0,
    "ms": 1e-3,
    "msec": 1e-3,
    "milliseconds": 1e-3,
    "us": 1e-6,
    "µs": 1e-6,
    "μs": 1e-6,
    "usec": 1e-6,
    "microseconds": 1e-6,
    "ns": 1e-9,
    "min": 60.0,
}


@dataclass(frozen=True, slots=True)
class Column:
    """One column: `position` counts from 1, `cell` is the header cell as it stands, `name` is without its unit."""

    position: int
    cell: str
    name: str
    unit: str
    first_values: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Layout:
    """How a file was understood, before its numbers are read."""

    format: str
    encoding: str
    delimiter: str
    decimal: str
    data_line: int
    header: tuple[str, ...]
    columns: tuple[Column, ...]
    time_position: int | None
    time_factor: float
    interval_s: float | None

    @property
    def value_columns(self) -> tuple[Column, ...]:
        return tuple(c for c in self.columns if c.position != self.time_position)


@dataclass(frozen=True, slots=True, eq=False)
class Table:
    """Numbers of the wanted columns, by position; `times_s` is None when only an interval is known."""

    times_s: NDArray[np.float64] | None
    values: dict[int, NDArray[np.float64]]
    rows: int


def layout_as_json(layout: Layout) -> dict[str, Any]:
    """A layout as a document."""
    return asdict(layout)


def layout_of_json(document: Mapping[str, Any]) -> Layout:
    """The layout that a document was made of. Raises BadFile where it is none."""
    try:
        columns = tuple(Column(**{**c, "first_values": tuple(c["first_values"])}) for c in document["columns"])
        return Layout(**{**document, "header": tuple(document["header"]), "columns": columns})
    except (KeyError, TypeError):
        raise BadFile("this file breaks its reader: what it answers makes no sense", 1) from None
