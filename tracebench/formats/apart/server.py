"""What stands ready with the readers loaded and gives each file a process of its own: a fork, which takes milliseconds.

    python -m tracebench.formats.apart.server DESCRIPTOR

It reads nothing itself. A request comes by the socket of that descriptor, with a socket to answer on; the fork puts
its limits on, reads, and answers. One that is late is killed from here; how each ended is told to whoever asked.
"""

from __future__ import annotations

import contextlib
import errno
import gc
import importlib
import json
import os
import signal
import socket
import sys
import time
import traceback
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tracebench.core.errors import BadFile
from tracebench.formats import memory
from tracebench.formats.apart.limits import OUT_OF_MEMORY, Limits
from tracebench.formats.apart.tasks import ALWAYS, TASKS, libraries_for

LOOK_S = 0.1
MOST_HEAD = 4096
MOST_REQUEST = 16_000_000


@dataclass(slots=True)
class Reader:
    """A fork at work: until when, and where it is told how it ended."""

    answer: socket.socket
    ends_at: float
    late: bool = False


def main(control: socket.socket) -> None:
    """Serve until whoever started this is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    for name in ALWAYS:
        importlib.import_module(name)
    readers: dict[int, Reader] = {}
    # What is loaded stays: a fork that looks through it for garbage would make a copy of all of it.
    gc.freeze()
    while True:
        control.settimeout(LOOK_S if readers else None)
        try:
            message, files, _, _ = socket.recv_fds(control, MOST_HEAD, 2)
        except TimeoutError:
            _look_after(readers)
            continue
        if not message:
            break
        _begin(control, readers, message, files)
        _look_after(readers)
    for pid in readers:
        os.kill(pid, signal.SIGKILL)


def _begin(control: socket.socket, readers: dict[int, Reader], message: bytes, files: list[int]) -> None:
    """Fork a reader for a request."""
    head = json.loads(message)
    answer = socket.socket(fileno=files[0])
    for name in libraries_for(Path(head["path"])):
        # Loaded here, once: a fork would load it for itself alone.
        importlib.import_module(name)
    pid = os.fork()
    if pid == 0:
        control.close()
        for other in readers.values():
            other.answer.close()
        _read(answer, files[1], head)
    os.close(files[1])
    readers[pid] = Reader(answer, time.monotonic() + float(head["limits"]["clock_s"]))


def _look_after(readers: dict[int, Reader]) -> None:
    """Tell of those that ended, and end those that are late."""
    while readers:
        pid, status = os.waitpid(-1, os.WNOHANG)
        if pid == 0:
            break
        reader = readers.pop(pid)
        told = {"ended": os.waitstatus_to_exitcode(status), "late": reader.late}
        # Whoever had its answer has gone.
        with contextlib.suppress(OSError):
            reader.answer.send(json.dumps(told).encode(), socket.MSG_DONTWAIT | socket.MSG_NOSIGNAL)
        reader.answer.close()
    now = time.monotonic()
    for pid, reader in readers.items():
        if now > reader.ends_at:
            reader.late = True
            os.kill(pid, signal.SIGKILL)


def _read(answer: socket.socket, request: int, head: dict[str, Any]) -> None:
    """The fork: do the task and answer; never returns."""
    status = 1
    try:
        # What libraries say of a damaged file is news to nobody.
        silent = os.open(os.devnull, os.O_RDWR)
        for stream in (0, 1, 2):
            os.dup2(silent, stream)
        asked = memory.document_of(request, MOST_REQUEST)
        Limits(**head["limits"]).take_on()
        memory.share_rows()
        told, rows = _done(head["task"], {"path": head["path"], **asked})
        places, files = memory.handed(rows)
        document = memory.document_file({**told, "rows": places})
        socket.send_fds(answer, [b"{}"], [document, *files])
        status = 0
    except MemoryError:
        status = OUT_OF_MEMORY
    finally:
        os._exit(status)


def _done(task: str, asked: dict[str, Any]) -> tuple[dict[str, Any], list[Any]]:
    """What a task came to; a refusal is an answer too."""
    try:
        told, rows = TASKS[task](**asked)
        return {"told": told}, rows
    except BadFile as refused:
        return {"refused": {"message": refused.message, "line": refused.line, "column": refused.column}}, []
    except OSError as problem:
        return {"full": True} if problem.errno == errno.ENOSPC else {"broke": f"{type(problem).__name__}"}, []
    except MemoryError:
        raise
    except Exception as broken:
        where = traceback.extract_tb(broken.__traceback__)[-1]
        return {"broke": f"{type(broken).__name__} in {os.path.basename(where.filename)}:{where.lineno}"}, []


if __name__ == "__main__":
    main(socket.socket(fileno=int(sys.argv[1])))
