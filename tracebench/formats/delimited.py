"""Delimited text as scopes export it. A specimen, one of many dialects:

    # bay 2, sensor ground
    Sample interval;100;us
    Time;"Channel A";Channel B
    (ms);(V);(mV)
    0,0;0,512;31
    0,1;0,513;30

Delimiter, decimal mark, units, header and comment lines are found from the head of the file; the
numbers are then streamed through pyarrow, which reads every cell as float() would.
"""

from __future__ import annotations

import io
import itertools
import math
import re
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.csv as pacsv

from tracebench.core.capture import Capture
from tracebench.core.errors import BadFile
from tracebench.formats.cells import COMMENTS, MISSING, harmless, number, split
from tracebench.formats.header import TIME_NAMES, columns_of, interval_of
from tracebench.formats.memory import row_of
from tracebench.formats.table import TIME_FACTORS, Column, Layout, Table

HEAD_BYTES = 256 * 1024
BLOCK_BYTES = 4 * 1024 * 1024
ENOUGH_LINES = 300
"""Lines in which the dialect is looked for; the whole head only where these hold no numbers."""

FEWEST_LINES = 8
"""Fewer in the head of a file that goes on are too long to be rows of samples."""

TOO_WIDE = "thousands of columns; export the columns of one capture alone"

DELIMITERS = (";", "\t", ",", "|", " ")


def looks_like(head: bytes) -> bool:
    """True for text: no NUL bytes outside UTF-16."""
    return head[:2] in (b"\xff\xfe", b"\xfe\xff") or b"\0" not in head[:4096]


def understand(path: Path) -> Layout:
    """Find the dialect, header, units and time axis from the head of the file. Raises BadFile."""
    with path.open("rb") as stream:
        head = stream.read(HEAD_BYTES)
        complete = not stream.read(1)
    if not head.strip():
        raise BadFile("the file is empty; expected rows of numbers", 1)
    if not looks_like(head):
        raise BadFile("the file is not text; export the capture as delimited text (CSV)", 1)
    encoding, text = _decoded(head)
    lines = text.splitlines()
    if not complete and lines:
        lines.pop()  # cut in the middle
    if not complete and len(lines) < FEWEST_LINES:
        raise BadFile(f"a line is longer than any capture's: {TOO_WIDE}", len(lines) + 1)
    found = _dialect(lines[:ENOUGH_LINES]) or _dialect(lines)
    if found is None:
        raise BadFile("no rows of numbers found; expected delimited text with numbers in each row", min(len(lines), 1))
    delimiter, decimal, first, width = found
    header = lines[:first]
    columns = columns_of(header, [split(line, delimiter) for line in lines[first : first + 8]], delimiter, width)
    numbers = [_numbers(line, delimiter, decimal, width) for line in lines[first : first + 200]]
    interval_s = interval_of(header)
    time_position, time_factor = _time_axis(columns, [n for n in numbers if n is not None], interval_s)
    return Layout(
        "delimited text",
        encoding,
        delimiter,
        decimal,
        first + 1,
        tuple(line for line in header if line.strip())[:40],
        tuple(columns),
        time_position,
        time_factor,
        interval_s if time_position is None else None,
    )


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """Stream the wanted columns (and the time column) into float64 arrays; missing cells are NaN.

    Memory is the arrays and one block of the file. Raises BadFile with line and column of the first cell
    that is no number or row that has the wrong number of cells.
    """
    wanted = sorted(set(positions) | ({layout.time_position} if layout.time_position else set()))
    names = [str(c.position) for c in layout.columns]
    most = _count_lines(path)
    # Pages that no row fills are never touched, so too many lines cost nothing.
    columns = {str(p): row_of(most) for p in wanted}
    rows = 0
    try:
        with _source(path, layout) as source:
            for batch in pacsv.open_csv(source, *_options(layout, names, list(columns))):
                for name, column in columns.items():
                    column[rows : rows + batch.num_rows] = batch.column(name).to_numpy(zero_copy_only=False)
                rows += batch.num_rows
    except (pa.ArrowInvalid, pa.ArrowKeyError, UnicodeDecodeError) as problem:
        raise _located(path, layout, wanted) or BadFile(f"the file cannot be read: {problem}") from None
    pa.default_memory_pool().release_unused()
    arrays = {int(name): column[:rows] for name, column in columns.items()}
    if rows == 0:
        raise BadFile("there are no rows of numbers below the header", layout.data_line)
    times = arrays.pop(layout.time_position) if layout.time_position else None
    if times is not None:
        _check_times(times, path, layout)
        times *= layout.time_factor
    return Table(times, arrays, rows)


def _count_lines(path: Path) -> int:
    """Lines of the file, whatever their end; at least as many as rows."""
    lines = 2
    with path.open("rb") as stream:
        while block := stream.read(BLOCK_BYTES):
            lines += max(block.count(b"\n"), block.count(b"\r"))
    return lines


def _check_times(times: np.ndarray, path: Path, layout: Layout) -> None:
    bad = ~np.isfinite(times)
    bad[1:] |= np.diff(times) < 0
    if bad.any():
        row = int(np.argmax(bad))
        what = (
            "is missing" if not np.isfinite(times[row]) else f"runs backwards ({times[row - 1]:g}, then {times[row]:g})"
        )
        line = next(itertools.islice(_data_lines(path, layout), row, None))[0]
        raise BadFile(f"the time stamp {what}; expected a number that does not decrease", line, layout.time_position)


# --- dialect --------------------------------------------------------------------------------------


