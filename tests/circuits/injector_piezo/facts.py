"""Injector, piezo: what tests that go over all circuits know of it."""

from tests.support.setup_changes import ONE_OF_EVENTS, WINDING, Pair, cut, noised, shared

RATES = (200_000, 500_000, 1_000_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "missing": {"missing_event"},
    "low-charge": {"low_charge"},
    "no-discharge": {"charge_without_discharge"},
    "power-off": {"power_stage_off"},
}
"""What each of the trainer's faults must be called."""

GRADED = "low-charge"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("current", 5.0, (20, 2), cut(0, 0.0015), cut(0, 0.3)) | {
    "noisy": Pair(noised("current", 0.6), noised("current", 0.05))
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = ONE_OF_EVENTS | {"over_filtered": WINDING}
"""What it cannot show, and why."""
