"""A sign of life that a process gives to ./start: a byte a second into a pipe, for as long as its interpreter runs.

One that is stopped, or held within a library that lets nobody else go on, gives none, and is ended by the supervisor.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable

PIPE = "TRACEBENCH_BEAT"
"""In the environment: the descriptor of the pipe."""

EVERY_S = 1.0


def keep_beating(stuck: Callable[[], bool] = lambda: False) -> None:
    """Give signs from now on, and none any more once this process is stuck; nothing where nobody listens."""
    if PIPE in os.environ:
        threading.Thread(target=_beat, args=(int(os.environ[PIPE]), stuck), daemon=True).start()


def _beat(pipe: int, stuck: Callable[[], bool]) -> None:
    ended = threading.Event()
    while not stuck():
        try:
            os.write(pipe, b".")
        except OSError:
            return
        ended.wait(EVERY_S)
