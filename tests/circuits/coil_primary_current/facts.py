"""Coil primary current: what tests that go over all circuits know of it."""

from tests.support.setup_changes import OF_EVENTS, WINDING, Pair, as_it_is, cut, exchanged, noised, shared

RATES = (200_000, 500_000)
"""Samples a second that it is recorded with."""

BITS = (12, 16)
"""Its ripple or burn is under a twentieth of its range: eight bits put it into a code or two."""

EXPECTED: dict[str, set[str]] = {
    "secondary-open": {"turn_on_abnormal"},
    "shorted": {"shorted_winding"},
    "missing": {"missing_ramp"},
    "short-dwell": {"short_dwell"},
    "low-peak": {"low_peak"},
}
"""What each of the trainer's faults must be called."""

GRADED = "secondary-open"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("current", 5.0, (40, 2), cut(0.010, 0.003), cut(0, 0.3), 100.0) | {
    "noisy": Pair(noised("current", 0.6), noised("current", 0.02)),
    "lanes_swapped": Pair(exchanged("current", "sync"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = OF_EVENTS | {"over_filtered": WINDING}
"""What it cannot show, and why."""
