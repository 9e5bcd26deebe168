"""What a reader of one file may take: processor time, time by the clock, memory, open files, size of its answer."""

from __future__ import annotations

import os
import resource
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

LEAST_S, BYTES_A_S = 15.0, 5_000_000.0
"""Processor time for any file, and how many bytes of it are worth a second more: ten times what a slow one needs."""

BUSY = 4.0
"""A machine may be so many times slower by the clock than by the work done."""

MEMORY_BYTES, MEMORY_A_BYTE = 3 * 1024**3, 24
"""Of any file, and more for each of its bytes: eight bytes a sample that was packed into less than one, held twice."""

MOST_OF_MACHINE = 0.75
OPEN_FILES = 256
ANSWER_BYTES = 4 * 1024**3
"""More than the most numbers that are read at a time take."""

OUT_OF_MEMORY = 3
"""How a reader ends for which its limit of memory is too little."""

LAST_KILLED = "500"
"""Where memory runs out a reader goes before the database and whoever answers pages (proc(5), oom_score_adj)."""


@dataclass(frozen=True, slots=True)
class Limits:
    cpu_s: float
    clock_s: float
    memory_bytes: int
    open_files: int = OPEN_FILES
    answer_bytes: int = ANSWER_BYTES

    def as_json(self) -> dict[str, Any]:
        return asdict(self)

    def take_on(self) -> None:
        """Put them on this process, for good."""
        cpu = max(1, round(self.cpu_s))
        resource.setrlimit(resource.RLIMIT_CPU, (cpu, cpu + 1))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
        resource.setrlimit(resource.RLIMIT_FSIZE, (self.answer_bytes, self.answer_bytes))
        resource.setrlimit(resource.RLIMIT_NOFILE, (self.open_files, self.open_files))
        # What is mapped already, most of it libraries, is not the file's doing.
        mapped = int(Path("/proc/self/statm").read_text().split()[0]) * os.sysconf("SC_PAGE_SIZE")
        resource.setrlimit(resource.RLIMIT_AS, (mapped + self.memory_bytes, mapped + self.memory_bytes))
        Path("/proc/self/oom_score_adj").write_text(LAST_KILLED)


def limits_of(path: Path) -> Limits:
    """What reading a file of this size may take."""
    size = path.stat().st_size
    cpu_s = LEAST_S + size / BYTES_A_S
    machine = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    memory = min(MEMORY_BYTES + MEMORY_A_BYTE * size, int(MOST_OF_MACHINE * machine))
    return Limits(cpu_s, BUSY * cpu_s, memory)
