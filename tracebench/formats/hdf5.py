"""HDF5, and MATLAB's files of version 7.3, which are HDF5: rows of numbers of the length that most have are columns.

Of a matrix each column is one (each row in a MATLAB file, which keeps them turned). The unit comes from a `unit` or
`units` attribute or the name; the interval from `interval_s` or `dt`, the rate from `rate_hz` or `fs`, as an attribute
of the file or a number of its own. Read by h5py.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from tracebench.core.capture import Capture
from tracebench.core.errors import BadFile
from tracebench.formats.columns import MOST_NUMBERS, Row, damaged, layout_of, table_of
from tracebench.formats.matlab import FEWEST, interval_told
from tracebench.formats.table import Layout, Table

KIND, OF_MATLAB = "HDF5", "MATLAB 7.3"
SIGNATURE = b"\x89HDF\r\n\x1a\n"
MOST_DATASETS = 2000

Rows = tuple[list[Row], int, float | None]
"""Rows of numbers, how long each is, and the interval where the file tells one."""


def looks_like(head: bytes) -> bool:
    return head[:8] == SIGNATURE or (head[:10] == b"MATLAB 7.3" and head[126:128] in (b"IM", b"MI"))


def understand(path: Path) -> Layout:
    """Columns, units and the interval. Raises BadFile."""
    kind = _kind(path)
    found, count, interval_s = _rows(path)
    return layout_of(kind, found, count, interval_s)


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """The wanted columns."""
    return table_of(layout, dict(enumerate(_rows(path)[0], 1)), positions)


def _kind(path: Path) -> str:
    with path.open("rb") as stream:
        return OF_MATLAB if stream.read(6) == b"MATLAB" else KIND


def _rows(path: Path) -> Rows:
    """Rows of the length that most have. Raises BadFile; some damage holds it for ever."""
    import h5py  # noqa: PLC0415 - loaded when such a file comes

    try:
        with h5py.File(path, "r") as file:
            return _found(file, h5py.Dataset)
    except BadFile:
        raise
    except Exception as problem:
        raise damaged(KIND, path, problem) from None


def _found(file: Any, dataset: type) -> Rows:
    numbers = {k.lower(): float(v) for k, v in file.attrs.items() if np.ndim(v) == 0 and _is_number(v)}
    vectors: list[tuple[str, str, Any]] = []

    def look(name: str, held: Any) -> None:
        if isinstance(held, dataset) and not name.startswith("#") and np.issubdtype(_own(name, held).dtype, np.number):
            _take(name, held, numbers, vectors)

    file.visititems(look)
    lengths = Counter(vector.size for _, _, vector in vectors)
    count = max(lengths, key=lambda n: (lengths[n], n)) if lengths else 0
    alike = [v for v in vectors if v[2].size == count]
    found = [Row(name, unit, partial(np.asarray, vector, np.float64)) for name, unit, vector in alike]
    return found, count, interval_told(numbers)


def _own(name: str, held: Any) -> Any:
    """Numbers that lie in the file itself. Raises BadFile for those that would be read from another file of ours."""
    if held.external or held.is_virtual:
        raise BadFile(f"the numbers of {name!r} lie in another file; save them into this one", 1)
    return held


def _take(name: str, held: Any, numbers: dict[str, float], vectors: list[tuple[str, str, Any]]) -> None:
    """Sort a row of numbers in: a number of its own, a column, or the columns of a matrix."""
    if held.size > MOST_NUMBERS:
        # A size may be declared that no file holds.
        raise BadFile(f"{name!r} tells of {held.size:,} values: more than can be read", 1)
    if len(vectors) > MOST_DATASETS:
        raise BadFile(f"this file holds more than {MOST_DATASETS} rows of numbers; keep those of one capture", 1)
    if held.size == 1:
        numbers[name.lower()] = float(np.asarray(held[()]).flat[0])
    elif held.ndim == 1 and held.size >= FEWEST:
        vectors.append((name, _unit(held), held[()]))
    elif held.ndim == 2 and 1 in held.shape and held.size >= FEWEST:
        vectors.append((name, _unit(held), held[()].reshape(-1)))
    elif held.ndim == 2 and max(held.shape) >= FEWEST:
        turned = held[()].T if held.shape[0] < held.shape[1] else held[()]
        vectors.extend((f"{name} {k + 1}", _unit(held), turned[:, k]) for k in range(turned.shape[1]))


def _is_number(value: Any) -> bool:
    return bool(np.issubdtype(np.asarray(value).dtype, np.number))


def _unit(held: Any) -> str:
    told = held.attrs.get("unit", held.attrs.get("units", ""))
    return told.decode("utf-8", "replace") if isinstance(told, bytes) else str(told) if isinstance(told, str) else ""


def write(path: Path, capture: Capture) -> None:
    """A data set for the times and for each lane with its unit, and the interval as an attribute of the file."""
    import h5py  # noqa: PLC0415 - loaded when such a file is written

    with h5py.File(path, "w") as file:
        file.attrs["interval_s"] = capture.interval_s
        rows = {"time": (capture.times(), "s"), **{name: (x.samples, x.unit) for name, x in capture.lanes.items()}}
        for name, (values, unit) in rows.items():
            file.create_dataset(name, data=values, compression="gzip", shuffle=True).attrs["unit"] = unit
