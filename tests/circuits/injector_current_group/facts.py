"""Injector current, group: what tests that go over all circuits know of it."""

from tests.support.setup_changes import ONE_OF_EVENTS, WINDING, Pair, cut, noised, shared

RATES = (50_000, 100_000, 500_000)
"""Samples a second that it is recorded with."""

OPTIONS = {"injectors": "6", "each_a": "0.7"}
"""What is told with a recording of the trainer."""

EXPECTED: dict[str, set[str]] = {"shorted": {"shorted_winding"}, "open": {"excess_ratio"}}
"""What each of the trainer's faults must be called."""

SETUP: dict[str, Pair] = shared("current", 3.0, (20, 2), cut(0, 0.003), cut(0, 0.3), 100.0) | {
    "noisy": Pair(noised("current", 0.35), noised("current", 0.02))
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = ONE_OF_EVENTS | {"over_filtered": WINDING}
"""What it cannot show, and why."""
