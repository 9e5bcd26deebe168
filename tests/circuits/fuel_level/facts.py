"""Fuel level: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    EDGELESS,
    NOT_SWEPT,
    ONE_LANE,
    Pair,
    as_it_is,
    cut,
    fallen,
    lifted_off,
    noised,
    shared,
)

RATES = (100, 500, 1000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "worn": {"contact_lost"},
    "not-full": {"full_not_reached"},
    "not-empty": {"empty_not_reached"},
    "open": {"open_circuit"},
    "short": {"short_circuit"},
    "probe-slip": {"probe_slip"},
}
"""What each of the trainer's faults must be called."""

GRADED = "not-full"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("signal", 2.2, (50, 5), cut(0, 0.8), as_it_is) | {
    "missing_phase": Pair(cut(0, 1.3), as_it_is),
    "noisy": Pair(noised("signal", 0.4), noised("signal", 0.01)),
    "probe_slip": Pair(lifted_off("signal", 3.5, 0.5), fallen("signal", 3.5, 0.05)),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT | {"over_filtered": EDGELESS, "lanes_swapped": ONE_LANE}
"""What it cannot show, and why."""
