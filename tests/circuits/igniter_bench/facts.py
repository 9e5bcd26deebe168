"""Switching module, bench: what tests that go over all circuits know of it."""

from tests.support.setup_changes import OF_EVENTS, TWO_LEVELS, Pair, as_it_is, cut, exchanged, filtered, noised, shared

RATES = (10_000, 20_000, 50_000)
"""Samples a second that it is recorded with."""

EXPECTED: dict[str, set[str]] = {
    "dead": {"no_switching"},
    "misses": {"misses"},
    "unstable": {"unstable_width"},
    "heats-up": {"misses"},
}
"""What each of the trainer's faults must be called."""

SETUP: dict[str, Pair] = {
    k: v
    for k, v in shared("output", 10.0, (20, 2), cut(0, 0.09), cut(0, 3.5)).items()
    if k not in ("clipped", "low_range_use")
} | {
    "noisy": Pair(noised("output", 3.0), noised("output", 0.05)),
    "over_filtered": Pair(filtered("output", 500e-6), filtered("output", 50e-6)),
    "lanes_swapped": Pair(exchanged("output", "trigger"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = OF_EVENTS | {"clipped": TWO_LEVELS, "low_range_use": TWO_LEVELS}
"""What it cannot show, and why."""
