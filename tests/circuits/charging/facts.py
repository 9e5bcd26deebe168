"""Charging: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    EDGELESS,
    NO_PHASE,
    NOT_SWEPT,
    STEADY,
    Pair,
    as_it_is,
    cut,
    exchanged,
    noised,
    shared,
)

RATES = (1000, 5000, 10_000)
"""Samples a second that it is recorded with."""

OTHER_PART_WITH_FAULTS = True

OTHER_PART = {"command": "pulses"}
"""A sound part of another make."""

EXPECTED: dict[str, set[str]] = {
    "regulator": {"overcharge"},
    "command": {"command_driven"},
    "ground-lifted": {"ground_lifted"},
    "undercharge": {"undercharge"},
    "diode": {"diode_ripple"},
}
"""What each of the trainer's faults must be called."""

GRADED = "regulator"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("sense", 14.1, (20, 2), cut(0, 0.6), cut(0, 1.3)) | {
    "noisy": Pair(noised("sense", 0.5), noised("sense", 0.02)),
    "lanes_swapped": Pair(exchanged("sense", "case_ground"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT | {"over_filtered": EDGELESS, "missing_phase": NO_PHASE, "probe_slip": STEADY}
"""What it cannot show, and why."""
