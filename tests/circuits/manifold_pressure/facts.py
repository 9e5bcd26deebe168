"""Manifold pressure: what tests that go over all circuits know of it."""

from tests.support.setup_changes import NOT_SWEPT, Pair, as_it_is, cut, exchanged, filtered, noised, shared, slip

EXPECTED: dict[str, set[str]] = {
    "leak": {"high_idle_pressure"},
    "slow-hose": {"slow_rise"},
    "restricted-exhaust": {"high_idle_pressure"},
    "bad-baro": {"baro_wrong"},
    "stuck": {"sensor_stuck"},
    "dropout": {"dropout"},
    "probe-slip": {"probe_slip"},
}
"""What each of the trainer's faults must be called."""

GRADED = "leak"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("signal", 4.0, (40, 10), cut(0, 0.8), cut(0, 1.3)) | {
    "missing_phase": Pair(cut(0, 6.0), as_it_is),
    "noisy": Pair(noised("signal", 1.5), noised("signal", 0.02)),
    "probe_slip": slip("signal", 5.0),
    "over_filtered": Pair(filtered("signal", 0.1), filtered("signal", 0.1, 0.01)),
    "lanes_swapped": Pair(exchanged("signal", "throttle"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT
"""What it cannot show, and why."""
