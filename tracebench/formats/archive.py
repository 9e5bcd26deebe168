"""A zip of files: each taken out as it is, under limits that what the archive says of itself cannot lift.

By the standard library's zipfile, of the format as PKWARE published it (APPNOTE 6.3).
"""

from __future__ import annotations

import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from tracebench.core.errors import BadFile

MAGIC = b"PK\x03\x04"
MOST_FILES = 2000
MOST_BYTES = 4 * 1024**3
"""Of all files together, counted as they come out and not as the archive states them."""

MOST_EACH = 2_000_000_000
BLOCK = 1 << 20


def looks_like(head: bytes) -> bool:
    return head[:4] in (MAGIC, b"PK\x05\x06")


@contextmanager
def opened(path: Path) -> Iterator[zipfile.ZipFile]:
    """An archive. Raises BadFile where it is damaged, locked by a password or a document of another program."""
    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            if "[Content_Types].xml" in names or "mimetype" in names:
                raise BadFile("this is a spreadsheet or document; save the sheet as CSV, then bring that in", 1)
            if len(names) > MOST_FILES:
                raise BadFile(f"the archive holds {len(names):,} files; at most {MOST_FILES:,} at a time", 1)
            yield archive
    except (zipfile.BadZipFile, zlib.error, NotImplementedError, EOFError, OSError, ValueError) as problem:
        raise BadFile(f"this zip archive is damaged or of a kind that is not read: {problem}", 1) from None
    except RuntimeError:
        raise BadFile("this zip archive is locked by a password; take the files out, then bring those in", 1) from None


def files_of(archive: zipfile.ZipFile) -> Iterator[zipfile.ZipInfo]:
    """Its files, without folders and what systems put beside them."""
    for entry in archive.infolist():
        parts = [part for part in entry.filename.replace("\\", "/").split("/") if part]
        hidden = any((part.strip(".") and part[0] == ".") or part == "__MACOSX" for part in parts)
        if not entry.is_dir() and parts and not hidden and parts[-1] != "Thumbs.db":
            yield entry


def plain_name(entry: zipfile.ZipInfo) -> str:
    """A file's name without the folders it lay in: never a path."""
    return entry.filename.replace("\\", "/").rsplit("/", 1)[-1][:255]


class Budget:
    """How much an archive may still give, all of its files together."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self.left = most_bytes

    def copy(self, archive: zipfile.ZipFile, entry: zipfile.ZipInfo, out: IO[bytes], check: Callable[[], None]) -> int:
        """Write one file out, `check` after each block; its size. Raises BadFile where it is larger than it may be."""
        size = 0
        with archive.open(entry) as source:
            while block := source.read(BLOCK):
                size += len(block)
                self.left -= len(block)
                if size > MOST_EACH or self.left < 0:
                    raise BadFile("what is in this archive is larger than can be taken at a time; split it", 1)
                out.write(block)
                check()
        return size
