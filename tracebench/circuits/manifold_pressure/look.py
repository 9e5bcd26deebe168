"""Manifold pressure: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, PULLED, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            SLOW,
            Row("low", (-0.2, 2.2), (0.3, 1.7), "falls to {value:.3g} V in overrun"),
            Row("high", (1.8, 5.0), (3.2, 4.8), "full load at {value:.3g} V"),
            Row("width_s", (0.1, 3.0), (0.3, 1.5), "at full load for {value:.2g} s"),
            Row("fall_s", (0.0, 8.0), (0.02, 0.7), "falls within {value:.2g} s of the snap's end"),
            Row("between", (-0.1, 1.0), (-0.05, 0.5)),
        ),
        ("map", "manifold", "pressure", "boost"),
        still=PULLED,
        taken=BY_HAND,
    ),
)
