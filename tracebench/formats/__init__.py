"""Files to captures: one module a format, recognised by what is in a file and not by what it is called."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Protocol

from tracebench.core.capture import Capture
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadFile
from tracebench.formats import arrow, delimited, hdf5, matlab, mdf, wav
from tracebench.formats.mapping import Mapped, guessed_mapping, to_capture
from tracebench.formats.table import Layout, Table

HEAD_BYTES = 512


class Format(Protocol):
    """What each module of a format has."""

    def looks_like(self, head: bytes) -> bool: ...
    def understand(self, path: Path) -> Layout: ...
    def read(self, path: Path, layout: Layout, positions: Iterable[int]) -> Table: ...


FORMATS: tuple[Format, ...] = (wav, hdf5, matlab, mdf, arrow, delimited)
"""Version 7.3 of MATLAB is asked before the versions until 7; text comes last and says what is none of them."""


def format_of(path: Path) -> Format:
    """The format of a file, by its first bytes. Raises BadFile where there is no file."""
    if not path.is_file():
        raise BadFile(f"there is no file {path}")
    with path.open("rb") as stream:
        head = stream.read(HEAD_BYTES)
    return next((kind for kind in FORMATS if kind.looks_like(head)), delimited)


def understand(path: Path) -> Layout:
    """How the file would be read: columns, units, time axis. Raises BadFile."""
    return format_of(path).understand(path)


def load(
    path: Path,
    circuit: Circuit,
    layout: Layout | None = None,
    mapping: list[Mapped] | None = None,
    interval_s: float | None = None,
) -> Capture:
    """Read a file as a capture of a circuit; the mapping is guessed when none is given. Raises BadFile, BadOption."""
    kind = format_of(path)
    layout = layout or kind.understand(path)
    mapping = mapping if mapping is not None else guessed_mapping(layout, circuit)
    if not mapping:
        raise BadFile("no column fits a lane of this circuit; map the columns by hand", layout.data_line)
    return to_capture(layout, kind.read(path, layout, [m.position for m in mapping]), mapping, circuit, interval_s)
