"""Airflow, voltage: what tests that go over all circuits know of it."""

from tests.support.setup_changes import NOT_SWEPT, Pair, as_it_is, cut, exchanged, filtered, noised, shared, slip

EXPECTED: dict[str, set[str]] = {
    "contaminated": {"low_under_load"},
    "key-on-high": {"key_on_high"},
    "no-surge": {"missing_surge"},
    "no-signal": {"no_signal"},
    "low-supply": {"supply_low"},
    "high-ground": {"ground_high"},
    "dropout": {"dropout"},
    "probe-slip": {"probe_slip"},
}
"""What each of the trainer's faults must be called."""

GRADED = "contaminated"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("signal", 2.0, (40, 5), cut(0, 0.8), cut(0, 1.3)) | {
    "missing_phase": Pair(cut(0, 6.5), as_it_is),
    "noisy": Pair(noised("signal", 1.5), noised("signal", 0.01)),
    "probe_slip": slip("signal", 6.0),
    "over_filtered": Pair(filtered("signal", 0.03), filtered("signal", 0.002)),
    "lanes_swapped": Pair(exchanged("supply", "ground"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT
"""What it cannot show, and why."""
