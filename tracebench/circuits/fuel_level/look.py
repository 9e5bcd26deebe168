"""Fuel level sender: how a file of it looks; spans are from memory."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, PULLED, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            SLOW,
            Row("low", (-0.1, 2.0), (0.2, 1.3), "comes down to {value:.3g} V"),
            Row("high", (1.9, 4.0), (2.7, 3.3), "rests at {value:.3g} V"),
            Row("edge_s", (0.2, 15.0), (1.0, 9.0)),
            Row("fall_s", (0.2, 15.0), (1.0, 9.0), "moved by hand, {value:.2g} s a way"),
            Row("between", (0.0, 0.85), (0.1, 0.66)),
            Row("end", (0.5, 1.2), (0.9, 1.05), "comes back to its high end"),
            Row("count", (0.6, 30.0), (1.6, 6.0)),
            Row("levels", (-0.1, 4.0), (0.9, 2.1), "held at either end"),
        ),
        ("fuel", "tank", "sender", "level"),
        still=PULLED,
        taken=BY_HAND,
    ),
)
