"""What records say: each row against what is expected of it, and findings with their texts.

Limits: common practice, no published source, unless the row states its own.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal, TypedDict

import numpy as np

from tracebench.core.answer import Answer, Finding
from tracebench.core.circuits import circuit
from tracebench.core.circuits.events.siblings import against_others
from tracebench.core.errors import BadOption
from tracebench.core.records.kinds import KINDS, METER_SWEEP, Column, Rows

State = Literal["inside", "outside", "told"]

LEAST_DROP = 0.4
"""Part of the others' drop under which a cylinder does not contribute."""

LEAST_GAP = 0.7
GROUND_V = 0.1
REFERENCE_V = (4.9, 5.1)
SUPPLY_V = {"running": (13.5, 14.7), "key on": (11.8, 13.2), "cranking": (9.6, 13.0)}
FOLLOWS_S = 2.0
METER_V, METER_PART = 0.02, 0.005
"""Volts and part of itself that a workshop meter may be off by (from memory)."""

LONGEST_SETTLING_S = 1.0
SCALE = {"ohm": 1.0, "kohm": 1e3, "Mohm": 1e6}


class RowSaidRow(TypedDict):
    state: str
    text: str


class RecordFindingRow(TypedDict):
    code: str
    kind: str
    text: str


class SaidRow(TypedDict):
    """What a record says, as it is sent."""

    rows: list[RowSaidRow]
    findings: list[RecordFindingRow]


@dataclass(frozen=True, slots=True)
class RowSaid:
    """One row's state and what there is to say of it."""

    state: State
    text: str


@dataclass(frozen=True, slots=True)
class Said:
    """A record judged: rows in order, findings with code, kind and text."""

    rows: tuple[RowSaid, ...]
    findings: tuple[tuple[str, Literal["fault", "note"], str], ...]

    def as_json(self) -> SaidRow:
        return {
            "rows": [{"state": r.state, "text": r.text} for r in self.rows],
            "findings": [{"code": c, "kind": k, "text": t} for c, k, t in self.findings],
        }


def checked(kind: str, rows: Any) -> list[dict[str, str]]:
    """Rows with every column as text, numbers with a decimal point. Raises BadOption that names row and column."""
    spec = KINDS.get(kind)
    if spec is None:
        raise BadOption(f"unknown kind of record {kind!r}; known: {', '.join(KINDS)}")
    if not isinstance(rows, Sequence) or not 1 <= len(rows) <= 200:
        raise BadOption(f"{spec.title}: 1 to 200 rows")
    return [_row(spec.columns, row, place) for place, row in enumerate(rows, start=1)]


def _row(columns: Sequence[Column], row: Any, place: int) -> dict[str, str]:
    if not isinstance(row, Mapping):
        raise BadOption(f"row {place}: expected an object of columns")
    out = {}
    for column in columns:
        told = row.get(column.key)
        text = "" if told is None else str(told).strip()
        if not text and column.needed:
            raise BadOption(f"row {place}: {column.title} is missing")
        if text and column.what in ("number", "resistance"):
            text = text.replace(",", ".")
            _number(text, place, column)
        if text and column.what == "choice" and text not in column.choices:
            raise BadOption(f"row {place}: {column.title} must be one of {', '.join(column.choices)}, not {text!r}")
        if len(text) > 200:
            raise BadOption(f"row {place}: {column.title} is longer than 200 characters")
        out[column.key] = text
    return out


def _number(text: str, place: int, column: Column) -> float:
    if column.what == "resistance" and text.lower() in ("infinite", "inf", "ol"):
        return math.inf
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value) or (column.what == "resistance" and value < 0):
        wanted = "a number or 'infinite'" if column.what == "resistance" else "a number"
        raise BadOption(f"row {place}: {column.title} must be {wanted}, not {text!r}")
    return value


def judged(kind: str, rows: Rows, measured: Answer | None = None) -> Said:
    """Judge checked rows. `measured` is what the core says of the capture beside the record.

    A log's actions may explain its findings; a meter is held against its levels.
    """
    if kind == "log":
        return _log(rows, measured.findings if measured is not None else ())
    if kind == METER_SWEEP:
        return _meter(rows, measured)
    return _JUDGES[kind](rows)


