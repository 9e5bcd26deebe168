"""Files to captures: one module a format. Delimited text is the first."""

from __future__ import annotations

from pathlib import Path

from tracebench.core.capture import Capture
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadFile
from tracebench.formats import delimited
from tracebench.formats.mapping import Mapped, guessed_mapping, to_capture
from tracebench.formats.table import Layout


def understand(path: Path) -> Layout:
    """How the file would be read: columns, units, time axis. Raises BadFile."""
    if not path.is_file():
        raise BadFile(f"there is no file {path}")
    return delimited.understand(path)


def load(
    path: Path,
    circuit: Circuit,
    layout: Layout | None = None,
    mapping: list[Mapped] | None = None,
    interval_s: float | None = None,
) -> Capture:
    """Read a file as a capture of a circuit; the mapping is guessed when none is given. Raises BadFile, BadOption."""
    layout = layout or understand(path)
    mapping = mapping if mapping is not None else guessed_mapping(layout, circuit)
    if not mapping:
        raise BadFile("no column fits a lane of this circuit; map the columns by hand", layout.data_line)
    return to_capture(layout, delimited.read(path, layout, [m.position for m in mapping]), mapping, circuit, interval_s)
