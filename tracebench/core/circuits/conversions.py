"""Readings once more in the unit of what is sensed, where the sensor's own transfer function is told.

A transfer function is data: points of what the lane shows and what that stands for, straight between them, such as
0.5:0, 4.5:90 for a throttle in degrees. Limits may then be given for either reading.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from math import isfinite

from tracebench.core.answer import Missing
from tracebench.core.circuits.circuit import Circuit, Measured, OptionSpec, ReadingSpec
from tracebench.core.circuits.threshold import Count
from tracebench.core.errors import BadOption
from tracebench.core.transfer import Pieces

OPTION = "transfer"
FEWEST = Count(2, "points", "A curve needs two points to be one")
MOST = Count(40, "points", "More points than this are no table of a sensor but a recording")


@dataclass(frozen=True, slots=True)
class Conversion:
    """The unit that a circuit's lane stands for, and the readings in it by the readings that they come from."""

    unit: str
    ids: Mapping[str, str]
    decimals: int


CONVERSIONS: Mapping[str, Conversion] = {
    "throttle-position": Conversion("°", {"closed_v": "closed_deg", "open_v": "open_deg"}, 1),
    "pedal-position": Conversion("°", {"track1_released_v": "released_deg", "track1_full_v": "full_deg"}, 1),
    "airflow-voltage": Conversion(
        "g/s",
        {
            "idle_v": "idle_gs",
            "v_2500": "at_2500_gs",
            "v_4000": "at_4000_gs",
            "snap_peak_v": "snap_peak_gs",
            "snap_top_v": "snap_top_gs",
        },
        1,
    ),
    "oxygen-wideband": Conversion("", {"overrun_peak": "overrun_lambda"}, 2),
    "rail-pressure": Conversion("bar", {"key_on_v": "key_on_bar", "idle_v": "idle_bar", "peak_v": "peak_bar"}, 0),
}


def converted_ids(code: str) -> Collection[str]:
    """Readings that are there only where a transfer function was told."""
    made = CONVERSIONS.get(code)
    return made.ids.values() if made is not None else ()


def with_conversion(kind: Circuit) -> Circuit:
    """The circuit with the readings and the option of its conversion; unchanged where it has none."""
    made = CONVERSIONS.get(kind.code)
    if made is None:
        return kind
    specs = []
    for from_id, to_id in made.ids.items():
        source = kind.reading(from_id)
        if source is not None:
            text = f"{from_id} through the transfer function told, straight between its points"
            title = f"{source.title}, {made.unit or 'lambda'}"
            specs.append(
                ReadingSpec(to_id, title, made.unit, text, made.decimals, source.phase, False, source.lane, "number")
            )
    option = OptionSpec(OPTION, f"Transfer, such as 0.5:0, 4.5:90 (lane:{made.unit or 'lambda'})", "", text=True)
    return replace(kind, readings=(*kind.readings, *specs), options=(*kind.options, option))


def converted(kind: Circuit, options: Mapping[str, str], measured: Measured) -> Measured:
    """What was measured, with the readings that the transfer function gives. Raises BadOption for one that is none."""
    made, told = CONVERSIONS.get(kind.code), options.get(OPTION, "").strip()
    if made is None or not told:
        return measured
    pieces = points(told)
    found, missing = [], []
    for r in measured.readings:
        if r.id not in made.ids:
            continue
        if pieces.holds(r.value):
            line = pieces.at(r.value)
            doubt = abs(line.per_volt) * r.uncertainty
            found.append(replace(r, id=made.ids[r.id], value=line.of(r.value), unit=made.unit, uncertainty=doubt))
        else:
            reason = f"{r.value:.3g} {r.unit} lies outside the points told, {pieces.lane[0]:g} to {pieces.lane[-1]:g}"
            missing.append(Missing(made.ids[r.id], reason))
    return replace(measured, readings=(*measured.readings, *found), missing=(*measured.missing, *missing))


def points(told: str) -> Pieces:
    """The transfer function that a text of points tells. Raises BadOption."""
    try:
        pairs = sorted((float(a), float(b)) for a, b in (part.split(":") for part in told.split(",")))
    except ValueError:
        raise BadOption(f"option {OPTION} must be points such as 0.5:0, 4.5:90, not {told!r}") from None
    lane, quantity = zip(*pairs, strict=True)
    whole = all(map(isfinite, (*lane, *quantity)))
    if not FEWEST <= len(lane) <= MOST or not whole or any(a == b for a, b in pairwise(lane)):
        raise BadOption(f"option {OPTION} needs {FEWEST} to {MOST} points, each of another lane value, not {told!r}")
    return Pieces(lane, quantity)