def _drop(rows: Rows) -> Said:
    drops = {int(float(r["cylinder"])): float(r["before_rpm"]) - float(r["disabled_rpm"]) for r in rows}
    odd = {o.cylinder for o in against_others(drops, 5.0) if o.value < LEAST_DROP * o.others and o.apart < -2}
    said, found = [], []
    for row in rows:
        cylinder = int(float(row["cylinder"]))
        drop = drops[cylinder]
        bad = cylinder in odd
        said.append(RowSaid("outside" if bad else "inside", f"falls by {drop:.0f} rpm"))
        if bad:
            text = f"cylinder {cylinder} falls by only {drop:.0f} rpm with it off: it does not contribute"
            found.append(("no_contribution", "fault", text))
    return _said(said, found)


def _swap(rows: Rows) -> Said:
    said, found = [], []
    for row in rows:
        what, way = row["part"], f"from {row['from_place']} to {row['to_place']}"
        if row["moved"] == "yes":
            said.append(RowSaid("outside", "the fault moved with it"))
            found.append(("fault_moved", "fault", f"the fault moved with the {what} {way}: the {what} has it"))
        else:
            said.append(RowSaid("inside", "the fault stayed"))
            found.append(("fault_stayed", "note", f"the fault stayed when the {what} went {way}: it is cleared"))
    return _said(said, found)


def _gap(rows: Rows) -> Said:
    gaps = {k: float(r["gap_mm"]) for k, r in enumerate(rows)}
    weak = {o.cylinder for o in against_others(gaps, 0.5) if o.value < LEAST_GAP * o.others}
    said, found = [], []
    for k, row in enumerate(rows):
        bad = k in weak
        said.append(RowSaid("outside" if bad else "told", f"jumps {gaps[k]:g} mm"))
        if bad:
            text = f"tower {row['tower']} jumps only {gaps[k]:g} mm where the others jump more: coil or its lead"
            found.append(("weak_gap", "fault", text))
    return _said(said, found)


def _resistance(rows: Rows) -> Said:
    said, found = [], []
    for row in rows:
        scale = SCALE[row["unit"]]
        value, low, high = (_ohms(row[key], scale) for key in ("value", "low", "high"))
        shown = "infinite" if value is None or math.isinf(value) else f"{row['value']} {row['unit']}"
        if value is None or (low is None and high is None):
            said.append(RowSaid("told", f"{shown}; no figure to hold it against"))
            continue
        good = (low is None or value >= low) and (high is None or value <= high)
        said.append(RowSaid("inside" if good else "outside", shown))
        if not good and low is not None and math.isinf(low):
            text = f"{row['terminals']}: {shown} where it must be infinite: it leaks, and that condemns the part"
            found.append(("leak_to_body", "fault", text))
        elif not good:
            text = f"{row['terminals']}: {shown}, expected {row['low'] or '…'} to {row['high'] or '…'} {row['unit']}"
            found.append(("resistance_off", "fault", text))
    return _said(said, found)


def _ohms(text: str, scale: float) -> float | None:
    if not text:
        return None
    return math.inf if text.lower() in ("infinite", "inf", "ol") else float(text) * scale


def _voltage(rows: Rows) -> Said:
    said, found = [], []
    for row in rows:
        volts, point, state = float(row["volts"]), row["point"], row["state"]
        if row["loaded"] == "no" and point in ("ground", "supply", "reference"):
            said.append(RowSaid("told", f"{volts:g} V unloaded: proves nothing, measure it plugged in"))
            continue
        low, high = _expected(point, state)
        good = (low is None or volts >= low) and (high is None or volts <= high)
        said.append(RowSaid("inside" if good else "outside", f"{volts:g} V"))
        if good:
            continue
        code = {"ground": "ground_high", "reference": "reference_off"}.get(point, "supply_low")
        if code == "supply_low" and high is not None and volts > high:
            code = "supply_high"
        bound = " to ".join(f"{b:g}" for b in (low, high) if b is not None)
        found.append((code, "fault", f"{point} {volts:g} V with {state}, expected {bound} V (common practice)"))
    return _said(said, found)


def _expected(point: str, state: str) -> tuple[float | None, float | None]:
    if point == "ground":
        return None, GROUND_V
    if point == "reference":
        return REFERENCE_V if state != "key off" else (None, None)
    return SUPPLY_V.get(state, (None, None))


