"""Which processors a process of ours runs on.

A web process is of many threads that take turns at one interpreter: on two processors they wake each other across
both for every statement that is answered, and a request takes twice the time (180 a second and 340 on one, p99 300 and
100 ms, measured by hand with and without). So each stays on one of its own, and what it starts may have all of them.
"""

from __future__ import annotations

import os

_ALLOWED = frozenset(os.sched_getaffinity(0))
"""What this process was let run on when it began."""


def stay_on_one(number: int) -> None:
    """Keep this process, with the threads that it begins from now on, on the `number`th of its processors (from 1;
    they are gone round again where there are fewer)."""
    in_order = sorted(_ALLOWED)
    os.sched_setaffinity(0, {in_order[(number - 1) % len(in_order)]})


def let_run_on_all(pid: int) -> None:
    """Let a process that this one has started run wherever this one might when it began."""
    os.sched_setaffinity(pid, _ALLOWED)
