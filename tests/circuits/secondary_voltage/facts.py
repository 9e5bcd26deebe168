"""Secondary voltage: what tests that go over all circuits know of it."""

import numpy as np

from tests.support.setup_changes import (
    EITHER_WAY,
    OF_EVENTS,
    Pair,
    as_it_is,
    cut,
    exchanged,
    filtered,
    noised,
    on,
    shared,
)

RATES = (500_000,)
"""Samples a second that it is recorded with."""

BITS = (12, 16)
"""Its ripple or burn is under a twentieth of its range: eight bits put it into a code or two."""

EXPECTED: dict[str, set[str]] = {
    "open": {"no_burn"},
    "fouled": {"low_firing"},
    "wide-gap": {"high_firing"},
    "hash": {"burn_hash"},
    "short-burn": {"short_burn"},
    "weak-coil": {"burn_collapses_on_snap"},
    "no-rings": {"no_rings"},
    "misfire": {"misfire_intermittent"},
}
"""What each of the trainer's faults must be called."""

GRADED = "weak-coil"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = {
    k: v
    for k, v in shared("secondary", 10.0, (100, 2), cut(0, 0.003), cut(0, 0.3), 1000.0).items()
    if k != "reversed_polarity"
} | {
    "clipped": Pair(on("secondary", lambda x, _: np.maximum(x, -7.0)), as_it_is),
    "noisy": Pair(noised("secondary", 0.5), noised("secondary", 0.02)),
    "over_filtered": Pair(filtered("secondary", 150e-6), filtered("secondary", 2e-6)),
    "lanes_swapped": Pair(exchanged("secondary", "sync"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = OF_EVENTS | {"reversed_polarity": EITHER_WAY}
"""What it cannot show, and why."""
