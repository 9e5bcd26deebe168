"""A capture file of one format to another."""

from __future__ import annotations

from pathlib import Path

import click
import numpy as np

from tracebench.core.capture import Lane, capture_from_stamps
from tracebench.core.errors import BadFile, BadOption
from tracebench.formats import apart
from tracebench.formats.writing import WRITERS, write


@click.command()
@click.argument("source", metavar="IN", type=click.Path(path_type=Path))
@click.argument("target", metavar="OUT", type=click.Path(path_type=Path))
@click.option("--interval", "interval_s", type=float, help="Seconds a sample, for a file without a time axis.")
def convert(source: Path, target: Path, interval_s: float | None) -> None:
    """Read a capture file, whatever it is, and write it as OUT's ending says: csv, parquet, mat, h5, mf4 or wav."""
    ending = target.suffix.lower().removeprefix(".")
    if ending not in WRITERS:
        raise BadOption(f"{target.name}: end it in one of {', '.join(WRITERS)}")
    if target.exists():
        raise BadOption(f"{target}: is there already; choose another name")
    layout = apart.understand(source)
    columns = layout.value_columns
    table = apart.read(source, layout, [c.position for c in columns])
    times = table.times_s
    if times is None:
        interval = interval_s or layout.interval_s
        if interval is None:
            raise BadFile(f"{source}: tells neither times nor an interval; say --interval in seconds", 1)
        times = np.arange(table.rows, dtype=np.float64) * interval
    names = _names([c.name or f"column {c.position}" for c in columns])
    lanes = {n: Lane(n, table.values[c.position], c.unit, c.cell) for n, c in zip(names, columns, strict=True)}
    write(target, capture_from_stamps(times, lanes), ending)
    click.echo(f"{target}: {len(lanes)} columns of {times.size:,} samples")


def _names(told: list[str]) -> list[str]:
    """Each once: the second of a name gets a figure."""
    return [n if told.index(n) == k else f"{n} {told[:k].count(n) + 1}" for k, n in enumerate(told)]
