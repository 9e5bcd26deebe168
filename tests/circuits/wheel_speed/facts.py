"""Wheel speed: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    EITHER_SENSE,
    NOT_SWEPT,
    ONE_LANE,
    STEADY,
    Pair,
    as_it_is,
    cut,
    dead,
    noised,
    shared,
    switched,
    without,
)

RATES = (5000, 20_000, 50_000)
"""Samples a second that it is recorded with."""

OPTIONS = {"teeth": "48"}
"""What is told with a recording of the trainer."""

OTHER_PART = {"type": "hall"}
"""A sound part of another make."""

EXPECTED: dict[str, set[str]] = {
    "damaged-tooth": {"tooth_damaged"},
    "weak": {"weak_amplitude"},
    "dropout": {"dropout"},
    "runout": {"runout"},
}
"""What each of the trainer's faults must be called."""

GRADED = "damaged-tooth"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = without(
    shared("signal", 0.3, (40, 12), cut(1.0, 0.6), cut(1.0, 1.5), 100.0)
    | {
        "noisy": Pair(noised("signal", 0.3), noised("signal", 0.005)),
        "over_filtered": Pair(switched("signal", 1.5e-3, 0.02), switched("signal", 0.2e-3, 0.02)),
        "missing_phase": Pair(dead("signal"), as_it_is),
    },
    "reversed_polarity",
)
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = (NOT_SWEPT | {"lanes_swapped": ONE_LANE, "probe_slip": STEADY}) | {
    "reversed_polarity": EITHER_SENSE
}
"""What it cannot show, and why."""
