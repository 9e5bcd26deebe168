"""Oxygen, wideband: what tests that go over all circuits know of it."""

from tests.support.setup_changes import NOT_SWEPT, STEADY, Pair, as_it_is, cut, exchanged, filtered, noised, shared

EXPECTED: dict[str, set[str]] = {
    "slow-fuel": {"slow_fuel_response"},
    "stuck": {"stuck_in_window"},
    "lean": {"biased_lean"},
    "rich": {"biased_rich"},
    "heater": {"heater_fault"},
}
"""What each of the trainer's faults must be called."""

GRADED = "slow-fuel"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("pump_voltage", 3.0, (50, 10), cut(0, 0.8), cut(0, 1.3)) | {
    "missing_phase": Pair(cut(8.0, 0.4), as_it_is),
    "noisy": Pair(noised("pump_voltage", 1.5), noised("pump_voltage", 0.01)),
    "over_filtered": Pair(filtered("pump_voltage", 0.2), filtered("pump_voltage", 0.2, 0.01)),
    "lanes_swapped": Pair(exchanged("reference_low", "reference_high"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT | {"probe_slip": STEADY}
"""What it cannot show, and why."""
