"""Processes of ours that must not outlive the one that started them."""

from __future__ import annotations

import ctypes
import signal
import subprocess
from collections.abc import Mapping, Sequence

_PR_SET_PDEATHSIG = 1
_LIBC = ctypes.CDLL(None, use_errno=True)


def _die_with_parent() -> None:
    # Linux sends the signal when the thread that started us ends, however it ends: kill -9 as well.
    _LIBC.prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def spawn(
    command: Sequence[str], env: Mapping[str, str] | None = None, keep: Sequence[int] = (), silent: bool = False
) -> subprocess.Popen[bytes]:
    """Start a process that is told to stop when this one ends, whatever ends it.

    It is in a session of its own, so that Ctrl-C reaches only us and we stop it in order. `keep` are file descriptors
    that it inherits. Call it from the main thread: the signal comes when the calling thread ends.
    """
    return subprocess.Popen(
        command,
        env=env,
        pass_fds=tuple(keep),
        stdout=subprocess.DEVNULL if silent else None,
        stderr=subprocess.DEVNULL if silent else None,
        start_new_session=True,
        preexec_fn=_die_with_parent,  # noqa: PLW1509 - no threads are running in what calls this
    )
