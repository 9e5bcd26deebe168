"""Which column is which lane: as the user says, or from names and units where those are clear."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import bottleneck as bn
import numpy as np

from tracebench.core.capture import Capture, Lane, capture_from_stamps
from tracebench.core.circuits.circuit import Circuit, LaneSpec
from tracebench.core.errors import BadFile, BadOption
from tracebench.formats.table import UNIT_FACTORS, Column, Layout, Table

_OTHER_NAMES = {
    "signal": (
        "wiper",
        "sensor",
        "tps",
        "throttle",
        "map",
        "pressure",
        "maf",
        "airflow",
        "oxygen",
        "o2",
        "rail",
        "crank",
    ),
    "throttle": ("tps",),
    "airflow": ("maf",),
    "oxygen": ("o2", "lambda"),
    "reference": ("ref", "vref", "supply", "5v"),
    "ground": ("gnd", "earth"),
    "supply": ("feed", "b+"),
    "cam": ("camshaft",),
    "sense": ("battery", "alternator"),
    "command": ("load", "duty", "pwm"),
}
"""What else a column may be called for a lane, unless the circuit has a lane of that name."""

PULSES_FOR_A_DUTY = ("V", "%")
"""A duty may be recorded as the pulse train itself."""


NAMED = 20
"""An error names so many of a file's columns."""


@dataclass(frozen=True, slots=True)
class Mapped:
    """A column taken as a lane; `factor` turns the file's number into the lane's unit."""

    position: int
    lane: str
    factor: float


def parse_map(text: str) -> tuple[str, str, float | None]:
    """Split COLUMN=LANE[:FACTOR]; raises BadOption that shows the form expected."""
    column, equals, rest = text.rpartition("=")
    lane, _, factor = rest.partition(":")
    if not equals or not column or not lane:
        raise BadOption(f"--map {text!r}: expected COLUMN=LANE or COLUMN=LANE:FACTOR")
    if not factor:
        return column, lane, None
    try:
        value = float(factor)
    except ValueError:
        value = float("nan")
    if not np.isfinite(value) or value == 0:
        raise BadOption(f"--map {text!r}: the factor must be a number other than 0, not {factor!r}")
    return column, lane, value


def told_mapping(layout: Layout, circuit: Circuit, maps: Sequence[tuple[str, str, float | None]]) -> list[Mapped]:
    """Resolve the user's columns and lanes; raises BadOption for an unknown or repeated one."""
    out: list[Mapped] = []
    for wanted, lane, factor in maps:
        spec = next((x for x in circuit.lanes if x.name == lane), None)
        if spec is None:
            raise BadOption(f"{circuit.code} has no lane {lane!r}; known: {', '.join(x.name for x in circuit.lanes)}")
        if any(m.lane == lane for m in out):
            raise BadOption(f"the lane {lane!r} is mapped twice")
        column = _find(layout, wanted)
        out.append(Mapped(column.position, lane, factor if factor is not None else unit_factor(column, spec)))
    return out


def _find(layout: Layout, wanted: str) -> Column:
    for column in layout.columns:
        if wanted in (column.cell, column.name, f"#{column.position}"):
            return column
    folded = wanted.strip().strip('"').lower()
    for column in layout.columns:
        if folded in (column.cell.lower(), column.name.lower()):
            return column
    known = ", ".join(c.cell or f"#{c.position}" for c in layout.columns[:NAMED])
    if len(layout.columns) > NAMED:
        known += f" and {len(layout.columns) - NAMED} more"
    raise BadOption(f"the file has no column {wanted!r}; it has: {known}")


def unit_factor(column: Column, lane: LaneSpec) -> float:
    """Factor of a stated unit into the lane's unit; 1 when no unit is stated. Raises BadOption on another quantity."""
    if not column.unit:
        return 1.0
    base, factor = UNIT_FACTORS.get(column.unit.lower(), (column.unit, 1.0))
    wanted, own = UNIT_FACTORS.get(lane.unit.lower(), (lane.unit, 1.0))
    if (base, wanted) == PULSES_FOR_A_DUTY:
        return 1.0
    if base != wanted:
        raise BadOption(
            f"column {column.cell!r} is in {column.unit}, the lane {lane.name!r} is in {lane.unit}; give a factor"
        )
    return factor / own


def guessed_mapping(layout: Layout, circuit: Circuit) -> list[Mapped]:
    """Lanes from clear names and fitting units, the rest in the circuit's lane order."""
    free = list(layout.value_columns)
    out: list[Mapped] = []
    taken = {name for lane in circuit.lanes for name in _own_names(lane)}
    for names_of in (_own_names, lambda lane: set(_OTHER_NAMES.get(lane.name, ())) - taken):
        for spec in circuit.lanes:
            if any(m.lane == spec.name for m in out):
                continue
            column = next((c for c in free if _called(c, names_of(spec)) and _fits(c, spec)), None)
            if column is not None:
                free.remove(column)
                out.append(Mapped(column.position, spec.name, unit_factor(column, spec)))
    for spec in circuit.lanes:
        if any(m.lane == spec.name for m in out):
            continue
        column = next((c for c in free if _fits(c, spec)), None)
        if column is not None:
            free.remove(column)
            out.append(Mapped(column.position, spec.name, unit_factor(column, spec)))
    order = [x.name for x in circuit.lanes]
    return sorted(out, key=lambda m: order.index(m.lane))


def _own_names(lane: LaneSpec) -> set[str]:
    return {lane.name.replace("_", " "), lane.title.lower()}


def _called(column: Column, names: set[str]) -> bool:
    """True if the column's whole name, or one of its words, is one of the names."""
    name = column.name.lower().replace("_", " ").strip()
    return name in names or bool(names & set(name.split()))


def _fits(column: Column, lane: LaneSpec) -> bool:
    base = UNIT_FACTORS.get(column.unit.lower(), (column.unit, 1.0))[0]
    wanted = UNIT_FACTORS.get(lane.unit.lower(), (lane.unit, 1.0))[0]
    return not column.unit or base == wanted or (base, wanted) == PULSES_FOR_A_DUTY


MOST_VALUE = 1e15
"""Beyond any volt, ampere or pascal of a vehicle, and far below what its square could not hold."""


def to_capture(
    layout: Layout, table: Table, mapping: Sequence[Mapped], circuit: Circuit, interval_s: float | None = None
) -> Capture:
    """Lanes on one time axis. Raises BadFile when the file has neither a time column nor an interval."""
    lanes = {}
    for m in mapping:
        column = layout.columns[m.position - 1]
        values = table.values[m.position]
        if m.factor != 1.0:
            values = values * m.factor
        # Missing cells are NaN here, and are bridged later.
        largest = max(abs(float(bn.nanmax(values))), abs(float(bn.nanmin(values)))) if values.size else 0.0
        if largest > MOST_VALUE:
            raise BadFile(f"column {m.position} holds {largest:.3g}; no lane reaches that: is it the right column?", 1)
        lanes[m.lane] = Lane(m.lane, values, circuit.lane(m.lane).unit, column.cell or f"#{m.position}", m.factor)
    if table.times_s is not None:
        return capture_from_stamps(table.times_s, lanes)
    interval = interval_s or layout.interval_s
    if interval is None:
        raise BadFile("no time column and no sampling interval in the header; say the interval in seconds", 1)
    return capture_from_stamps(np.arange(table.rows, dtype=np.float64) * interval, lanes)
