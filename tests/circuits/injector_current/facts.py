"""Injector current: what tests that go over all circuits know of it."""

from tests.support.setup_changes import ONE_OF_EVENTS, WINDING, Pair, cut, noised, shared

RATES = (50_000, 100_000, 500_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "shorted": {"shorted_winding"},
    "stuck": {"no_pintle_dip"},
    "late": set(),  # judged only against a limit of the injector's own
    "high-resistance": {"high_resistance"},
}
"""What each of the trainer's faults must be called."""

GRADED = "stuck"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("current", 0.6, (20, 2), cut(0, 0.003), cut(0, 0.3)) | {
    "noisy": Pair(noised("current", 0.07), noised("current", 0.002))
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = ONE_OF_EVENTS | {"over_filtered": WINDING}
"""What it cannot show, and why."""
