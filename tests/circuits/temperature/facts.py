"""Temperature sensor: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    EDGELESS,
    NO_PHASE,
    NOT_SWEPT,
    ONE_LANE,
    RESTS,
    STEADY,
    Pair,
    cut,
    noised,
    shared,
    without,
)

RATES = (100, 500)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "open": {"open_circuit"},
    "short": {"short_circuit"},
    "offset": set(),  # judged only against what other sensors read
    "dropout": {"dropout"},
}
"""What each of the trainer's faults must be called."""

GRADED = "open"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = without(
    shared("signal", 1.5, (10, 1), cut(0, 0.8), cut(0, 1.3))
    | {"noisy": Pair(noised("signal", 0.8), noised("signal", 0.01))},
    "low_range_use",
)
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = (
    NOT_SWEPT | {"over_filtered": EDGELESS, "lanes_swapped": ONE_LANE, "missing_phase": NO_PHASE, "probe_slip": STEADY}
) | {"low_range_use": RESTS}
"""What it cannot show, and why."""
