"""WAV as sound recorders write it, 8 to 32 bits or floating point: each channel from -1 to 1 of its full scale.

A file tells no unit: the factor to the lane's unit is told when it is mapped. Read by SciPy, of RIFF as Microsoft and
IBM published it (Multimedia Programming Interface and Data Specifications 1.0, 1991).
"""

from __future__ import annotations

import warnings
from collections.abc import Iterable
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tracebench.core.capture import Capture
from tracebench.core.errors import BadFile, BadOption
from tracebench.formats.columns import Row, damaged, layout_of, table_of
from tracebench.formats.table import Layout, Table

KIND = "WAV"
EVEN_RATE = 1e-6
"""How far a rate may be off a whole number of hertz, as a part of it."""


def looks_like(head: bytes) -> bool:
    return head[:4] in (b"RIFF", b"RIFX", b"RF64") and head[8:12] == b"WAVE"


def understand(path: Path) -> Layout:
    """Channels and rate. Raises BadFile."""
    rate, samples = _samples(path)
    return layout_of(KIND, _rows(samples), samples.shape[0], 1.0 / rate)


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """The wanted channels as parts of full scale."""
    _, samples = _samples(path)
    return table_of(layout, dict(enumerate(_rows(samples), 1)), positions)


def _samples(path: Path) -> tuple[int, NDArray[Any]]:
    from scipy.io import wavfile  # noqa: PLC0415 - loaded when such a file comes

    try:
        with warnings.catch_warnings():
            # Chunks that are not sound are notes of the recorder.
            warnings.simplefilter("ignore", wavfile.WavFileWarning)
            rate, samples = wavfile.read(path)
    except Exception as problem:
        raise damaged(KIND, path, problem) from None
    if rate <= 0:
        raise BadFile("this WAV file tells no rate of samples", 1)
    return int(rate), samples.reshape(samples.shape[0], -1)


def _rows(samples: NDArray[Any]) -> list[Row]:
    return [Row(f"channel {k + 1}", "", partial(_of_full_scale, samples[:, k])) for k in range(samples.shape[1])]


def _of_full_scale(codes: NDArray[Any]) -> NDArray[np.float64]:
    """-1 to 1, whatever the width; eight bits are counted from 128, wider ones from zero."""
    if codes.dtype == np.uint8:
        return (codes.astype(np.float64) - 128.0) / 128.0
    if np.issubdtype(codes.dtype, np.integer):
        return codes.astype(np.float64) / -float(np.iinfo(codes.dtype).min)
    return codes.astype(np.float64)


def write(path: Path, capture: Capture) -> None:
    """A channel for each lane, its numbers as they are, at a rate of whole hertz. Raises BadOption at another.

    A start other than zero, units and names have no place in it.
    """
    from scipy.io import wavfile  # noqa: PLC0415 - loaded when such a file is written

    rate = round(capture.rate_hz)
    if rate < 1 or abs(rate - capture.rate_hz) > EVEN_RATE * capture.rate_hz:
        raise BadOption(
            f"WAV tells rates in whole hertz, and this capture has {capture.rate_hz:g}; choose another format"
        )
    wavfile.write(path, rate, np.column_stack([x.samples for x in capture.lanes.values()]).astype(np.float32))
