"""Measurement data of ASAM MDF, versions 3 and 4: channels with their units on the axis of the largest group.

Channels of other groups are put on that axis by straight lines. Conversions by a formula in the file are not worked
out: such a channel is left out. Read and written by asammdf.
"""

from __future__ import annotations

import logging
from collections.abc import Iterable
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from tracebench.core.capture import Capture
from tracebench.core.errors import BadFile
from tracebench.core.samples import Samples
from tracebench.formats.columns import MOST_COLUMNS, MOST_NUMBERS, Row, damaged, layout_of, table_of
from tracebench.formats.table import Layout, Table

KIND = "MDF"
ENDING = "mf4"
BY_FORMULA = 3
"""Conversion type of both versions' blocks whose formula is text in the file (ASAM MDF 4.1: algebraic)."""

TIME = "time"


def looks_like(head: bytes) -> bool:
    return head[:8] in (b"MDF     ", b"UnFinMF ")


def understand(path: Path) -> Layout:
    """Channels with their units; the master channel is the time axis. Raises BadFile."""
    rows, count = _rows(path)
    return layout_of(KIND, rows, count, None)


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """The wanted channels."""
    return table_of(layout, dict(enumerate(_rows(path)[0], 1)), positions)


@contextmanager
def _opened(path: Path) -> Any:
    from asammdf import MDF  # noqa: PLC0415 - loaded when such a file comes

    # What it says of a damaged file is told to whoever sent it, and is no news of ours.
    logging.getLogger("asammdf").setLevel(logging.CRITICAL)
    try:
        with path.open("rb") as stream, MDF(stream) as file:
            yield file
    except BadFile:
        raise
    except Exception as problem:
        raise damaged(KIND, path, problem) from None


def _rows(path: Path) -> tuple[list[Row], int]:
    with _opened(path) as file:
        groups = [
            (int(g.channel_group.cycles_nr if hasattr(g, "channel_group") else 0), k) for k, g in enumerate(file.groups)
        ]
        count, main = max(groups, default=(0, 0))
        channels = sum(len(group.channels) for group in file.groups)
        if channels > MOST_COLUMNS or channels * count > MOST_NUMBERS:
            raise BadFile(f"this MDF file holds {channels:,} channels of {count:,} values: more than can be read", 1)
        if count == 0:
            return [], 0
        times = np.asarray(file.get_master(main), dtype=np.float64)
        rows = [Row(TIME, "s", partial(_same, times))]
        for _, k in sorted(groups, key=lambda g: g[1] != main):
            rows += _of_group(file, k, None if k == main else times)
    return rows, count


def _of_group(file: Any, k: int, onto: Samples | None) -> list[Row]:
    """Channels of a group that hold numbers, put onto other times where told."""
    rows = []
    master = file.masters_db.get(k)
    for index, channel in enumerate(file.groups[k].channels):
        conversion = getattr(channel, "conversion", None)
        if index == master or (conversion is not None and conversion.conversion_type == BY_FORMULA):
            continue
        signal = file.get(group=k, index=index)
        values = np.asarray(signal.samples)
        if values.ndim != 1 or not np.issubdtype(values.dtype, np.number) or values.size == 0:
            continue
        numbers = values.astype(np.float64)
        if onto is not None:
            numbers = np.interp(onto, signal.timestamps, numbers)
        rows.append(Row(str(signal.name), str(signal.unit or ""), partial(_same, numbers)))
    return rows


def _same(values: Samples) -> Samples:
    return values


def write(path: Path, capture: Capture) -> None:
    """A capture as version 4.10, one group, times in seconds, samples as they are."""
    from asammdf import MDF, Signal  # noqa: PLC0415 - loaded when such a file is written

    times = capture.times()
    with MDF(version="4.10") as file:
        file.append(
            [Signal(x.samples, times, unit=x.unit, name=name) for name, x in capture.lanes.items()],
            comment="Trace Bench",
        )
        # It gives the name an ending of its own.
        saved = file.save(path.with_name(f"{path.name}.{ENDING}"), overwrite=True, compression=2)
    Path(saved).replace(path)
