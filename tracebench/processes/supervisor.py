"""Keeps the processes of ./start running: notices one that died or fell silent, says so, and starts it again with
growing pauses."""

from __future__ import annotations

import contextlib
import os
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass, field

LOOK_S = 0.25
FIRST_PAUSE_S, LONGEST_PAUSE_S = 0.25, 15.0
STEADY_S = 30.0
"""A process that ran for so long begins again with the shortest pause."""


SILENT_S = 20.0
"""A process without a sign of life for so long is held by something that does not let go; one that starts gives its
first when its packages are loaded, which may take a slow machine longer."""

STARTS_S = 120.0
MOST_BEATS = 4096


@dataclass
class Child:
    """One process: how it is started, and since when it runs.

    One that beats is given the end of a pipe to write signs of life to (`beats.py`).
    """

    name: str
    start: Callable[[int], subprocess.Popen[bytes]]
    patience_s: float = 10.0
    beats: bool = False
    process: subprocess.Popen[bytes] | None = None
    since: float = 0.0
    pause_s: float = FIRST_PAUSE_S
    next_try: float = 0.0
    silent_from: float = 0.0
    _heard: int = -1

    def begin(self) -> None:
        self._let_go()
        pipe = -1
        if self.beats:
            self._heard, pipe = os.pipe()
            os.set_blocking(self._heard, False)
        try:
            self.process = self.start(pipe)
        finally:
            if pipe >= 0:
                os.close(pipe)
        self.since = time.monotonic()
        self.silent_from = self.since + STARTS_S

    def silent(self, now: float) -> bool:
        """Whether it should have given a sign of life."""
        if self._heard < 0:
            return False
        with contextlib.suppress(BlockingIOError):
            if os.read(self._heard, MOST_BEATS):
                self.silent_from = now + SILENT_S
        return now > self.silent_from

    def _let_go(self) -> None:
        if self._heard >= 0:
            os.close(self._heard)
            self._heard = -1

    def stop(self) -> None:
        """Tell it to stop, and wait; one that does not is killed."""
        if self.process is None or self.process.poll() is not None:
            return
        self.process.terminate()
        try:
            self.process.wait(timeout=self.patience_s)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


@dataclass
class Supervisor:
    """Children in the order of their starting; stopped the other way round."""

    say: Callable[[str], None]
    children: list[Child] = field(default_factory=list)

    def add(self, child: Child) -> None:
        child.begin()
        self.children.append(child)

    def look(self) -> None:
        """Start again whatever has died and is due."""
        now = time.monotonic()
        for child in self.children:
            if child.process is not None and child.process.poll() is None:
                if now - child.since > STEADY_S:
                    child.pause_s = FIRST_PAUSE_S
                if not child.silent(now):
                    continue
                self.say(f"the {child.name} gives no sign of life; ending it")
                child.process.kill()
                child.process.wait()
            if child.process is not None:
                self.say(f"the {child.name} stopped (status {child.process.returncode}); starting it again")
                child.process, child.next_try = None, now + child.pause_s
                child.pause_s = min(2 * child.pause_s, LONGEST_PAUSE_S)
            if child.next_try <= now:
                try:
                    child.begin()
                    self.say(f"the {child.name} runs again")
                except Exception as problem:
                    self.say(f"the {child.name} does not start: {problem}; next try in {child.pause_s:.0f} s")
                    child.next_try = time.monotonic() + child.pause_s
                    child.pause_s = min(2 * child.pause_s, LONGEST_PAUSE_S)

    def run(self, *beside: Callable[[], None]) -> None:
        """Look until interrupted, and do what is to be done beside that, which must not take long."""
        while True:
            self.look()
            for one in beside:
                one()
            time.sleep(LOOK_S)

    def stop(self) -> None:
        for child in reversed(self.children):
            with contextlib.suppress(ProcessLookupError):
                child.stop()
