"""Files that strangers send, read in a process of their own: what a damaged one does there stays there.

Libraries in C that read binary files can be held for ever or torn down by one changed byte, and would take whoever
called them along. Nothing here loads any of them: `client.py` asks, `server.py` stands ready and forks, `tasks.py` is
what a fork does, `limits.py` what it may take, `formats/memory.py` how its rows are handed over without a copy.
"""

from __future__ import annotations

import atexit
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadFile
from tracebench.formats.apart.client import Answer, Readers
from tracebench.formats.mapping import Mapped, guessed_mapping, to_capture
from tracebench.formats.table import Layout, Table, layout_as_json, layout_of_json

READERS = Readers()
"""What stands ready for this process."""

atexit.register(READERS.close)


def understand(path: Path) -> Layout:
    """How the file would be read: columns, units, time axis. Raises BadFile."""
    return layout_of_json(READERS.ask("understand", path).told["layout"])


def read(path: Path, layout: Layout, positions: Iterable[int]) -> Table:
    """The wanted columns of a file of this layout. Raises BadFile."""
    return _table(READERS.ask("read", path, layout=layout_as_json(layout), positions=list(positions)))


def both(path: Path, positions: Iterable[int] | None, most: int = 0) -> tuple[Layout, Table | None]:
    """How a file is read and the wanted columns, or the first `most`, at once. Raises BadFile.

    There is no table where the file has no column beside its times, or not one of those wanted.
    """
    wanted = None if positions is None else list(positions)
    answer = READERS.ask("both", path, positions=wanted, most=most)
    return layout_of_json(answer.told["layout"]), _table(answer) if "positions" in answer.told else None


def _table(answer: Answer) -> Table:
    rows = list(answer.rows)
    times = rows.pop(0) if answer.told["times"] else None
    values = dict(zip((int(p) for p in answer.told["positions"]), rows, strict=True))
    return Table(times, values, int(answer.told["rows"]))


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
    return to_capture(layout, read(path, layout, [m.position for m in mapping]), mapping, circuit, interval_s)


def names(path: Path) -> list[str]:
    """The names in a zip archive. Raises BadFile."""
    return [str(name) for name in READERS.ask("names", path).told["names"]]


def unpack(path: Path, folder: Path, stem: str, reserve_bytes: int, most_bytes: int) -> list[tuple[str, str]]:
    """Take the files out of a zip archive into a folder, as `stem` and a number: how each is kept and was called.

    Raises BadFile, and OSError (ENOSPC) where less than the reserve would be left free; then none of them is kept.
    """
    try:
        room = {"reserve_bytes": reserve_bytes, "most_bytes": most_bytes}
        answer = READERS.ask("unpack", path, folder=str(folder), stem=stem, **room)
    except BaseException:
        # A reader that was killed could not take away what it had written.
        for left in folder.glob(f"{stem}-*"):
            left.unlink(missing_ok=True)
        raise
    return [(str(one["stored_as"]), str(one["name"])) for one in answer.told["files"]]


@dataclass(frozen=True, slots=True)
class Bundle:
    """A bundle of references: its sheets, and the captures when they are asked for."""

    path: Path
    sheets: Sequence[Mapping[str, Any]]

    def capture(self, name: str, told: Mapping[str, Any]) -> Capture:
        """A capture as a sheet tells of it. Raises BadFile."""
        try:
            heads = [(str(x["lane"]), str(x["unit"]), str(x["column_name"]), float(x["factor"])) for x in told["lanes"]]
            rows, interval_s, start_s = int(told["source_samples"]), float(told["interval_s"]), float(told["start_s"])
            notes = tuple(told["notes"])
        except (KeyError, TypeError, ValueError) as problem:
            raise BadFile(f"the bundle tells wrongly of capture {name}: {problem}", 1) from None
        samples = READERS.ask("lanes", self.path, name=name, wanted=[head[0] for head in heads]).rows
        lanes = {
            lane: Lane(lane, row, unit, column, factor)
            for (lane, unit, column, factor), row in zip(heads, samples, strict=True)
        }
        return Capture(lanes, interval_s, start_s, rows, notes)


def bundle_of(path: Path) -> Bundle:
    """A bundle. Raises BadFile that says what is wrong with it."""
    return Bundle(path, tuple(READERS.ask("sheets", path).told["sheets"]))
