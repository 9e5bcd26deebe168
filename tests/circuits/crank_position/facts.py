"""Crank position: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    NO_PHASE,
    NOT_SWEPT,
    PULSES,
    Pair,
    as_it_is,
    cut,
    exchanged,
    noised,
    shared,
    switched,
    without,
)

RATES = (50_000, 100_000, 200_000, 500_000)
"""Samples a second that it is recorded with."""

OTHER_PART = {"type": "hall"}
"""A sound part of another make."""

EXPECTED: dict[str, set[str]] = {
    "damaged-tooth": {"tooth_damaged"},
    "weak": {"weak_amplitude"},
    "dropout": {"dropout"},
    "runout": {"runout"},
    "cam-shift": set(),  # judged only against a limit of the engine's own
    "reversed": {"reversed_polarity"},
}
"""What each of the trainer's faults must be called."""

GRADED = "damaged-tooth"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = without(
    shared("signal", 1.0, (15, 2), cut(0, 0.03), cut(0, 0.3), 100.0)
    | {
        "noisy": Pair(noised("signal", 0.6), noised("signal", 0.05)),
        "over_filtered": Pair(switched("signal", 75e-6), switched("signal", 20e-6)),
        "lanes_swapped": Pair(exchanged("signal", "cam"), as_it_is),
    },
    "reversed_polarity",
)
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = (NOT_SWEPT | {"missing_phase": NO_PHASE, "probe_slip": PULSES}) | {
    "reversed_polarity": "either sense is its own unless one is told: test_crank_position"
}
"""What it cannot show, and why."""
