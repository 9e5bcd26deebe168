"""What can be asked of a reader: each task answers a document and rows of numbers. Runs in a process of its own."""

from __future__ import annotations

import errno
import os
import shutil
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any

from tracebench.core.errors import BadFile
from tracebench.core.samples import Samples
from tracebench.formats import archive, arrow, bundle, hdf5, matlab, mdf, reading, wav
from tracebench.formats.table import Table, layout_as_json, layout_of_json

Told = tuple[dict[str, Any], list[Samples]]

LIBRARIES: Mapping[object, tuple[str, ...]] = {
    mdf: ("asammdf",),
    hdf5: ("h5py",),
    matlab: ("scipy.io",),
    wav: ("scipy.io",),
    arrow: ("pyarrow.parquet",),
}
"""What the reader of a format loads when its first file comes."""


ALWAYS = ("pandas",)
"""What pyarrow looks for when it hands its first row over (its columns may be meant for it)."""


def libraries_for(path: Path) -> tuple[str, ...]:
    """What is loaded before a file like this is read, by its first bytes."""
    try:
        return LIBRARIES.get(reading.format_of(path), LIBRARIES[arrow])
    except (BadFile, OSError):
        return ()


def understand(path: str) -> Told:
    """How a file would be read."""
    return {"layout": layout_as_json(reading.understand(Path(path)))}, []


def read(path: str, layout: dict[str, Any], positions: Sequence[int]) -> Told:
    """The wanted columns, the times first where there are some."""
    table = reading.format_of(Path(path)).read(Path(path), layout_of_json(layout), positions)
    return _told(table)


def both(path: str, positions: Sequence[int] | None, most: int) -> Told:
    """How a file is read, and the wanted columns or the first of them; none where one of them is not there.

    One task where two would read the same file twice.
    """
    format_, file = reading.format_of(Path(path)), Path(path)
    layout = format_.understand(file)
    wanted = [c.position for c in layout.value_columns][:most] if positions is None else list(positions)
    document = {"layout": layout_as_json(layout)}
    if not wanted or not all(1 <= p <= len(layout.columns) for p in wanted):
        return document, []
    told, rows = _told(format_.read(file, layout, wanted))
    return {**document, **told}, rows


def _told(table: Table) -> Told:
    times = [] if table.times_s is None else [table.times_s]
    return {"rows": table.rows, "positions": list(table.values), "times": bool(times)}, [*times, *table.values.values()]


def names(path: str) -> Told:
    """The names in a zip archive."""
    with archive.opened(Path(path)) as found:
        return {"names": found.namelist()}, []


def unpack(path: str, folder: str, stem: str, reserve_bytes: int, most_bytes: int) -> Told:
    """Each file of an archive on its own, as `stem` and a number; raises OSError (ENOSPC) where the reserve is touched.

    None of them is left where it breaks off.
    """
    kept: list[dict[str, str]] = []

    def check() -> None:
        if shutil.disk_usage(folder).free < reserve_bytes:
            raise OSError(errno.ENOSPC, "the reserve is touched")

    try:
        with archive.opened(Path(path)) as found:
            budget = archive.Budget(most_bytes)
            for entry in archive.files_of(found):
                own = Path(folder) / f"{stem}-{len(kept)}"
                kept.append({"stored_as": own.name, "name": archive.plain_name(entry)})
                with os.fdopen(os.open(own, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
                    budget.copy(found, entry, out, check)
    except BaseException:
        for one in kept:
            (Path(folder) / one["stored_as"]).unlink(missing_ok=True)
        raise
    return {"files": kept}, []


def sheets(path: str) -> Told:
    """The sheets of a bundle."""
    return {"sheets": bundle.sheets(Path(path))}, []


def lanes(path: str, name: str, wanted: Sequence[str]) -> Told:
    """The samples of a capture of a bundle."""
    return {}, bundle.lanes(Path(path), name, wanted)


TASKS: Mapping[str, Callable[..., Told]] = {
    "understand": understand,
    "read": read,
    "both": both,
    "names": names,
    "unpack": unpack,
    "sheets": sheets,
    "lanes": lanes,
}
