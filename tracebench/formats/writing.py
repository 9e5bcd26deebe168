"""A capture to a file of any of the formats that are read: what is written is read back sample for sample."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from tracebench.core.capture import Capture
from tracebench.core.errors import BadOption
from tracebench.formats import arrow, delimited, hdf5, matlab, mdf, wav


@dataclass(frozen=True, slots=True)
class Written:
    """A format that captures are given out in: what people call it, and how it is written."""

    title: str
    write: Callable[[Path, Capture], None]


WRITERS: Mapping[str, Written] = {
    "csv": Written("CSV, text for any program", delimited.write),
    "parquet": Written("Parquet", arrow.write),
    "mat": Written("MATLAB", matlab.write),
    "h5": Written("HDF5", hdf5.write),
    "mf4": Written("MDF 4", mdf.write),
    "wav": Written("WAV, 32-bit floating point", wav.write),
}
"""By the ending of the file's name."""


def write(path: Path, capture: Capture, ending: str) -> None:
    """Write a capture. Raises BadOption for an unknown ending, or a rate that the format cannot tell."""
    if ending not in WRITERS:
        raise BadOption(f"there is no format {ending!r} to write; known: {', '.join(WRITERS)}")
    WRITERS[ending].write(path, capture)
