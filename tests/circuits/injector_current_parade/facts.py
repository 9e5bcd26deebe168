"""Injector currents, all in order: what tests that go over all circuits know of it."""

from tests.support.setup_changes import OF_EVENTS, WINDING, Pair, as_it_is, cut, exchanged, noised, shared

RATES = (50_000, 100_000, 500_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "shorted": {"shorted_winding"},
    "high-resistance": {"weak_current"},
    "missing": {"missing_pulse"},
    "missing-once": {"missing_pulse"},
}
"""What each of the trainer's faults must be called."""

GRADED = "high-resistance"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("current", 0.6, (20, 2), cut(0, 0.003), cut(0, 0.3), 100.0) | {
    "noisy": Pair(noised("current", 0.07), noised("current", 0.002)),
    "lanes_swapped": Pair(exchanged("current", "sync"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = OF_EVENTS | {"over_filtered": WINDING}
"""What it cannot show, and why."""
