"""Throttle position: what tests that go over all circuits know of it."""

from tests.support.setup_changes import EDGELESS, Pair, as_it_is, cut, exchanged, hurried, noised, shared, slip

RATES = (100, 500, 1000, 5000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "worn-idle": {"dropout"},
    "worn-mid": {"dropout"},
    "low-closed": {"low_closed"},
    "high-closed": {"high_closed"},
    "short-travel": {"low_open"},
    "low-reference": {"reference_low"},
    "open-ground": {"stuck_high"},
    "open-signal": {"stuck_low"},
    "probe-slip": {"probe_slip"},
}
"""What each of the trainer's faults must be called."""

SETUP: dict[str, Pair] = shared("signal", 3.5, (20, 10), cut(0, 0.8), as_it_is) | {
    "missing_phase": Pair(cut(0, 1.3), as_it_is),
    "noisy": Pair(noised("signal", 0.25), noised("signal", 0.02)),
    "probe_slip": slip("signal", 7.5),
    "sweep_too_fast": Pair(hurried(6), as_it_is),
    "lanes_swapped": Pair(exchanged("signal", "reference"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = {"over_filtered": EDGELESS}
"""What it cannot show, and why."""
