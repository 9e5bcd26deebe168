"""What a record of each kind holds: its columns, what they may be, and the cautions that go with taking it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import Choice
from tracebench.core.circuits.events.ignition import SECONDARY
from tracebench.core.circuits.events.injectors import DIRECT

What = Literal["number", "resistance", "text", "choice"]


@dataclass(frozen=True, slots=True)
class Column:
    """One column. A `resistance` is a number or 'infinite'. A column that is not `needed` may be left empty."""

    key: str
    title: str
    what: What
    unit: str = ""
    needed: bool = True
    choices: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class RecordKind:
    """A kind of record; `timed` rows carry an instant of the capture in the column `at_s`."""

    key: str
    title: str
    columns: tuple[Column, ...]
    advice: str
    cautions: tuple[Choice, ...]
    timed: bool = False
    about: tuple[str, ...] = ()
    """Columns that say what a row is about: rows about the same thing count once. Empty: the whole row."""


METER_SWEEP = "meter-sweep"
OHMS = ("ohm", "kohm", "Mohm")
YES_NO = ("yes", "no")

KINDS: Mapping[str, RecordKind] = {
    k.key: k
    for k in (
        RecordKind(
            "cylinder-drop",
            "Cylinder drop test",
            (
                Column("cylinder", "Cylinder", "number"),
                Column("before_rpm", "Speed before", "number", "rpm"),
                Column("disabled_rpm", "Speed with it off", "number", "rpm"),
            ),
            "Steady idle, idle control held where it can be; let the speed come back between cylinders.",
            (common.RUNNING, common.SECURE),
            about=("cylinder",),
        ),
        RecordKind(
            "swap",
            "Swap test",
            (
                Column("part", "Part moved", "text"),
                Column("from_place", "From", "text"),
                Column("to_place", "To", "text"),
                Column("moved", "Did the fault move with it?", "choice", choices=YES_NO),
            ),
            "One part at a time, and the same capture before and after.",
            (common.SECURE,),
        ),
        RecordKind(
            "spark-gap",
            "Spark gap test",
            (Column("tower", "Tower or cylinder", "text"), Column("gap_mm", "Gap jumped", "number", "mm")),
            "Rated tester, grounded first. Companion towers of a paired coil are compared with each other.",
            (SECONDARY, common.SECURE),
            about=("tower",),
        ),
        RecordKind(
            "resistance",
            "Resistance",
            (
                Column("terminals", "Between", "text"),
                Column("value", "Value, or infinite", "resistance"),
                Column("unit", "Unit", "choice", choices=OHMS),
                Column("low", "Expected from", "resistance", needed=False),
                Column("high", "Expected to", "resistance", needed=False),
                Column("celsius", "Temperature", "number", "°C", needed=False),
            ),
            "Unplugged and powered down. Over-range is a value: write infinite.",
            (DIRECT, common.SECURE),
        ),
        RecordKind(
            "voltage",
            "Voltage checks",
            (
                Column("point", "Point", "choice", choices=("supply", "reference", "ground", "battery")),
                Column("volts", "Volts", "number", "V"),
                Column("loaded", "Circuit loaded?", "choice", choices=YES_NO),
                Column("state", "Key and engine", "choice", choices=("key on", "cranking", "running", "key off")),
            ),
            "Plugged in and loaded: an unloaded ground proves nothing.",
            (common.BACK_PROBE, common.SECURE),
        ),
        RecordKind(
            "log",
            "Wiggle, heat and cool log",
            (
                Column("at_s", "Second of the capture", "number", "s"),
                Column("action", "Action", "choice", choices=("wiggle", "heat", "cool", "tap", "load", "other")),
                Column("where", "Where", "text"),
            ),
            "Say what you did when; a change within two seconds is tied to it.",
            (common.RUNNING, common.SECURE),
            timed=True,
        ),
        RecordKind(
            METER_SWEEP,
            "Meter sweep",
            (
                Column("at_s", "Second of the capture", "number", "s"),
                Column("volts", "Meter shows", "number", "V"),
            ),
            "One slow sweep with the meter on the wire that the scope is on. A meter shows levels; what is shorter "
            "than the time between its figures it cannot show.",
            (common.BACK_PROBE, common.SECURE),
            timed=True,
            about=("at_s",),
        ),
        RecordKind(
            "unplug-one-by-one",
            "Unplug one by one",
            (
                Column("unplugged", "Circuit unplugged", "text"),
                Column("came_back", "Did the reference come back?", "choice", choices=YES_NO),
            ),
            "Watch the reference; one plug at a time, each put back before the next.",
            (common.BACK_PROBE, common.SECURE),
            about=("unplugged",),
        ),
        RecordKind(
            "scan-data",
            "Scan data",
            (
                Column("parameter", "Parameter", "text"),
                Column("value", "Value", "number"),
                Column("unit", "Unit", "text", needed=False),
            ),
            "Values as the controller believes them: a trend, too slow for any event.",
            (common.SECURE,),
            about=("parameter",),
        ),
        RecordKind(
            "look-and-move",
            "Look and move",
            (
                Column("what", "What was looked at", "choice", choices=("throttle", "hoses", "belt", "wires", "plugs")),
                Column("seen", "Seen", "choice", choices=("sound", "faulty")),
            ),
            "Engine off and cool; move it by hand over its whole travel.",
            (common.RUNNING, common.SECURE),
            about=("what",),
        ),
        RecordKind(
            "road-test",
            "Road test",
            (
                Column("symptom", "Symptom", "text"),
                Column("occurred", "Did it occur?", "choice", choices=YES_NO),
            ),
            "One drives, another watches. Under the complaint's own condition.",
            (common.SECURE,),
            about=("symptom",),
        ),
        RecordKind(
            "repair",
            "Repair on trial",
            (
                Column("cause", "Cause that it would cure", "text"),
                Column("cured", "Did it cure?", "choice", choices=YES_NO),
            ),
            "The same test, condition and set-up afterwards as before.",
            (common.SECURE,),
            about=("cause",),
        ),
    )
}

Row = Mapping[str, str]
Rows = Sequence[Row]
