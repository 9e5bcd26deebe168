"""Rail pressure: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, PULLED, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            SLOW,
            Row("low", (-0.2, 1.9), (0.3, 1.3), "{value:.2g} V at rest"),
            Row("high", (1.2, 5.0), (1.6, 4.7)),
            Row("rest", (0.7, 2.2), (0.9, 1.8), "idles at {value:.3g} V"),
            Row("width_s", (0.5, 20.0), (1.2, 10.0), "under load for {value:.2g} s"),
            Row("fall_s", (0.1, 20.0), (0.25, 15.0), "dies away in {value:.2g} s"),
            Row("levels", (0.5, 6.0), (1.9, 4.1), "held at {value:.0f} pressures"),
        ),
        ("rail", "frp", "fuel", "commonrail"),
        still=PULLED,
        taken=BY_HAND,
    ),
)
