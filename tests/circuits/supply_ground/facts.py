"""Supply and ground: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    EDGELESS,
    NO_PHASE,
    NOT_SWEPT,
    RESTS,
    STEADY,
    Pair,
    as_it_is,
    cut,
    exchanged,
    noised,
    shared,
    without,
)

RATES = (100, 1000, 5000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "low-supply": {"supply_low"},
    "low-reference": {"reference_low"},
    "high-reference": {"reference_high"},
    "high-ground": {"ground_high"},
}
"""What each of the trainer's faults must be called."""

GRADED = "high-ground"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = without(
    shared("supply", 12.3, (10, 2), cut(0, 0.15), cut(0, 0.3))
    | {
        "noisy": Pair(noised("reference", 8.0), noised("reference", 0.05)),
        "lanes_swapped": Pair(exchanged("supply", "ground"), as_it_is),
    },
    "clipped",
    "low_range_use",
    "undersampled",
)
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = (NOT_SWEPT | {"over_filtered": EDGELESS, "missing_phase": NO_PHASE, "probe_slip": STEADY}) | {
    "clipped": RESTS,
    "low_range_use": RESTS,
    "undersampled": RESTS,
}
"""What it cannot show, and why."""
