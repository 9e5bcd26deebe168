"""What the readers of binary files share: named rows of numbers, one of which may be time."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tracebench.core.errors import BadFile
from tracebench.formats.header import TIME_NAMES, name_and_unit
from tracebench.formats.table import TIME_FACTORS, Column, Layout, Table

MOST_COLUMNS = 2000
MOST_NUMBERS = 400_000_000
"""Of all columns together: what a machine for a class can hold while it reads."""

FIRST = 8

Read = Callable[[], NDArray[np.float64]]
"""Reads one column as float64, NaN where there is no value."""


@dataclass(frozen=True, slots=True)
class Row:
    """One column of a file: what it is called, the unit where the file tells it apart, and how it is read."""

    name: str
    unit: str
    read: Read


def damaged(kind: str, path: Path, problem: Exception) -> BadFile:
    """What a library said of a file, in one line and without where the file lies on this machine."""
    said = (str(problem).splitlines() or [""])[0].replace(str(path), "it")
    return BadFile(f"this {kind} file is damaged or of a coding that is not read: {said}", 1)


def layout_of(kind: str, rows: Iterable[Row], count: int, interval_s: float | None) -> Layout:
    """The layout of a file with `count` values in each row. Raises BadFile."""
    listed = list(rows)
    if not listed or count == 0:
        raise BadFile(f"this {kind} file holds no row of numbers; expected a column for each lane", 1)
    if len(listed) > MOST_COLUMNS or len(listed) * count > MOST_NUMBERS:
        raise BadFile(f"this {kind} file holds {len(listed):,} columns of {count:,} values: more than can be read", 1)
    names = [row.name for row in listed]
    columns, time_position, time_factor = [], None, 1.0
    for position, row in enumerate(listed, 1):
        name, unit = (row.name, row.unit) if row.unit else name_and_unit(row.name, names)
        shown = tuple(f"{value:g}" for value in row.read()[:FIRST])
        columns.append(Column(position, row.name, name, unit, shown))
        if time_position is None and name.strip().lower() in TIME_NAMES and unit.lower() in ("", *TIME_FACTORS):
            time_position, time_factor = position, TIME_FACTORS.get(unit.lower(), 1.0)
    return Layout(
        kind,
        "",
        "",
        "",
        1,
        (),
        tuple(columns),
        time_position,
        time_factor,
        interval_s if time_position is None else None,
    )


def table_of(layout: Layout, rows: Mapping[int, Row], positions: Iterable[int]) -> Table:
    """The wanted rows by position, and the time axis. Raises BadFile where one holds no number at all."""
    values = {}
    for position in positions:
        read = np.array(rows[position].read(), dtype=np.float64)
        read[~np.isfinite(read)] = np.nan
        if np.isnan(read).all():
            raise BadFile(f"column {position} ({rows[position].name}) holds no number", 1)
        values[position] = read
    at = layout.time_position
    times = None if at is None else rows[at].read() * layout.time_factor
    size = times.size if times is not None else next(iter(values.values())).size
    return Table(times, values, int(size))
