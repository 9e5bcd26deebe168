"""Airflow, frequency: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    NOT_SWEPT,
    ONE_LANE,
    PULSES,
    TWO_LEVELS,
    Pair,
    as_it_is,
    cut,
    filtered,
    noised,
    shared,
    without,
)

RATES = (100_000, 200_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "missing-pulses": {"missing_pulses"},
    "low-swing": {"low_swing"},
    "contaminated": {"low_under_load"},
    "no-signal": {"no_signal"},
}
"""What each of the trainer's faults must be called."""

SETUP: dict[str, Pair] = without(
    shared("signal", 4.0, (8, 2), cut(5.0, 0.001), cut(5.0, 0.02))
    | {
        "missing_phase": Pair(cut(5.2, 1.0), as_it_is),
        "noisy": Pair(noised("signal", 1.0), noised("signal", 0.05)),
        "over_filtered": Pair(filtered("signal", 60e-6), filtered("signal", 5e-6)),
    },
    "clipped",
    "low_range_use",
)
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = (NOT_SWEPT | {"lanes_swapped": ONE_LANE, "probe_slip": PULSES}) | {
    "clipped": TWO_LEVELS,
    "low_range_use": TWO_LEVELS,
}
"""What it cannot show, and why."""