def _decoded(head: bytes) -> tuple[str, str]:
    if head[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16", head[: len(head) // 2 * 2].decode("utf-16", errors="replace")
    for cut in range(4):
        try:
            return "utf-8", head[: len(head) - cut].decode("utf-8-sig")
        except UnicodeDecodeError:
            continue
    return "latin-1", head.decode("latin-1")


def _numbers(line: str, delimiter: str, decimal: str, width: int | None = None) -> list[float] | None:
    cells = split(line, delimiter)
    if not cells or (width is not None and len(cells) != width):
        return None
    values = [number(cell, decimal) for cell in cells]
    if any(v is None for v in values):
        return None
    numbers = [v for v in values if v is not None]
    return numbers if any(not math.isnan(v) for v in numbers) else None


def _dialect(lines: list[str]) -> tuple[str, str, int, int] | None:
    """Delimiter, decimal mark, index of the first data line and its number of cells; None without data."""
    best: tuple[int, int, int, str, str] | None = None
    for delimiter in DELIMITERS:
        for decimal in (".", ","):
            widths = [len(cells) if (cells := _numbers(line, delimiter, decimal)) else 0 for line in lines]
            counted = [w for w in widths if w]
            if not counted:
                continue
            width = max(set(counted), key=counted.count)
            rows = sum(w == width for w in widths)
            first = next((k for k in range(len(lines)) if _starts_data(widths, lines, k, width)), None)
            if first is None:
                continue
            score = (rows * min(width, 2), -first, width, delimiter, decimal)
            if best is None or score[:3] > best[:3]:
                best = score
    return None if best is None else (best[3], best[4], -best[1], best[2])


def _starts_data(widths: list[int], lines: list[str], k: int, width: int) -> bool:
    if widths[k] != width:
        return False
    following = [w for w, line in zip(widths[k : k + 5], lines[k : k + 5], strict=True) if line.strip()]
    return sum(w == width for w in following) >= max(1, len(following) - 2)


def _time_axis(columns: list[Column], numbers: list[list[float]], interval_s: float | None) -> tuple[int | None, float]:
    for column in columns:
        unit = column.unit.lower()
        if column.name.lower().strip() in TIME_NAMES or unit in TIME_FACTORS:
            return column.position, TIME_FACTORS.get(unit or _unit_word(column.name), 1.0)
    if interval_s is not None:
        return None, 1.0
    first = np.array([row[0] for row in numbers])
    if len(columns) > 1 and first.size > 2 and np.all(np.diff(first) >= 0) and first[-1] > first[0]:
        return columns[0].position, 1.0
    return None, 1.0


def _unit_word(name: str) -> str:
    return name.lower().strip() if name.lower().strip() in TIME_FACTORS else "s"


# --- streaming ------------------------------------------------------------------------------------


class _Spaces(io.RawIOBase):
    """A file in which runs of blanks are one blank and lines begin without one."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self._file = path.open("rb")
        self._rest = b""

    def readable(self) -> bool:
        return True

    def readinto(self, buffer: Any) -> int:
        while not self._rest:
            block = self._file.read(len(buffer) // 2) + self._file.readline()
            if not block:
                return 0
            self._rest = re.sub(rb"(?m)^[ \t]+|[ \t]+(?=\r?$)", b"", re.sub(rb"[ \t]+", b" ", block))
        part, self._rest = self._rest[: len(buffer)], self._rest[len(buffer) :]
        buffer[: len(part)] = part
        return len(part)

    def close(self) -> None:
        self._file.close()
        super().close()


def _source(path: Path, layout: Layout) -> Any:
    return pa.PythonFile(_Spaces(path), mode="r") if layout.delimiter == " " else pa.OSFile(str(path), "rb")


def _options(layout: Layout, names: list[str], wanted: list[str]) -> tuple[Any, Any, Any]:
    def comment_or_error(row: Any) -> str:
        return "skip" if row.text.lstrip().startswith(COMMENTS) else "error"

    return (
        pacsv.ReadOptions(
            skip_rows=layout.data_line - 1,
            column_names=names,
            block_size=BLOCK_BYTES,
            encoding={"utf-8": "utf8"}.get(layout.encoding, layout.encoding),
        ),
        pacsv.ParseOptions(delimiter=layout.delimiter, ignore_empty_lines=True, invalid_row_handler=comment_or_error),
        pacsv.ConvertOptions(
            column_types={name: pa.float64() for name in wanted},
            include_columns=wanted,
            null_values=list(MISSING),
            strings_can_be_null=True,
            decimal_point=layout.decimal,
        ),
    )


def _data_lines(path: Path, layout: Layout) -> Iterator[tuple[int, list[str]]]:
    encoding = "utf-8-sig" if layout.encoding == "utf-8" else layout.encoding
    with path.open(encoding=encoding, errors="replace", newline=None) as stream:
        for number, line in enumerate(stream, start=1):
            if number < layout.data_line or not line.strip() or line.lstrip().startswith(COMMENTS):
                continue
            yield number, split(line.rstrip("\n"), layout.delimiter)


def _located(path: Path, layout: Layout, wanted: list[int]) -> BadFile | None:
    """The first cell or row that stops the reader, found line by line; only used once reading failed."""
    for line, cells in _data_lines(path, layout):
        if len(cells) != len(layout.columns):
            return BadFile(f"{len(cells)} cells where {len(layout.columns)} were expected", line)
        for position in wanted:
            if number(cells[position - 1], layout.decimal) is None:
                return BadFile(f"{cells[position - 1]!r} is not a number", line, position)
    return None


def write(path: Path, capture: Capture) -> None:
    """Comma, point, a head with units; every number so that it is read back to the last bit."""
    rows = {
        "time (s)": capture.times(),
        **{harmless(f"{name} ({x.unit})"): x.samples for name, x in capture.lanes.items()},
    }
    pacsv.write_csv(pa.table(rows), path, pacsv.WriteOptions(quoting_style="none"))
