"""How each circuit looks on a scope, as spans of figures that `features.py` takes: facts only, each with its words.

Levels and times are common practice, no published source, unless a row says more; the outer ends of a span leave room
for faults, so that a worn part is still known for what it is.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

INF = float("inf")


@dataclass(frozen=True, slots=True)
class Row:
    """One figure and the span in which it speaks for a circuit: fully from `full[0]` to `full[1]`, not at all outside
    `some`, in proportion between. `words` may use {value}; a figure that cannot be taken speaks against it.
    """

    figure: str
    some: tuple[float, float]
    full: tuple[float, float]
    words: str = ""

    def fits(self, value: float) -> float:
        """0 to 1; 0 for NaN."""
        (none_low, none_high), (low, high) = self.some, self.full
        if low <= value <= high:
            return 1.0
        if none_low < value < low:
            return (value - none_low) / (low - none_low)
        if high < value < none_high:
            return (none_high - value) / (none_high - high)
        return 0.0


@dataclass(frozen=True, slots=True)
class Look:
    """Of the lane that a circuit is known by, and words that people call it in a lane's or a file's name."""

    lane: str
    rows: tuple[Row, ...]
    called: tuple[str, ...]
    beside: tuple[Row, ...] = ()
    """Of the lanes beside it; asked only where there are some."""

    still: tuple[tuple[float, float], ...] = ()
    """Where the lane lies when nothing of the circuit shows on it (a wire that is off, a part that never works): spans
    of its level. Empty for one that hardly moves when all is well.
    """

    taken: tuple[Row, ...] = ()
    """How long and how quickly the circuit is recorded: all that a lane which lies still can be asked besides."""


def quick(words: str = "", low: float = 0.0, high: float = 0.6) -> Row:
    """Nothing of it is a slow movement."""
    return Row("slow_share", (low - 0.1, high), (low - 0.05, 0.6 * high), words)


SLOW = Row("slow_share", (0.3, 1.1), (0.9, 1.05))
RESTS_AT_NOTHING = Row("rest", (-0.25, 0.25), (-0.1, 0.1), "rests at nothing between pulses")
ON_BATTERY = Row("middle", (6.0, 16.5), (10.5, 15.5), "rests at {value:.3g} V, the battery's")
SENSOR_LOW = Row("low", (-0.15, 3.3), (0.0, 2.2))
SENSOR_HIGH = Row("high", (1.0, 5.4), (2.0, 5.1))
PAIR = Row("pair_2v2_2v8", (0.4, 1.21), (0.9, 1.1), "references of 2.2 and 2.8 V beside it")
SINGLE = Row("spike_hz", (2.0, 25.0), (4.5, 16.0), "{value:.3g} events a second, those of one cylinder")
SEVERAL = Row("spike_hz", (3.0, 200.0), (10.0, 120.0), "{value:.3g} events a second, those of several cylinders")
LEVELS_OFF = Row("spike_peak_at", (-0.4, 1.2), (0.6, 1.1))

NOTHING = (-0.12, 0.12)
REFERENCE = (4.6, 5.3)
BATTERY = (9.0, 15.5)
PULLED = (NOTHING, REFERENCE)
"""A sensor's wire lies at ground, or at what pulls it up."""

BY_HAND = (Row("rate_hz", (5.0, 100_000.0), (50.0, 20_000.0)), Row("seconds", (1.0, 110.0), (4.0, 60.0)))
"""What a hand, a foot or a load moves is recorded over many seconds;"""

WARMING = (Row("rate_hz", (-1.0, 20_000.0), (0.0, 2_000.0)), Row("seconds", (25.0, INF), (60.0, INF)))
PULSES = (Row("rate_hz", (8_000.0, INF), (50_000.0, INF)), Row("seconds", (-1.0, 30.0), (0.0, 3.0)))
ROW_OF_PULSES = (Row("rate_hz", (8_000.0, INF), (20_000.0, INF)), Row("seconds", (-1.0, 40.0), (0.0, 12.0)))
SWITCHED_BY_HAND = (Row("rate_hz", (1_000.0, 500_000.0), (4_000.0, 60_000.0)), Row("seconds", (1.0, 60.0), (3.0, 15.0)))

NOT_FOR_PULSES = Row("rate_hz", (-1.0, 500_000.0), (0.0, 30_000.0))

