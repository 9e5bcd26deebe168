"""Pedal position: what tests that go over all circuits know of it."""

from tests.support.setup_changes import (
    EDGELESS,
    NOT_SWEPT,
    Pair,
    all_lifted_off,
    as_it_is,
    cut,
    exchanged,
    fallen,
    noised,
    shared,
)

EXPECTED: dict[str, set[str]] = {
    "track-lost": {"track_lost"},
    "reference-lost": {"reference_lost"},
    "disagree": {"tracks_disagree"},
    "worn": {"dropout"},
    "ground-lifted": {"ground_lifted"},
    "probe-slip": {"probe_slip"},
}
"""What each of the trainer's faults must be called."""

GRADED = "reference-lost"
"""A fault that a sitting is graded on."""

SETUP: dict[str, Pair] = shared("track1", 3.0, (20, 10), cut(0, 0.4), cut(0, 0.7)) | {
    "missing_phase": Pair(cut(0, 1.2), as_it_is),
    "noisy": Pair(noised("track1", 0.2), noised("track1", 0.01)),
    "probe_slip": Pair(all_lifted_off(10.0, 0.5), fallen("track1", 10.0, 0.05)),
    "lanes_swapped": Pair(exchanged("track1", "track2"), as_it_is),
}
"""How each set-up finding is provoked, and what comes near."""

EXCUSED: dict[str, str] = NOT_SWEPT | {"over_filtered": EDGELESS}
"""What it cannot show, and why."""
