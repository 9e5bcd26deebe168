"""Oxygen, wideband: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import PAIR, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "pump_voltage",
        (
            SLOW,
            Row("low", (1.3, 3.0), (1.7, 2.8)),
            Row("high", (1.8, 3.6), (2.1, 3.3), "about 2.5 V throughout"),
            Row("swing", (-0.1, 1.8), (0.03, 1.3), "{value:.2g} V of movement"),
            Row("seconds", (3.0, 200.0), (8.0, 90.0)),
        ),
        ("wideband", "pump", "lambda", "a/f", "afr"),
        (PAIR,),
    ),
    Look(
        "pump_current",
        (
            SLOW,
            Row("low", (-6.0, 0.4), (-3.0, 0.1), "{value:.2g} mA at the richest"),
            Row("high", (-0.5, 6.0), (0.0, 4.5), "{value:.2g} mA at the leanest"),
            Row("swing", (-0.1, 10.0), (0.03, 6.0)),
            Row("seconds", (3.0, 200.0), (8.0, 90.0)),
        ),
        ("wideband", "pump", "lambda", "a/f", "afr"),
        (PAIR,),
    ),
)
