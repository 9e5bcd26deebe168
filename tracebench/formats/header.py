"""What stands above the numbers: names, units and the sampling interval, told from notes and settings."""

from __future__ import annotations

import re
from dataclasses import dataclass

from tracebench.formats.cells import COMMENTS, split
from tracebench.formats.table import TIME_FACTORS, UNIT_FACTORS, Column

LONGEST_NAME, LONGEST_SETTING = 200, 500
"""Characters of a column's name, and of a line that states an interval, that are looked at by a pattern."""

LEAST_SETTING = 1e-30

_UNIT_IN_NAME = re.compile(r"^(?P<name>.*?)\s*(?:[\(\[](?P<unit>[^\)\]]+)[\)\]]|/\s*(?P<slash>[A-Za-zµμ]+))\s*$")
_UNIT_SUFFIX = re.compile(r"^(?P<name>.+?)[ _](?:in )?(?P<unit>[A-Za-zµμ]+)$")
_LETTERED = re.compile(r"^(?P<stem>.+?)[ _](?P<letter>[A-Za-z])$")
_COUNTED = frozenset(("channel", "chan", "ch", "kanal", "input", "in", "probe", "trace", "lane", "port", "column"))
"""What a recorder counts with letters: an A behind one of these is its place and no ampere."""

_SETTING = re.compile(r"^[+-]?[\d.,:/\s+-]*\d[\d.,:/\s+-]*([eE][+-]?\d+)?\s*[A-Za-zµμ%/]{0,8}$")
"""A value, with or without its unit, a date or a time of day: what no column is called."""

TIME_NAMES = frozenset(
    (
        "time",
        "t",
        "zeit",
        "times",
        "timestamp",
        "time stamp",
        "x",
        "sec",
        "seconds",
        "elapsed",
        "elapsed time",
    )
)

_VALUE = (
    r"(?:\W{1,3}(?:in\W+)?(?P<before>[a-zA-Zµμ/]{1,5})(?=\W))?[^0-9+\-.]{0,40}?"
    r"(?P<value>[+-]?\d+(?:[.,]\d+)?(?:[eE][+-]?\d+)?)\W{0,3}(?P<unit>[a-zA-Zµμ/]*)"
)
_INTERVAL = re.compile(
    r"(?:sampl\w*|time|x)?\s*(?:interval|increment|period|step|delta\s*t|delta\s*x|\bdt\b|Δt)" + _VALUE,
    re.IGNORECASE,
)
_RATE = re.compile(r"(?:sampl\w*\s*(?:rate|frequency|freq)|samples\s*per\s*second|\brate\b)" + _VALUE, re.IGNORECASE)
_RATE_FACTORS = {
    "hz": 1.0,
    "khz": 1e3,
    "mhz": 1e6,
    "s/s": 1.0,
    "sa/s": 1.0,
    "ks/s": 1e3,
    "ksa/s": 1e3,
    "ms/s": 1e6,
    "msa/s": 1e6,
    "sps": 1.0,
    "ksps": 1e3,
}


def columns_of(header: list[str], rows: list[list[str]], delimiter: str, width: int) -> list[Column]:
    """The columns of the data below `header`; `rows` are its first cells, shown with each column."""
    cells, units = _names(header, delimiter, width)
    columns = []
    for k, (cell, unit) in enumerate(zip(cells, units, strict=True)):
        name, found = (cell, unit) if unit else name_and_unit(cell, cells)
        first = tuple(row[k] for row in rows if k < len(row))
        columns.append(Column(k + 1, cell, name or f"column {k + 1}", found, first))
    return columns


def interval_of(header: list[str]) -> float | None:
    """Sampling interval in s by a line that states it or the rate, its unit before or behind the value."""
    for line in header:
        if len(line) > LONGEST_SETTING:
            continue
        for pattern, factors, plain in ((_INTERVAL, TIME_FACTORS, "s"), (_RATE, _RATE_FACTORS, "hz")):
            match = pattern.search(line)
            if match is None:
                continue
            behind, before = match["unit"].lower(), (match["before"] or "").lower()
            unit = behind if behind in factors else before if before in factors else behind or plain
            value = float(match["value"].replace(",", "."))
            if unit in factors and LEAST_SETTING < value < 1 / LEAST_SETTING:
                return value * factors[unit] if pattern is _INTERVAL else 1.0 / (value * factors[unit])
    return None


