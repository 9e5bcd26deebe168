"""Switching module, bench: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BATTERY, NOTHING, SWITCHED_BY_HAND, Look, Row, quick

LOOKS: tuple[Look, ...] = (
    Look(
        "output",
        (
            Row("dip_hz", (0.2, 12.0), (0.5, 4.5), "switches {value:.2g} times a second, at a hand's pace"),
            Row("middle", (-0.5, 16.0), (0.0, 14.5)),
            Row("high", (9.0, 16.5), (11.0, 15.0), "between ground and {value:.3g} V"),
            Row("least", (-1.0, 8.0), (-0.5, 1.5)),
            Row("dip_width_s", (0.0002, 2.0), (0.001, 1.2)),
            quick(),
        ),
        ("igniter", "module", "bench"),
        still=(NOTHING, BATTERY),
        taken=SWITCHED_BY_HAND,
    ),
)