LOOKS: Mapping[str, tuple[Look, ...]] = {
    "throttle-position": (
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
    ),
    "pedal-position": (
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
    ),
    "manifold-pressure": (
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
    ),
    "airflow-voltage": (
        Look(
            "signal",
            (
                SLOW,
                Row("low", (0.0, 1.8), (0.2, 1.3), "{value:.3g} V without air"),
                Row("high", (1.2, 5.0), (1.8, 4.8)),
                Row("above", (-0.05, 0.5), (0.03, 0.35), "a surge stands over its load"),
                Row("swing", (0.4, 5.0), (1.0, 4.5)),
                Row("edge_s", (0.5, 60.0), (2.0, 40.0)),
                Row("between", (0.35, 1.1), (0.5, 1.0)),
                Row("levels", (0.9, 7.0), (2.9, 6.0), "held at {value:.0f} loads"),
                Row("end", (-0.05, 1.1), (0.1, 1.05)),
            ),
            ("maf", "airflow", "air", "afm"),
            still=PULLED,
            taken=BY_HAND,
        ),
    ),
    "airflow-frequency": (
        Look(
            "signal",
            (
                quick(),
                Row("hz", (300.0, 20_000.0), (900.0, 15_000.0), "{value:.4g} pulses a second"),
                Row("between", (-0.1, 0.25), (-0.05, 0.1), "between two levels, at once"),
                Row("low", (-0.5, 2.0), (-0.3, 1.2)),
                Row("high", (1.5, 15.0), (3.5, 13.0)),
                Row("gaps", (-0.2, 0.02), (-0.1, 0.006), "no gap in its row"),
            ),
            ("maf", "airflow", "frequency", "air"),
            still=PULLED,
            taken=ROW_OF_PULSES,
        ),
    ),
    "oxygen-switching": (
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
    ),
    "oxygen-wideband": (
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
    ),
    "rail-pressure": (
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
    ),
    "crank-position": (
        Look(
            "signal",
            (
                quick(),
                Row("hz", (60.0, 15_000.0), (150.0, 9_000.0), "{value:.4g} teeth a second"),
                Row("gaps", (0.0005, 0.3), (0.006, 0.12), "a gap in its row of teeth"),
                Row("uneven", (-0.02, 0.3), (-0.01, 0.1)),
                Row("reach", (0.05, 140.0), (0.5, 120.0)),
                Row("toothed", (0.0, 1.5), (0.7, 1.3), "on both sides of nothing, or between two levels"),
            ),
            ("crank", "ckp", "crankshaft", "rpm"),
            still=(NOTHING, (2.2, 2.8), REFERENCE, BATTERY),
            taken=PULSES,
        ),
    ),
    "wheel-speed": (
        Look(
            "signal",
            (
                quick(),
                Row("hz", (3.0, 600.0), (10.0, 300.0), "{value:.3g} teeth a second, of a wheel spun by hand"),
                Row("gaps", (-0.2, 0.06), (-0.1, 0.02), "no gap in its row of teeth"),
                Row("uneven", (-0.02, 0.2), (-0.01, 0.06)),
                Row("reach", (0.02, 20.0), (0.05, 4.0)),
                Row("width_s", (0.0005, 0.12), (0.002, 0.05)),
                Row("toothed", (0.0, 1.5), (0.7, 1.3), "on both sides of nothing, or between two levels"),
                Row("seconds", (1.0, 60.0), (3.0, 30.0)),
            ),
            ("wheel", "abs", "wss"),
            still=(NOTHING, (0.5, 1.9), BATTERY),
            taken=SWITCHED_BY_HAND,
        ),
    ),
    "temperature": (
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
    ),
    "supply-ground": (
        Look(
            "supply",
            (
                Row("middle", (6.0, 16.0), (9.0, 13.4), "a feed of {value:.3g} V"),
                Row("swing", (-0.2, 1.5), (-0.1, 0.6), "steady"),
                Row("reach", (-0.2, 2.5), (-0.1, 1.2)),
                Row("seconds", (0.2, 120.0), (1.0, 30.0)),
                NOT_FOR_PULSES,
            ),
            ("supply", "feed", "b+", "vbat"),
            (Row("steady_5", (-0.5, 1.21), (0.9, 1.1), "a reference of 5 V beside it"),),
        ),
    ),
    "charging": (
        Look(
            "sense",
            (
                Row("middle", (10.0, 18.5), (13.3, 16.8), "charges at {value:.3g} V"),
                Row("least", (9.0, 17.5), (11.0, 16.5)),
                Row("swing", (-0.1, 5.0), (0.02, 3.2)),
                Row("most", (12.0, 20.0), (13.3, 18.0)),
                Row("seconds", (1.0, 300.0), (4.0, 120.0)),
                NOT_FOR_PULSES,
            ),
            ("alternator", "charging", "charge", "battery", "alt"),
            (Row("steady_5", (-0.2, 1.0), (-0.1, 0.2)),),
        ),
    ),
    "injector-voltage": (
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
    ),
    "injector-current": (
        Look(
            "current",
            (
                RESTS_AT_NOTHING,
                Row("most", (0.2, 5.0), (0.4, 2.2), "to {value:.2g} A"),
                SINGLE,
                Row("width_s", (0.0006, 0.03), (0.0012, 0.02), "for {value:.2g} s"),
                Row("edge_share", (0.0, 1.1), (0.01, 0.85), "rises and levels off"),
                LEVELS_OFF,
                Row("above", (-0.2, 0.35), (-0.1, 0.18)),
                Row("below", (-0.2, 0.25), (-0.1, 0.1)),
            ),
            ("injector", "inj"),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "injector-current-group": (
        Look(
            "current",
            (
                RESTS_AT_NOTHING,
                Row("most", (0.3, 20.0), (1.6, 12.0), "to {value:.2g} A, more than one injector draws"),
                Row("spike_hz", (4.0, 80.0), (9.0, 40.0), "{value:.3g} times a second"),
                Row("width_s", (0.0006, 0.03), (0.0012, 0.02)),
                Row("edge_share", (0.0, 1.15), (0.01, 0.9), "rises and levels off"),
                LEVELS_OFF,
                Row("above", (-0.2, 0.35), (-0.1, 0.18)),
                Row("below", (-0.2, 0.25), (-0.1, 0.1)),
            ),
            ("group", "bank", "injectors", "inj"),
            (Row("sync", (-1, 0.9), (-0.5, 0.2)),),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "injector-current-parade": (
        Look(
            "current",
            (
                RESTS_AT_NOTHING,
                Row("most", (0.2, 5.0), (0.4, 2.2), "to {value:.2g} A, one injector's"),
                SEVERAL,
                Row("width_s", (0.0006, 0.03), (0.0012, 0.02)),
                Row("edge_share", (0.0, 1.1), (0.01, 0.85), "rises and levels off"),
                LEVELS_OFF,
                Row("above", (-0.2, 0.35), (-0.1, 0.18)),
                Row("below", (-0.2, 0.25), (-0.1, 0.1)),
            ),
            ("parade", "injectors", "inj"),
            (Row("sync", (-0.5, 1.21), (0.9, 1.1), "a pulse of one cylinder beside it"),),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "injector-peak-hold": (
        Look(
            "current",
            (
                RESTS_AT_NOTHING,
                Row("most", (2.0, 30.0), (3.0, 25.0), "peaks at {value:.3g} A"),
                Row("hold", (0.02, 0.97), (0.1, 0.75), "and is held at less"),
                SINGLE,
                Row("spike_peak_at", (-0.1, 0.85), (-0.05, 0.65), "before its end"),
                Row("below", (-0.2, 0.3), (-0.1, 0.15)),
                Row("width_s", (0.0001, 0.02), (0.0003, 0.008)),
            ),
            ("peak", "hold", "injector", "inj", "gdi"),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "injector-piezo": (
        Look(
            "current",
            (
                RESTS_AT_NOTHING,
                Row("two_sided", (0.1, 1.1), (0.4, 1.05), "charges one way and discharges the other"),
                Row("above", (0.1, 1.0), (0.3, 0.9)),
                Row("below", (0.05, 1.0), (0.2, 0.9)),
                Row("spike_width_s", (0.000005, 0.0006), (0.00002, 0.0003), "within {value:.2g} s"),
                Row("reach", (1.5, 45.0), (4.0, 40.0)),
            ),
            ("piezo", "injector", "inj"),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "coil-primary-current": (
        Look(
            "current",
            (
                RESTS_AT_NOTHING,
                Row("most", (2.5, 100.0), (4.0, 20.0), "ramps to {value:.2g} A"),
                Row("spike_hz", (2.0, 300.0), (5.0, 200.0)),
                Row("edge_share", (0.75, 3.0), (1.0, 2.2), "rises all the way"),
                Row("fall_share", (-0.2, 0.5), (-0.1, 0.12), "and is cut at once"),
                Row("above", (-0.2, 0.35), (-0.1, 0.18)),
                Row("below", (-0.2, 0.25), (-0.1, 0.1)),
            ),
            ("coil", "ignition", "primary", "dwell"),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "coil-primary-voltage": (
        Look(
            "control",
            (
                quick(),
                ON_BATTERY,
                Row("most", (60.0, 600.0), (180.0, 500.0), "kicks to {value:.3g} V"),
                Row("spike_hz", (1.0, 200.0), (3.0, 60.0)),
                Row("spike_width_s", (-0.1, 0.0002), (0.0, 0.0001)),
            ),
            ("coil", "ignition", "primary"),
            still=(NOTHING, BATTERY),
            taken=PULSES,
        ),
    ),
    "secondary-voltage": (
        Look(
            "secondary",
            (
                Row("rest", (-1.0, 1.0), (-0.3, 0.3)),
                Row("deepest", (1.5, 50.0), (4.0, 45.0), "fires at {value:.3g} kV"),
                Row("narrow", (0.2, 1.1), (0.4, 1.0), "a narrow line before its burn"),
                Row("deep_hz", (2.0, 300.0), (5.0, 200.0)),
            ),
            ("secondary", "kv", "ht", "spark", "ignition"),
            still=(NOTHING,),
            taken=PULSES,
        ),
    ),
    "igniter-bench": (
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
    ),
}
