"""MATLAB's files up to version 7 (level 5 MAT-files), as SciPy reads them: each vector of numbers is a column.

Of a matrix each column is one; the sampling interval or rate may stand beside them as a number of its own.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tracebench.core.capture import Capture
from tracebench.formats.columns import Row, damaged, layout_of, table_of
from tracebench.formats.table import Layout, Table

KIND = "MATLAB"
INTERVALS = frozenset(("dt", "ts", "interval", "interval_s", "sample_interval", "sampling_interval"))
RATES = frozenset(("fs", "rate", "rate_hz", "sample_rate", "sampling_rate", "samplerate"))
FEWEST = 16


def looks_like(head: bytes) -> bool:
    return head[:6] == b"MATLAB" and head[126:128] in (b"IM", b"MI")


def understand(path: Path) -> Layout:
    """Vectors of the length that most have, and the interval. Raises BadFile."""
    rows, count, interval_s = _rows(path)
    return layout_of(KIND, rows, count, interval_s)


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """The wanted vectors."""
    return table_of(layout, dict(enumerate(_rows(path)[0], 1)), positions)


def _rows(path: Path) -> tuple[list[Row], int, float | None]:
    from scipy.io import loadmat  # noqa: PLC0415 - loaded when such a file comes

    try:
        held: dict[str, Any] = loadmat(path, squeeze_me=False)
    except Exception as problem:
        raise damaged(KIND, path, problem) from None
    numbers = {
        name: value
        for name, value in held.items()
        if not name.startswith("__")
        and isinstance(value, np.ndarray)
        and np.issubdtype(value.dtype, np.number)
        and not np.iscomplexobj(value)
        and value.ndim == 2
    }
    scalars = {name.lower(): float(value.flat[0]) for name, value in numbers.items() if value.size == 1}
    vectors: list[tuple[str, NDArray[Any]]] = []
    for name, value in numbers.items():
        if 1 in value.shape and value.size >= FEWEST:
            vectors.append((name, value.reshape(-1)))
        elif value.shape[0] >= FEWEST and value.shape[1] <= value.shape[0]:
            vectors += [(f"{name} {k + 1}", value[:, k]) for k in range(value.shape[1])]
    lengths = Counter(vector.size for _, vector in vectors)
    count = max(lengths, key=lambda n: (lengths[n], n)) if lengths else 0
    rows = [Row(name, "", partial(np.asarray, vector, np.float64)) for name, vector in vectors if vector.size == count]
    return rows, count, interval_told(scalars)


def interval_told(scalars: dict[str, float]) -> float | None:
    """Seconds a sample, of numbers by their names in small letters."""
    for name, value in scalars.items():
        if name in INTERVALS and value > 0:
            return value
        if name in RATES and value > 0:
            return 1.0 / value
    return None


def write(path: Path, capture: Capture) -> None:
    """A vector for the times and for each lane, and the interval beside them, as version 5."""
    from scipy.io import savemat  # noqa: PLC0415 - loaded when such a file is written

    lanes = {f"{name}_{x.unit}" if x.unit.isalpha() else name: x.samples for name, x in capture.lanes.items()}
    savemat(path, {"time": capture.times(), **lanes, "interval_s": capture.interval_s}, do_compression=True)
