"""Parquet and Arrow (IPC files and streams): each column of numbers is one, its unit from the field's metadata.

Read by pyarrow. The sampling interval may stand in the schema's metadata as `interval_s`, where no column is time.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import partial
from pathlib import Path

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from tracebench.core.capture import Capture
from tracebench.core.errors import BadFile
from tracebench.formats.columns import MOST_NUMBERS, Row, damaged, layout_of, table_of
from tracebench.formats.table import Layout, Table

PARQUET, ARROW = "Parquet", "Arrow"
STREAM = b"\xff\xff\xff\xff"


def looks_like(head: bytes) -> bool:
    return head[:4] == b"PAR1" or head[:6] == b"ARROW1" or head[:4] == STREAM


def understand(path: Path) -> Layout:
    """Columns of numbers with their units, and the interval. Raises BadFile."""
    table = _table(path)
    told = (table.schema.metadata or {}).get(b"interval_s", b"")
    try:
        interval_s = float(told)
    except ValueError:
        interval_s = math.nan
    known = interval_s if interval_s > 0 and math.isfinite(interval_s) else None
    return layout_of(_kind(path), _rows(table), table.num_rows, known)


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """The wanted columns; missing values are NaN."""
    return table_of(layout, dict(enumerate(_rows(_table(path)), 1)), positions)


def _kind(path: Path) -> str:
    with path.open("rb") as stream:
        return PARQUET if stream.read(4) == b"PAR1" else ARROW


def _table(path: Path) -> pa.Table:
    import pyarrow.parquet as pq  # noqa: PLC0415 - loaded when such a file comes

    try:
        if _kind(path) == PARQUET:
            file = pq.ParquetFile(path)
            told = file.metadata
            if told.num_rows * told.num_columns > MOST_NUMBERS:
                raise BadFile(f"this file holds {told.num_columns} columns of {told.num_rows:,} values: too many", 1)
            return file.read()
        with pa.OSFile(str(path), "rb") as source:
            if source.read(6) == b"ARROW1":
                source.seek(0)
                return pa.ipc.open_file(source).read_all()
            source.seek(0)
            return pa.ipc.open_stream(source).read_all()
    except (pa.ArrowException, OSError, ValueError) as problem:
        raise damaged(_kind(path), path, problem) from None


def _rows(table: pa.Table) -> list[Row]:
    rows = []
    for field in table.schema:
        kind = field.type
        if pa.types.is_integer(kind) or pa.types.is_floating(kind) or pa.types.is_decimal(kind):
            unit = (field.metadata or {}).get(b"unit", b"").decode("utf-8", "replace")
            rows.append(Row(field.name, unit, partial(_numbers, table, field.name)))
    return rows


def _numbers(table: pa.Table, name: str) -> NDArray[np.float64]:
    column = table.column(name).cast(pa.float64())
    return np.asarray(column.to_numpy(zero_copy_only=False), dtype=np.float64).copy()


def write(path: Path, capture: Capture) -> None:
    """A column for the times and for each lane with its unit, as Parquet."""
    import pyarrow.parquet as pq  # noqa: PLC0415 - loaded when such a file is written

    rows = {"time": (capture.times(), "s"), **{name: (x.samples, x.unit) for name, x in capture.lanes.items()}}
    fields = [pa.field(name, pa.float64(), metadata={"unit": unit}) for name, (_, unit) in rows.items()]
    schema = pa.schema(fields, metadata={"interval_s": repr(capture.interval_s)})
    table = pa.Table.from_arrays([pa.array(values) for values, _ in rows.values()], schema=schema)
    # Times grow evenly: split into bytes they pack to a tenth.
    pq.write_table(
        table,
        path,
        compression="zstd",
        compression_level=9,
        use_dictionary=list(capture.lanes),
        column_encoding={"time": "BYTE_STREAM_SPLIT"},
    )
