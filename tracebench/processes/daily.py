"""One backup a day of a running installation, the last seven kept."""

from __future__ import annotations

import contextlib
import json
import subprocess
import sys
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from tracebench.own_files import write_whole
from tracebench.processes.children import spawn
from tracebench.settings import Settings
from tracebench.store import backup

KEPT = 7
EVERY_S = 60.0
AGAIN_S = 900.0
"""After one that failed."""


class Daily:
    """Called again and again: starts the day's backup once, beside everything else, and takes the oldest away.

    While the last one failed, a note lies beside them, which the administrator is shown.
    """

    def __init__(self, settings: Settings, folder: Path, say: Callable[[str], None]) -> None:
        self._settings, self._folder, self._say = settings, folder, say
        self._process: subprocess.Popen[bytes] | None = None
        self._next = 0.0

    def __call__(self) -> None:
        if time.monotonic() < self._next or (self._process is not None and self._process.poll() is None):
            return
        self._next = time.monotonic() + EVERY_S
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        if self._process is not None:
            failed = self._process.returncode != 0
            self._process = None
            self._note(failed)
            if failed:
                self._say("the backup of the day failed; tracebench backup FILE says why; next try in 15 minutes")
                self._next = time.monotonic() + AGAIN_S
                return
        path = self._folder / f"{datetime.now(UTC):%Y-%m-%d}.zip"
        for old in sorted(self._folder.glob("????-??-??.zip"))[:-KEPT]:
            old.unlink()
        if not path.exists():
            command = [sys.executable, "-m", "tracebench.cli", "backup", str(path), "--data", str(self._folder.parent)]
            self._process = spawn(command, silent=True)

    def _note(self, failed: bool) -> None:
        """Say beside the backups that the last one failed, or no longer. On a full disk it is said on the console."""
        note = self._folder / backup.FAILED
        if not failed:
            note.unlink(missing_ok=True)
            return
        with contextlib.suppress(OSError):
            write_whole(note, json.dumps({"at": datetime.now(UTC).replace(tzinfo=None).isoformat()}))
