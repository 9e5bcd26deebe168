"""Files and folders of an installation that only its owner reads: there whole, or as they were before."""

from __future__ import annotations

import ctypes
import os
import secrets
from pathlib import Path


def write_whole(path: Path, text: str) -> None:
    """Write a file beside its place and put it there: killed at any moment, the one before is still whole."""
    beside = path.with_name(f"{path.name}.{secrets.token_hex(4)}")
    with os.fdopen(os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as out:
        out.write(text)
        out.flush()
        os.fsync(out.fileno())
    beside.rename(path)


_AT_FDCWD, _EXCHANGE = -100, 2
_LIBC = ctypes.CDLL(None, use_errno=True)


def exchange(one: Path, other: Path) -> None:
    """Let two files or folders change places, in one step that is done or not (renameat2(2)). Raises OSError."""
    if _LIBC.renameat2(_AT_FDCWD, os.fsencode(one), _AT_FDCWD, os.fsencode(other), _EXCHANGE) != 0:
        number = ctypes.get_errno()
        raise OSError(number, os.strerror(number), str(one))
