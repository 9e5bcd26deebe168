"""Injector, peak and hold: what tests that go over all circuits know of it."""

from tests.support.setup_changes import ONE_OF_EVENTS, WINDING, Pair, cut, noised, shared

RATES = (100_000, 200_000, 500_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {"no-boost": {"no_boost"}, "no-hold": {"no_hold"}, "short": {"short_on_time"}}
"""What each of the trainer's faults must be called."""

GRADED = "no-boost"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("current", 8.0, (40, 2), cut(0, 0.003), cut(0, 0.3), 100.0) | {
    "noisy": Pair(noised("current", 0.8), noised("current", 0.05))
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = ONE_OF_EVENTS | {"over_filtered": WINDING}
"""What it cannot show, and why."""
