"""Rail pressure: what tests that go over all circuits know of it."""

from tests.support.setup_changes import EDGELESS, NOT_SWEPT, ONE_LANE, Pair, as_it_is, cut, noised, shared, slip

EXPECTED: dict[str, set[str]] = {
    "slow-build": {"slow_build"},
    "hunting": {"pressure_hunting"},
    "low-peak": {"low_peak"},
    "dropout": {"dropout"},
    "probe-slip": {"probe_slip"},
}
"""What each of the trainer's faults must be called."""

GRADED = "hunting"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("signal", 2.5, (80, 10), cut(0, 0.8), cut(0, 1.3)) | {
    "missing_phase": Pair(cut(0, 7.0), as_it_is),
    "noisy": Pair(noised("signal", 1.5), noised("signal", 0.01)),
    "probe_slip": slip("signal", 6.0),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT | {"lanes_swapped": ONE_LANE, "over_filtered": EDGELESS}
"""What it cannot show, and why."""
