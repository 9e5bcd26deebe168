"""Whether a recording is fast enough for what it is to show: the one comparison, with the slack that rates have."""

from __future__ import annotations

from tracebench.core.circuits.threshold import Threshold

SLACK = Threshold(
    1e-3,
    "",
    "Of a rate: stamps with few digits and clocks of scopes make it a hair less than it is called (from memory)",
)


def enough(value: float, least: float) -> bool:
    """True if a rate, or samples across something, is as much as is wanted, less the slack of a rate."""
    return value >= (1 - SLACK) * least
