"""Supply and ground: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import NOT_FOR_PULSES, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "supply",
        (
            Row("middle", (6.0, 16.0), (9.0, 13.4), "a feed of {value:.3g} V"),
            Row("swing", (-0.2, 1.5), (-0.1, 0.6), "steady"),
            Row("reach", (-0.2, 2.5), (-0.1, 1.2)),
            Row("seconds", (0.2, 120.0), (1.0, 30.0)),
            NOT_FOR_PULSES,
        ),
        ("supply", "feed", "b+", "vbat"),
        (Row("steady_5", (-0.5, 1.21), (0.9, 1.1), "a reference of 5 V beside it"),),
    ),
)