def _log(rows: Rows, findings: Sequence[Finding]) -> Said:
    """An action and the first fault that begins within two seconds after it."""
    said, found = [], []
    for row in rows:
        at = float(row["at_s"])
        after = [f for f in findings if f.kind == "fault" and 0 <= f.from_s - at <= FOLLOWS_S]
        if after:
            first = min(after, key=lambda f: f.from_s)
            text = f"{first.code.replace('_', ' ')} follows after {first.from_s - at:.2f} s"
            said.append(RowSaid("outside", text))
            found.append(("follows_action", "note", f"{row['action']} at {row['where']}, {at:g} s: {text}"))
        else:
            said.append(RowSaid("inside", "nothing follows"))
    return _said(said, found)


def _meter(rows: Rows, measured: Answer | None) -> Said:
    """Each figure against the level that the capture has there, and what the meter is too slow to show."""
    at = np.array([float(r["at_s"]) for r in rows])
    between = float(np.min(np.diff(np.sort(at)), initial=LONGEST_SETTLING_S))
    said, found = [], []
    for row, instant in zip(rows, at, strict=True):
        volts, level = float(row["volts"]), _level_at(measured, float(instant), between)
        if level is None:
            said.append(RowSaid("told", f"{volts:g} V, on the move"))
            continue
        title, value, decimals = level
        good = abs(volts - value) <= METER_V + METER_PART * abs(value)
        there = f"{title} is {value:.{decimals}f} V on the scope"
        said.append(RowSaid("inside" if good else "outside", f"{volts:g} V; {there}"))
        if not good:
            found.append(("meter_off", "note", f"at {instant:g} s the meter shows {volts:g} V where the {there}"))
    for fault in measured.findings if measured is not None else ():
        for start, end in fault.shows_in if fault.kind == "fault" else ():
            if end - start < between and float(at.min()) <= start <= float(at.max()):
                lasts = f"{1000 * (end - start):.0f} ms at {start:.2f} s"
                text = f"{fault.code.replace('_', ' ')}, {lasts}: shorter than the {between:.2g} s between two figures"
                found.append(("meter_too_slow", "note", f"{text}; the scope shows it, a meter cannot"))
                break
    return _said(said, found)


def _level_at(measured: Answer | None, instant: float, before: float) -> tuple[str, float, int] | None:
    """Title, value and decimals of the level in volts that the capture holds at an instant, and held until then."""
    if measured is None:
        return None
    kind = circuit(measured.circuit)
    main = kind.main_lane(lane.lane for lane in measured.lanes) if measured.lanes else kind.lanes[0].name
    phases = {p.name for p in measured.phases if p.from_s <= instant - before and instant <= p.to_s}
    for spec in kind.readings:
        reading = measured.reading(spec.id) if spec.phase in phases else None
        if reading is not None and (spec.how, spec.unit, reading.lane) == ("level", "V", main):
            return spec.title.lower(), reading.value, spec.decimals
    return None


def _unplug(rows: Rows) -> Said:
    said, found = [], []
    for row in rows:
        if row["came_back"] == "yes":
            said.append(RowSaid("outside", "the reference came back"))
            found.append(("pulls_down", "fault", f"the reference came back with {row['unplugged']} unplugged"))
        else:
            said.append(RowSaid("inside", "the reference stayed as it was"))
    return _said(said, found)


def _scan(rows: Rows) -> Said:
    return _said([RowSaid("told", f"{row['value']} {row['unit']}".strip()) for row in rows], [])


def _look(rows: Rows) -> Said:
    said, found = [], []
    for row in rows:
        faulty = row["seen"] == "faulty"
        said.append(RowSaid("outside" if faulty else "inside", f"{row['what']}: {row['seen']}"))
        if faulty:
            found.append(("seen_faulty", "fault", f"{row['what']} seen to be faulty"))
    return _said(said, found)


def _road(rows: Rows) -> Said:
    return _said([RowSaid("told", "occurred" if r["occurred"] == "yes" else "did not occur") for r in rows], [])


def _repair(rows: Rows) -> Said:
    said = [RowSaid("told", "cured" if r["cured"] == "yes" else "not cured") for r in rows]
    found = [("not_cured", "note", f"{r['cause']}: its repair cured nothing") for r in rows if r["cured"] == "no"]
    return _said(said, found)


_JUDGES: Mapping[str, Callable[[Rows], Said]] = {
    "unplug-one-by-one": _unplug,
    "scan-data": _scan,
    "look-and-move": _look,
    "road-test": _road,
    "repair": _repair,
    "cylinder-drop": _drop,
    "swap": _swap,
    "spark-gap": _gap,
    "resistance": _resistance,
    "voltage": _voltage,
}


def _said(rows: list[RowSaid], found: list[Any]) -> Said:
    return Said(tuple(rows), tuple(found))
