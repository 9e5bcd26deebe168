"""Oxygen, switching: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            Row("low", (-0.2, 0.9), (-0.1, 0.45), "lean at {value:.2g} V"),
            Row("high", (0.3, 1.3), (0.6, 1.05), "rich at {value:.2g} V"),
            Row("most", (0.3, 1.4), (0.5, 1.15)),
            Row("dip_hz", (0.05, 12.0), (0.3, 6.0), "{value:.2g} changes a second"),
            Row("slow_share", (0.1, 1.1), (0.5, 1.05)),
            Row("edge_s", (0.005, 3.0), (0.03, 1.2)),
        ),
        ("oxygen", "o2", "lambda", "ho2s"),
        still=((-0.12, 1.1),),
        taken=BY_HAND,
    ),
)
