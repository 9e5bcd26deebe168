"""Room on the disk: a reserve that uploads never touch, so that the database can always write, and a share for each."""

from __future__ import annotations

import shutil
from pathlib import Path

from tracebench.usecases.errors import NoRoom

RESERVE_BYTES = 300 * 1024**2
"""Left free for the database, its logs and everybody else's work."""

MOST_WAITING_BYTES, MOST_WAITING = 4 * 1024**3, 4000
"""Of files that one person has sent and not mapped yet: two zips of as many as can be."""

SHARE_BYTES = {"learner": 1024**3, "instructor": 64 * 1024**3, "administrator": 1024**3}
"""Of captures that one person keeps, by role: a course's sittings of a learner, a school's shelf of an instructor."""


def check_share(taken: int, role: str) -> None:
    """Raises NoRoom where a person's captures, `taken` bytes so far, fill their share."""
    if taken >= SHARE_BYTES[role]:
        raise NoRoom(
            f"your captures fill the {SHARE_BYTES[role] / 1024**3:.0f} GiB kept for you; "
            "give up some that nothing uses, under Account, then try again"
        )


def check(folder: Path, files: int, size: int) -> None:
    """Raises NoRoom where the reserve is touched, or one's own files that wait are too many or, together, too large."""
    check_reserve(folder)
    if size > MOST_WAITING_BYTES or files > MOST_WAITING:
        raise NoRoom("too many of your files wait to be mapped; map or give up one of them, then send this one again")


def check_reserve(folder: Path) -> None:
    """Raises NoRoom where the reserve is touched: before a file, an import or a recording, never before an answer."""
    place = next(p for p in (folder, *folder.parents) if p.exists())
    if shutil.disk_usage(place).free < RESERVE_BYTES:
        raise nearly_full()


def nearly_full() -> NoRoom:
    """What is said where the reserve is touched."""
    return NoRoom("the disk is nearly full; ask the administrator to make room, then try again")
