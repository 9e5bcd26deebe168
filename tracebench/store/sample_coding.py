"""Samples to compressed bytes and back, without losing a bit.

A lane with at most 65,536 different values (any recorder of up to 16 bits) is kept as uint16 places in
the sorted list of those values, so order and extremes survive; any other lane as float32 where that is
exact, else float64.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import blosc
import numpy as np
from numpy.typing import NDArray

CHUNK = 65_536
_MOST_VALUES = 65_536

Row = NDArray[Any]


@dataclass(frozen=True, slots=True, eq=False)
class Coded:
    """`codes` in `dtype`; `values` (float64, sorted) turns uint16 codes into volts, None for plain floats."""

    codes: Row
    values: NDArray[np.float64] | None

    @property
    def dtype(self) -> str:
        return str(self.codes.dtype)


def coded(samples: NDArray[np.float64]) -> Coded:
    """The smallest exact coding of float64 samples."""
    values = _few_values(samples)
    if values is not None:
        return Coded(_places(values, samples), values)
    single = samples.astype(np.float32)
    return Coded(single if np.array_equal(single.astype(np.float64), samples) else samples, None)


def _places(values: NDArray[np.float64], samples: NDArray[np.float64]) -> Row:
    codes = np.empty(samples.size, dtype=np.uint16)
    for start in range(0, samples.size, 16 * CHUNK):  # bounded memory for the 8-byte places
        codes[start : start + 16 * CHUNK] = np.searchsorted(values, samples[start : start + 16 * CHUNK])
    return codes


def _few_values(samples: NDArray[np.float64]) -> NDArray[np.float64] | None:
    found: NDArray[np.float64] = np.empty(0)
    for start in range(0, samples.size, 8 * CHUNK):
        part = np.unique(samples[start : start + 8 * CHUNK])
        found = part if found.size == 0 else np.union1d(found, part)
        if found.size > _MOST_VALUES:
            return None
    return found


def pack(row: Row) -> bytes:
    """Compress a row of codes; bit shuffling makes slow signals small."""
    return bytes(
        blosc.compress(np.ascontiguousarray(row).tobytes(), row.dtype.itemsize, 5, blosc.BITSHUFFLE, cname="lz4")
    )


def unpack(data: bytes, dtype: str) -> Row:
    return np.frombuffer(blosc.decompress(data), dtype=dtype)


def decoded(codes: Row, values: NDArray[np.float64] | None) -> NDArray[np.float64]:
    """Codes back to float64 samples."""
    return values[codes] if values is not None else codes.astype(np.float64)
