"""Injector voltage: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BATTERY, NOTHING, ON_BATTERY, PULSES, SINGLE, Look, Row, quick

LOOKS: tuple[Look, ...] = (
    Look(
        "control",
        (
            quick(),
            ON_BATTERY,
            Row("most", (16.0, 130.0), (30.0, 100.0), "kicks to {value:.3g} V when it is let go"),
            SINGLE,
            Row("least", (-6.0, 6.0), (-3.0, 2.0), "pulled to ground while it is on"),
            Row("dip_width_s", (0.0005, 0.03), (0.001, 0.02), "for {value:.2g} s"),
        ),
        ("injector", "inj"),
        still=(NOTHING, BATTERY),
        taken=PULSES,
    ),
)
