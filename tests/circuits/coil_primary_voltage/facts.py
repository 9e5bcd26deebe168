"""Coil primary voltage: what tests that go over all circuits know of it."""

from tests.support.setup_changes import ONE_OF_EVENTS, Pair, cut, filtered, noised, shared

RATES = (200_000, 500_000)
"""Samples a second that it is recorded with."""

BITS = (12, 16)
"""Its ripple or burn is under a twentieth of its range: eight bits put it into a code or two."""

EXPECTED: dict[str, set[str]] = {
    "open": {"no_burn"},
    "short-burn": {"short_burn"},
    "long-burn": {"long_burn"},
    "low-kick": {"low_kick"},
    "no-rings": {"no_rings"},
    "weak-driver": {"weak_driver"},
    "no-switching": {"no_switching"},
}
"""What each of the trainer's faults must be called."""

GRADED = "open"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("control", 200.0, (100, 2), cut(0.002, 0.003), cut(0, 0.3)) | {
    "noisy": Pair(noised("control", 12.0), noised("control", 0.1)),
    "over_filtered": Pair(filtered("control", 100e-6), filtered("control", 2e-6)),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = ONE_OF_EVENTS
"""What it cannot show, and why."""
