"""Lines of delimited text as cells, and cells as numbers."""

from __future__ import annotations

import csv
import re
from typing import Any

COMMENTS = ("#", "%", "//", "!")
MISSING = (
    "",
    "-",
    "--",
    "---",
    "*",
    "***",
    "OL",
    "OF",
    "N/A",
    "#N/A",
    "NA",
    "null",
    "∞",
    "-∞",
    "+∞",
    "NaN",
    "nan",
)

LONGEST_NUMBER = 400
"""Characters of a cell that may be a number; a longer one is none, and is not looked at by a pattern."""

_NUMBER = re.compile(r"^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$|^[+-]?(inf|infinity|nan)$", re.IGNORECASE)


def split(line: str, delimiter: str) -> list[str]:
    """The cells of a line; a line with a cell longer than the csv module takes (131,072) is one cell."""
    if delimiter == " ":
        return line.split()
    try:
        return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter), [])]
    except csv.Error:
        return [line]


def number(cell: str, decimal: str) -> float | None:
    """The cell as a number, NaN if missing, None if neither."""
    if len(cell) > LONGEST_NUMBER:
        return None
    if cell in MISSING:
        return float("nan")
    text = cell.replace(",", ".") if decimal == "," and "." not in cell else cell
    return float(text) if _NUMBER.match(text) else None


FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""How a cell begins that programs for tables take for a formula and carry out."""


def harmless(cell: Any) -> Any:
    """A cell of a table that is written: a text that would be carried out begins with an apostrophe instead."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(FORMULA) else cell
