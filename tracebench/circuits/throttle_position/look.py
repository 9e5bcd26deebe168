"""Throttle position: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, PULLED, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            SLOW,
            Row("low", (-0.1, 2.0), (0.2, 1.3), "rests at {value:.3g} V"),
            Row("high", (2.4, 5.3), (3.2, 4.9), "opens to {value:.3g} V"),
            Row("edge_s", (0.2, 12.0), (1.0, 9.0), "moved by hand, {value:.2g} s a way"),
            Row("fall_s", (0.2, 12.0), (1.0, 9.0)),
            Row("between", (0.0, 0.85), (0.1, 0.66)),
            Row("levels", (-0.1, 4.0), (0.9, 2.1), "held at rest and open"),
            Row("count", (0.2, 60.0), (1.6, 12.0), "swept {value:.0f} times"),
        ),
        ("throttle", "tps", "tp"),
        (Row("twin", (-1.1, 0.99), (-1.0, 0.9)),),
        still=PULLED,
        taken=BY_HAND,
    ),
)
