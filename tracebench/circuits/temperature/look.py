"""Temperature sensor: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import INF, PULLED, SLOW, WARMING, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            SLOW,
            Row("low", (-0.1, 4.9), (0.1, 4.0)),
            Row("high", (0.3, 5.2), (0.8, 4.9)),
            Row("seconds", (25.0, INF), (60.0, INF), "{value:.0f} s of warming up"),
            Row("one_way", (0.5, 1.05), (0.85, 1.01), "moves one way only"),
            Row("hz", (-0.2, 0.3), (-0.1, 0.05)),
        ),
        ("temperature", "temp", "ect", "coolant", "iat", "clt"),
        still=PULLED,
        taken=WARMING,
    ),
)
