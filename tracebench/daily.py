"""One backup a day of a running installation, the last seven kept."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from tracebench.children import spawn
from tracebench.settings import Settings

KEPT = 7
EVERY_S = 60.0


class Daily:
    """Called again and again: starts the day's backup once, beside everything else, and takes the oldest away."""

    def __init__(self, settings: Settings, folder: Path, say: Callable[[str], None]) -> None:
        self._settings, self._folder, self._say = settings, folder, say
        self._process: subprocess.Popen[bytes] | None = None
        self._next = 0.0

    def __call__(self) -> None:
        if time.monotonic() < self._next or (self._process is not None and self._process.poll() is None):
            return
        self._next = time.monotonic() + EVERY_S
        if self._process is not None and self._process.returncode != 0:
            self._say("the backup of the day failed; tracebench backup FILE says why; next try in an hour")
            self._next = time.monotonic() + 60 * EVERY_S
        self._process = None
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        path = self._folder / f"{datetime.now(UTC):%Y-%m-%d}.zip"
        for old in sorted(self._folder.glob("????-??-??.zip"))[:-KEPT]:
            old.unlink()
        if not path.exists():
            command = [sys.executable, "-m", "tracebench.cli", "backup", str(path), "--data", str(self._folder.parent)]
            self._process = spawn(command, silent=True)
