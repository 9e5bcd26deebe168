"""One file at a time for each person: whoever sends many has them read one after the other, and holds nobody up.

A turn is a name that one process of the machine has at a time, as an address in Linux's abstract namespace (unix(7)):
it holds between processes, leaves no file behind, and ends with whoever has it.
"""

from __future__ import annotations

import errno
import hashlib
import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from tracebench.usecases.errors import TooSoon

PATIENCE_S, LOOK_S = 4.0, 0.02
"""How long somebody at a page waits for their own file before, and between two looks."""

WORKER_PATIENCE_S = 60.0


@contextmanager
def turn(folder: Path, person_id: int, patience_s: float | None = None) -> Iterator[None]:
    """Hold a person's turn to have a file read. Raises TooSoon where their file before takes longer than that.

    `folder` is where the installation keeps files that wait; another's people have turns of their own.
    """
    place = hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:20]
    with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as held:
        end = time.monotonic() + (PATIENCE_S if patience_s is None else patience_s)
        while True:
            try:
                held.bind(f"\0tracebench-turn-{place}-{person_id}")
                break
            except OSError as taken:
                if taken.errno != errno.EADDRINUSE:
                    raise
            if time.monotonic() > end:
                raise TooSoon("another file of yours is being read; send this one when that is done", 5)
            time.sleep(LOOK_S)
        yield
