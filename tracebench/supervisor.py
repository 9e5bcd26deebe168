"""Keeps the processes of ./start running: notices one that died, says so, and starts it again with growing pauses."""

from __future__ import annotations

import contextlib
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass, field

LOOK_S = 0.25
FIRST_PAUSE_S, LONGEST_PAUSE_S = 0.25, 15.0
STEADY_S = 30.0
"""A process that ran for so long begins again with the shortest pause."""


@dataclass
class Child:
    """One process: how it is started, and since when it runs."""

    name: str
    start: Callable[[], subprocess.Popen[bytes]]
    patience_s: float = 10.0
    process: subprocess.Popen[bytes] | None = None
    since: float = 0.0
    pause_s: float = FIRST_PAUSE_S
    next_try: float = 0.0

    def begin(self) -> None:
        self.process = self.start()
        self.since = time.monotonic()

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
                continue
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

    def run(self, beside: Callable[[], None] | None = None) -> None:
        """Look until interrupted, and do what is to be done beside that, which must not take long."""
        while True:
            self.look()
            if beside is not None:
                beside()
            time.sleep(LOOK_S)

    def stop(self) -> None:
        for child in reversed(self.children):
            with contextlib.suppress(ProcessLookupError):
                child.stop()
