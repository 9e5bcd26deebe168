"""Which format a file is of, recognised by what is in it and not by what it is called.

What strangers sent is read by `apart`; this is what that runs.
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Protocol

from tracebench.core.errors import BadFile
from tracebench.formats import arrow, delimited, hdf5, matlab, mdf, wav
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
        raise BadFile(f"there is no file {path.name}")
    with path.open("rb") as stream:
        head = stream.read(HEAD_BYTES)
    return next((kind for kind in FORMATS if kind.looks_like(head)), delimited)


def understand(path: Path) -> Layout:
    """How the file would be read: columns, units, time axis. Raises BadFile."""
    return format_of(path).understand(path)
