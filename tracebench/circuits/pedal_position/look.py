"""Pedal position: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, PULLED, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "track1",
        (
            SLOW,
            Row("low", (-0.1, 1.8), (0.3, 1.2), "rests at {value:.3g} V"),
            Row("high", (2.0, 5.2), (2.8, 4.8)),
            Row("edge_s", (0.2, 12.0), (1.0, 9.0), "moved by hand, {value:.2g} s a way"),
            Row("fall_s", (0.2, 12.0), (1.0, 9.0)),
            Row("between", (0.03, 0.8), (0.1, 0.75)),
            Row("twin", (0.8, 1.1), (0.97, 1.05), "a second track follows it"),
        ),
        ("pedal", "app", "accelerator", "track1", "track2", "apps"),
        still=PULLED,
        taken=BY_HAND,
    ),
)