@dataclass(frozen=True, slots=True)
class _Row:
    """A line as wide as the data."""

    cells: list[str]
    comment: bool
    apart: bool
    """True if a blank line lies between it and the data."""
    setting: bool
    """True if it holds a value, and so no names."""

    @property
    def units(self) -> bool:
        known = [_bare(c).lower() in UNIT_FACTORS or _bare(c).lower() in TIME_FACTORS for c in self.cells if c]
        return bool(known) and all(known)

    @property
    def sure(self) -> bool:
        """True if it names a time or a unit and no value."""
        return not self.setting and any(c.lower() in TIME_NAMES or name_and_unit(c, self.cells)[1] for c in self.cells)

    @property
    def likely(self) -> bool:
        """True if it could name columns: next to the data, no comment, and without a value."""
        return not (self.comment or self.apart or self.setting)


def _names(header: list[str], delimiter: str, width: int) -> tuple[list[str], list[str]]:
    """Header cells and the cells of a units row, each as long as the data is wide."""
    rows: list[_Row] = []
    apart = False
    for line in reversed(header):
        if not line.strip():
            apart = True
            continue
        cells = split(line.lstrip().lstrip("#%/!").lstrip(), delimiter)
        if width <= len(cells) <= width + 1 or (len(cells) == width - 1 and rows):
            setting = any(_SETTING.match(cell[:LONGEST_NAME]) for cell in cells) or interval_of([line]) is not None
            rows.append(_Row((cells + [""] * width)[:width], line.lstrip().startswith(COMMENTS), apart, setting))
    bare = [""] * width
    at = next((k for k, row in enumerate(rows) if row.units), None)
    if at is not None and all(row.comment for row in rows[:at]):
        above = next((row for row in rows[at + 1 :] if not row.comment or rows[at].comment), None)
        if above is not None and not above.setting:
            return above.cells, [_bare(cell) for cell in rows[at].cells]
        lettered = set(rows[at].cells) <= {"A", ""}  # alone, as a recorder's first channel and no ampere
        return (rows[at].cells, bare) if lettered else (bare, [_bare(cell) for cell in rows[at].cells])
    row = next((r for r in rows if r.sure), None) or next((r for r in rows if r.likely), None)
    return (row.cells if row is not None else bare), bare


def _bare(cell: str) -> str:
    return cell.strip().strip("()[]{}").strip()


def name_and_unit(cell: str, cells: list[str]) -> tuple[str, str]:
    """A column's name apart from its unit; `cells` are those beside it, which tell a letter from an ampere."""
    if len(cell) > LONGEST_NAME:
        return cell[:LONGEST_NAME], ""
    for pattern in (_UNIT_IN_NAME, _UNIT_SUFFIX):
        match = pattern.match(cell)
        if match:
            unit = match.groupdict().get("unit") or match.groupdict().get("slash") or ""
            if pattern is _UNIT_SUFFIX and _counts(cell, cells):
                continue
            if unit.lower() in UNIT_FACTORS or unit.lower() in TIME_FACTORS:
                return match["name"].strip(), unit
    return cell, ""


def _counts(cell: str, cells: list[str]) -> bool:
    """True if the letter that ends the cell counts channels: behind a word for one, or beside the same with a B."""
    own = _LETTERED.match(cell)
    if own is None:
        return False
    if own["stem"].lower() in _COUNTED:
        return own["letter"].lower() not in TIME_FACTORS
    others = [m["letter"].lower() for m in map(_LETTERED.match, cells) if m is not None and m["stem"] == own["stem"]]
    return any(letter not in UNIT_FACTORS and letter not in TIME_FACTORS for letter in others)
