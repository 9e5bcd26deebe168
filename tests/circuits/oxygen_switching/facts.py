"""Oxygen, switching: what tests that go over all circuits know of it."""

from tests.support.setup_changes import NOT_SWEPT, ONE_LANE, STEADY, Pair, as_it_is, cold, cut, filtered, noised, shared

EXPECTED: dict[str, set[str]] = {
    "lazy": {"lazy"},
    "low-swing": {"contaminated_low_swing"},
    "stuck": {"stuck"},
    "rich": {"biased_rich"},
    "lean": {"biased_lean"},
    "no-drop": {"no_overrun_drop"},
}
"""What each of the trainer's faults must be called."""

GRADED = "lazy"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("signal", 0.6, (20, 5), cut(0, 1.8), cut(0, 2.6)) | {
    "missing_phase": Pair(cold, as_it_is),
    "noisy": Pair(noised("signal", 0.6), noised("signal", 0.01)),
    "over_filtered": Pair(filtered("signal", 0.06), filtered("signal", 0.06, 0.01)),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT | {"lanes_swapped": ONE_LANE, "probe_slip": STEADY}
"""What it cannot show, and why."""
