"""A lane on a coarser grid, and lanes made thin where all of their samples are not needed."""

from __future__ import annotations

from dataclasses import dataclass

from tracebench.core.answer import Phase
from tracebench.core.circuits.work import Work
from tracebench.core.samples import Samples


@dataclass(frozen=True, slots=True, eq=False)
class Grid:
    """A lane on a coarser grid of block medians."""

    values: Samples
    interval_s: float
    start_s: float

    def time_s(self, index: float) -> float:
        return self.start_s + index * self.interval_s

    def index(self, time_s: float) -> int:
        return int(min(max(round((time_s - self.start_s) / self.interval_s), 0), self.values.size - 1))

    def phase(self, name: str, start: int, stop: int) -> Phase:
        return Phase(name, self.time_s(start), self.time_s(stop))


def on_grid(work: Work, samples: Samples, grid_s: float) -> Grid:
    """Block medians of about `grid_s`; a slower recording stays as it is."""
    block = max(1, round(grid_s / work.capture.interval_s))
    return Grid(work.block_medians(samples, block), block * work.capture.interval_s, work.capture.start_s)


def thin(samples: Samples) -> Samples:
    """About 33,000 samples taken evenly, for levels and percentiles that decide and are not answered."""
    return samples[:: max(1, samples.size // 32_768)]
