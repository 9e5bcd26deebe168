"""Memory that a reader hands over: documents and rows of numbers that the other side maps and does not copy.

A file in memory has no name that anybody else could open, and is gone when nobody holds it (memfd_create(2)).
"""

from __future__ import annotations

import fcntl
import json
import mmap
import os
from collections.abc import Sequence
from typing import Any, ClassVar

import numpy as np

from tracebench.core.samples import Samples

MOST_OWN = 32
"""Rows that are handed over in files of their own; more of them share one."""

WIDTH = 8


class _Kept:
    """Rows that can be handed over, in a reader: where each begins in memory, and the file that it lies in."""

    shared = False
    files: ClassVar[dict[int, int]] = {}


def share_rows() -> None:
    """From now on rows of this process lie in memory that can be handed over."""
    _Kept.shared = True


def row_of(count: int) -> Samples:
    """An empty row of numbers to be filled; pages that nothing is written to cost nothing."""
    if not _Kept.shared or count == 0:
        return np.empty(count)
    file = new_file(count * WIDTH)
    row: Samples = np.frombuffer(mmap.mmap(file, count * WIDTH), dtype=np.float64)
    _Kept.files[_begin(row)] = file
    return row


def handed(rows: Sequence[Samples]) -> tuple[list[dict[str, int]], list[int]]:
    """Where each row lies (which of the files, from which byte, how many numbers), and the files."""
    files: list[int] = []
    places: list[dict[str, int]] = []
    loose = [row for row in rows if _own_file(row, len(rows)) is None]
    packed = new_file(max(1, sum(row.size for row in loose)) * WIDTH) if loose else -1
    if loose:
        files.append(packed)
        into = np.frombuffer(mmap.mmap(packed, 0), dtype=np.float64)
    at = 0
    for row in rows:
        own = _own_file(row, len(rows))
        if own is None:
            into[at : at + row.size] = row
            places.append({"file": 0, "from": at * WIDTH, "count": row.size})
            at += row.size
        else:
            places.append({"file": len(files), "from": 0, "count": row.size})
            files.append(own)
    return places, files


def _own_file(row: Samples, of: int) -> int | None:
    if of > MOST_OWN or row.dtype != np.float64 or not row.flags.c_contiguous:
        return None
    return _Kept.files.get(_begin(row))


def _begin(row: Samples) -> int:
    return int(row.__array_interface__["data"][0])


def taken(places: Sequence[dict[str, int]], files: Sequence[int]) -> list[Samples]:
    """The rows that were handed over. Raises ValueError where they do not lie where it was told.

    Nobody can make the files shorter any more: a map that reaches past the end would take its process with it.
    """
    sizes = []
    for file in files:
        fcntl.fcntl(file, fcntl.F_ADD_SEALS, fcntl.F_SEAL_SHRINK)
        sizes.append(os.fstat(file).st_size)
    maps = [mmap.mmap(file, size) if size else None for file, size in zip(files, sizes, strict=True)]
    rows = []
    for place in places:
        which, begin, count = (int(place[key]) for key in ("file", "from", "count"))
        if count < 0 or begin < 0 or begin % WIDTH or begin + count * WIDTH > sizes[which]:
            raise ValueError("rows that lie outside of what was handed over")
        held = maps[which]
        row = np.empty(0) if held is None else np.frombuffer(held, dtype=np.float64, count=count, offset=begin)
        rows.append(row)
    return rows


def new_file(size: int) -> int:
    """A file in memory of so many bytes, all zero."""
    file = os.memfd_create("tracebench", os.MFD_CLOEXEC | os.MFD_ALLOW_SEALING)
    os.ftruncate(file, size)
    return file


def document_file(value: Any) -> int:
    """A JSON document as a file in memory."""
    text = json.dumps(value).encode()
    file = new_file(0)
    with os.fdopen(os.dup(file), "wb") as out:
        out.write(text)
    return file


def document_of(file: int, most: int) -> Any:
    """The JSON document of a file in memory. Raises ValueError."""
    with os.fdopen(os.dup(file), "rb") as stream:
        stream.seek(0)
        text = stream.read(most + 1)
    if len(text) > most:
        raise ValueError("an answer larger than any can be")
    return json.loads(text)
