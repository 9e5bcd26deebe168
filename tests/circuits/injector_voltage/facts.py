"""Injector voltage: what tests that go over all circuits know of it."""

from tests.support.setup_changes import ONE_OF_EVENTS, Pair, cut, filtered, noised, shared

RATES = (100_000, 200_000, 500_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "ringing": {"tail_ringing"},
    "low-kick": {"low_kick"},
    "stuck": {"no_bump"},
    "weak-ground": {"weak_ground"},
    "missing": {"missing_pulses"},
    "no-pulse": {"no_pulse"},
}
"""What each of the trainer's faults must be called."""

GRADED = "stuck"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("control", 40.0, (200, 2), cut(0.002, 0.003), cut(0, 0.3)) | {
    "noisy": Pair(noised("control", 12.0), noised("control", 0.05)),
    "over_filtered": Pair(filtered("control", 100e-6), filtered("control", 5e-6)),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = ONE_OF_EVENTS
"""What it cannot show, and why."""
