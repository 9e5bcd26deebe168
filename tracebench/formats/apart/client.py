"""Asks what stands ready (`server.py`) for a reader, and turns however that ends into an answer or a sentence."""

from __future__ import annotations

import errno
import json
import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tracebench.core.errors import BadFile
from tracebench.core.samples import Samples
from tracebench.formats import memory
from tracebench.formats.apart.limits import OUT_OF_MEMORY, Limits, limits_of
from tracebench.processors import let_run_on_all

GRACE_S = 10.0
"""Beyond its time a reader is killed by what started it; only after so much more is that taken for stuck itself."""

MOST_MESSAGE, MOST_FILES = 4096, 64
MOST_DOCUMENT = 256_000_000

ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
"""What is forked must have no threads when it is, and reading needs none of these libraries' own."""

ENDS = {
    signal.SIGABRT: "memory of the reader is destroyed by it",
    signal.SIGSEGV: "memory of the reader is destroyed by it",
    signal.SIGBUS: "memory of the reader is destroyed by it",
    signal.SIGFPE: "the reader calculates with it what cannot be calculated",
    signal.SIGILL: "memory of the reader is destroyed by it",
}


@dataclass(frozen=True, slots=True)
class Answer:
    """What a task came to: a document, and rows of numbers in memory that was handed over."""

    told: Mapping[str, Any]
    rows: list[Samples]


class _Gone(Exception):
    """What stands ready is not there any more."""


class Readers:
    """One process that stands ready for this one, started when first needed and again when it is gone."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._control: socket.socket | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self._of = 0

    def close(self) -> None:
        """End what stands ready; it is started again when it is needed."""
        with self._lock:
            self._end()

    def warm(self) -> None:
        """Have it stand ready before the first file comes."""
        with self._lock:
            self._begun()

    def ask(self, task: str, path: Path, **asked: Any) -> Answer:
        """Have a file read. Raises BadFile, also where the file breaks what reads it, and OSError (ENOSPC)."""
        if not path.is_file():
            raise BadFile(f"there is no file {path.name}")
        limits = limits_of(path)
        head = json.dumps({"task": task, "path": str(path), "limits": limits.as_json()}).encode()
        request = memory.document_file(asked)
        try:
            try:
                return self._answered(head, request, limits)
            except _Gone:
                return self._answered(head, request, limits)
        except _Gone:
            raise BadFile("no reader could be started for this file; try again, or tell the administrator") from None
        finally:
            os.close(request)

    def _answered(self, head: bytes, request: int, limits: Limits) -> Answer:
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        with ours:
            with theirs:
                control = self._sent(head, [theirs.fileno(), request])
            ours.settimeout(limits.clock_s + GRACE_S)
            try:
                message, files, _, _ = socket.recv_fds(ours, MOST_MESSAGE, MOST_FILES)
            except OSError:
                message, files = b"", []
        if not message:
            self._forget(control)
            raise _Gone
        try:
            if not files:
                raise BadFile(_ended(json.loads(message), limits), 1)
            return _of(memory.document_of(files[0], MOST_DOCUMENT), files[1:])
        finally:
            for file in files:
                os.close(file)

    def _sent(self, head: bytes, files: list[int]) -> socket.socket:
        with self._lock:
            control = self._begun()
            try:
                socket.send_fds(control, [head], files)
            except OSError:
                self._end()
                raise _Gone from None
            return control

    def _begun(self) -> socket.socket:
        if self._control is not None and self._of == os.getpid():
            return self._control
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        command = [sys.executable, "-m", "tracebench.formats.apart.server", str(theirs.fileno())]
        # It ends by itself when the other end of its socket is closed, however this process ends.
        self._process = subprocess.Popen(
            command,
            pass_fds=[theirs.fileno()],
            env={**os.environ, **ONE_THREAD},
            stdin=subprocess.DEVNULL,
            start_new_session=True,
        )
        let_run_on_all(self._process.pid)
        theirs.close()
        self._control, self._of = ours, os.getpid()
        return ours

    def _forget(self, control: socket.socket) -> None:
        with self._lock:
            if self._control is control:
                self._end()

    def _end(self) -> None:
        if self._control is not None:
            self._control.close()
        # One that was started before this process was forked off is the other's.
        if self._process is not None and self._of == os.getpid():
            self._process.kill()
            self._process.wait()
        self._control = self._process = None


def _of(document: Any, files: list[int]) -> Answer:
    """An answer as it was written. Raises BadFile for a refusal, OSError where the disk is full."""
    if "refused" in document:
        refused = document["refused"]
        raise BadFile(str(refused["message"]), refused["line"], refused["column"])
    if "full" in document:
        raise OSError(errno.ENOSPC, "the disk is full")
    if "broke" in document:
        raise BadFile(f"this file breaks its reader: {document['broke']}", 1)
    try:
        return Answer(document["told"], memory.taken(document["rows"], files))
    except (KeyError, TypeError, ValueError, IndexError):
        raise BadFile("this file breaks its reader: what it answers makes no sense", 1) from None


def _ended(told: Mapping[str, Any], limits: Limits) -> str:
    """Why there is no answer, in words."""
    status = int(told["ended"])
    if told["late"] or status in (-signal.SIGXCPU, -signal.SIGKILL):
        why = f"it holds it for over {limits.cpu_s:.0f} s of work, or takes more memory than there is"
    elif status == OUT_OF_MEMORY:
        why = f"it takes more than the {limits.memory_bytes / 1024**3:.0f} GiB that a file of this size may"
    elif status < 0:
        why = ENDS.get(signal.Signals(-status), "it ends it") + f" ({signal.Signals(-status).name})"
    else:
        why = "it ends without an answer"
    return f"this file breaks its reader: {why}. Export the capture anew, or in another format"
