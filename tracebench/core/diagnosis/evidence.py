"""Evidence as outcomes: what a capture's answer or a record showed, where, and what it would have shown.

A capture that cannot tell (inconclusive) clears nothing; what it shows all the same counts.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from tracebench.core.circuits.threshold import Threshold
from tracebench.core.diagnosis.offers import Place, fault_codes
from tracebench.core.records.judging import LEAST_DROP, REFERENCE_V, judged
from tracebench.core.records.kinds import Row, Rows

LEAST_ALONE = Threshold(
    0.03,
    "",
    "Part of its speed that an engine loses at least with a cylinder off (common practice, no published source)",
)
CLOSED_V = Threshold(
    0.45, "V", "A throttle's closed level under which it reads low (common practice, no published source)"
)
OPEN_V = Threshold(3.7, "V", "Its open level under which it opens too little (common practice, no published source)")
NO_MOVE_V = Threshold(0.5, "V", "A sweep on a meter that moves less does not follow (common practice)")
TRIM_PCT = Threshold(10.0, "%", "Fuel trim from which a mixture counts as off (common practice, no published source)")
DEAD_SUPPLY_V = Threshold(
    2.0, "V", "An injector's supply under which it has none (common practice, no published source)"
)


@dataclass(frozen=True, slots=True)
class Token:
    """One thing seen: a code, with its cylinder (None where it is tied to none) and lane."""

    code: str
    cylinder: int | None = None
    lane: str = ""


@dataclass(frozen=True, slots=True)
class Seen:
    """One piece of evidence. `codes` are those it would have shown, at `cylinders` (empty: all)."""

    test: str
    place: Place
    conditions: frozenset[str]
    tokens: tuple[Token, ...]
    codes: frozenset[str]
    cylinders: tuple[int, ...] = ()
    clears: bool = True
    """Whether what it does not show counts."""
    rows: Rows = ()
    proven: frozenset[str] = frozenset()
    """What it proves at its place: `supply`, `reference`, `ground`, `signal`."""

    def covers(self, cylinder: int) -> bool:
        return not self.cylinders or cylinder in self.cylinders


@dataclass(frozen=True, slots=True)
class Answered:
    """What counts of a capture's answer: the call, fault findings as tokens, readings by id, and states of limits."""

    call: str
    tokens: tuple[Token, ...]
    readings: Mapping[str, float]
    outside: frozenset[str]
    cylinders: tuple[int, ...] = ()


def of_answer(test: str, place: Place, conditions: frozenset[str], answer: Answered) -> Seen:
    """A capture as evidence."""
    at = place.cylinders
    tokens = tuple(Token(t.code, at[0], t.lane) if t.cylinder is None and len(at) == 1 else t for t in answer.tokens)
    if test == "injector-voltage" and answer.readings.get("supply_v", DEAD_SUPPLY_V) < DEAD_SUPPLY_V:
        tokens = (*tokens, Token("supply_0", at[0] if len(at) == 1 else None))
    cylinders = at or answer.cylinders
    codes = frozenset(_seen_codes(test, answer))
    clears = answer.call != "inconclusive"
    shown = frozenset(t.code for t in tokens)
    proven = frozenset(_proven(test, answer, shown)) if clears else frozenset()
    return Seen(test, place, conditions, tuple(dict.fromkeys(tokens)), codes, cylinders, clears, (), proven)


def _seen_codes(test: str, answer: Answered) -> Iterator[str]:
    """Codes that the capture would have shown: of supplies and grounds only those whose lane was recorded."""
    lanes = {r.partition("_")[0] for r in answer.readings}
    for code in fault_codes(test):
        if test == "supply-ground" and lanes and code.partition("_")[0] not in lanes:
            continue
        yield code


_PROVES: Mapping[str, tuple[tuple[str, str], ...]] = {
    "supply": (("supply_v", "supply_low"), ("sense_v", "undercharge")),
    "reference": (("reference_v", "reference_low"), ("reference1_min_v", "reference_lost")),
    "ground": (("ground_v", "ground_high"), ("ground_max_v", "ground_lifted"), ("case_ground_max_v", "ground_lifted")),
}
"""Readings whose presence inside their limits proves a feed, unless the finding beside them is there."""

_WIRE_CODES = frozenset(
    {
        "stuck_low",
        "stuck_high",
        "track_lost",
        "no_signal",
        "sensor_stuck",
        "stuck",
        "missing_ramp",
        "no_switching",
        "weak_driver",
        "no_pulse",
        "missing_pulses",
        "missing_pulse",
        "open_circuit",
        "short_circuit",
        "power_stage_off",
        "low_swing",
        "reference_lost",
    }
)
"""Findings that leave the signal wire in doubt; a capture of the part without them has a sound one."""


def _proven(test: str, answer: Answered, shown: frozenset[str]) -> Iterator[str]:
    for what, by in _PROVES.items():
        if any(r in answer.readings and r not in answer.outside and code not in shown for r, code in by):
            yield what
    if test != "supply-ground" and not shown & _WIRE_CODES:
        yield "signal"
    if test == "injector-voltage" and "on_v" in answer.readings and not shown & {"weak_ground", "no_pulse"}:
        yield "ground"


def of_rows(kind: str, place: Place, conditions: frozenset[str], rows: Rows) -> Seen:
    """A record as evidence; `rows` are checked ones."""
    tokens, codes, cylinders, proven = _OF_RECORD[kind](rows, place)
    if "lean" in codes:
        # A trim tells a leak at idle from a want of fuel under load by when it was read.
        lean = "lean_load" if conditions & {"load", "snap"} else "lean_idle"
        tokens = [Token(lean, t.cylinder) if t.code == "lean" else t for t in tokens]
        codes = (codes - {"lean"}) | {lean}
    return Seen(
        kind, place, conditions, tuple(tokens), frozenset(codes), tuple(cylinders), True, rows, frozenset(proven)
    )


Said = tuple[Sequence[Token], set[str], Sequence[int], set[str]]


def _drop(rows: Rows, _: Place) -> Said:
    drops = {int(float(r["cylinder"])): float(r["before_rpm"]) - float(r["disabled_rpm"]) for r in rows}
    before = {int(float(r["cylinder"])): float(r["before_rpm"]) for r in rows}
    most = max(drops.values())
    dead = [
        n
        for n, drop in drops.items()
        if drop < LEAST_ALONE * before[n] or (len(drops) > 1 and drop < LEAST_DROP * most)
    ]
    return [Token("no_contribution", n) for n in dead], {"no_contribution"}, tuple(drops), set()


def _swap(rows: Rows, place: Place) -> Said:
    tokens: list[Token] = []
    cylinders: list[int] = []
    codes: set[str] = set()
    proven: set[str] = set()
    for row in rows:
        part = row["part"].strip().lower()
        code, at = f"moved:{part}", numbers_in(row["from_place"]) or place.cylinders
        codes.add(code)
        cylinders += at
        if row["moved"] == "yes":
            tokens += [Token(code, n) for n in at] or [Token(code)]
            proven |= {"supply", "ground", "signal", "reference"}
    return tokens, codes, cylinders, proven


def numbers_in(text: str) -> tuple[int, ...]:
    """Cylinders that a place names: `2`, `coil@2`, `1+4`, `cylinder 3`."""
    tail = text.rpartition("@")[2].strip().lower().removeprefix("cylinder").strip()
    parts = tail.split("+")
    return tuple(int(p) for p in parts) if all(p.strip().isdigit() for p in parts) else ()


def _gap(rows: Rows, place: Place) -> Said:
    states = judged("spark-gap", rows).rows
    towers = [numbers_in(r["tower"]) or place.cylinders for r in rows]
    most = max(float(r["gap_mm"]) for r in rows)
    weak = [
        n
        for at, row, state in zip(towers, rows, states, strict=True)
        for n in at
        if state.state == "outside" or float(row["gap_mm"]) == 0 or float(row["gap_mm"]) < _WEAK_GAP * most
    ]
    told = [n for at in towers for n in at]
    alone = len(rows) == 1 and not weak
    return [Token("weak_gap", n) for n in weak], set() if alone else {"weak_gap"}, told, set()


_WEAK_GAP = Threshold(
    0.7, "", "Part of the widest gap under which a tower is weak (common practice, no published source)"
)


def _resistance(rows: Rows, place: Place) -> Said:
    tokens, codes = [], set()
    at = place.cylinders
    for row in rows:
        body = "body" in row["terminals"].lower()
        found = _ohms_found(row, body)
        if found is None:
            continue
        codes |= {"leak_to_body"} if body else {"resistance_high", "resistance_low"}
        tokens += [Token(found, n) for n in at] or [Token(found)] if found else []
    return tuple(dict.fromkeys(tokens)), codes, at, set()


def _ohms_found(row: Row, body: bool) -> str | None:
    """What a resistance shows, '' where it is right, None where there is nothing to hold it against.

    To the body it must be infinite, and any other value condemns; a winding is open, whatever was expected.
    """
    infinite = row["value"].lower() in ("infinite", "inf", "ol")
    if body:
        return "" if infinite else "leak_to_body"
    if infinite:
        return "resistance_high"
    said = judged("resistance", [row])
    if said.rows[0].state == "told":
        return None
    if said.rows[0].state == "inside":
        return ""
    below = row["low"] and (row["low"].lower() in ("infinite", "inf", "ol") or float(row["value"]) < float(row["low"]))
    return "resistance_low" if below else "resistance_high"


def _voltage(rows: Rows, place: Place) -> Said:
    tokens, codes, proven = [], set(), set()
    for row in rows:
        said = judged("voltage", [row])
        if said.rows[0].state == "told":
            continue
        point = {"battery": "supply"}.get(row["point"], row["point"])
        here = {c for c in fault_codes("voltage") if c.startswith(point)}
        codes |= here
        if said.rows[0].state == "inside":
            proven.add(point)
        for code, _kind, _text in said.findings:
            side = "reference_low" if float(row["volts"]) < REFERENCE_V[0] else "reference_high"
            tokens.append(side if code == "reference_off" else code)
    at = place.cylinders
    named = [Token(c, n) for c in dict.fromkeys(tokens) for n in at] or [Token(c) for c in dict.fromkeys(tokens)]
    return named, codes, at, proven - {t.partition("_")[0] for t in tokens}


def _meter(rows: Rows, place: Place) -> Said:
    volts = [float(r["volts"]) for r in rows]
    tokens = []
    if len(volts) > 1 and max(volts) - min(volts) < NO_MOVE_V:
        tokens.append(Token("stuck"))
    else:
        tokens += [Token("low_closed")] * (min(volts) < CLOSED_V)
        tokens += [Token("low_open")] * (len(volts) > 1 and max(volts) < OPEN_V)
    here = place.name in ("", "throttle") and len(volts) > 1
    return (tokens if here else []), set(fault_codes("meter-sweep")) if here else set(), (), set()


def _unplug(rows: Rows, _: Place) -> Said:
    tokens = [Token(f"came_back:{r['unplugged']}") for r in rows if r["came_back"] == "yes"]
    return tokens, {f"came_back:{r['unplugged']}" for r in rows}, (), set()


def _look(rows: Rows, place: Place) -> Said:
    at = place.cylinders
    tokens = []
    for row in rows:
        if row["seen"] == "faulty":
            code = f"faulty:{row['what']}"
            tokens += [Token(code, n) for n in at] or [Token(code)]
    sound_wires = any(r["what"] == "wires" and r["seen"] == "sound" for r in rows)
    return tokens, {f"faulty:{r['what']}" for r in rows}, at, {"signal"} if sound_wires else set()


def _alone(rows: Rows, _: Place) -> Said:
    """No findings: a log makes the condition of the capture beside it; a repair and a road test are weighed by rows."""
    return [], set(), (), set()


@dataclass(frozen=True, slots=True)
class Parameter:
    """A scan parameter: words that name it, and what lies under or over its usual span."""

    words: tuple[str, ...]
    low: float
    low_code: str
    high: float
    high_code: str


SCANNED = (
    Parameter(("trim",), -TRIM_PCT, "rich", TRIM_PCT, "lean"),
    Parameter(("coolant", "intake air", "temperature"), -25.0, "temperature_low", 130.0, "temperature_high"),
    Parameter(("throttle", "pedal"), 5.0, "throttle_off", 95.0, "throttle_off"),
    Parameter(("manifold", "map", "barometer"), 15.0, "pressure_off", 107.0, "pressure_off"),
    Parameter(("airflow", "maf"), 0.5, "airflow_off", 600.0, "airflow_off"),
    Parameter(("rail",), 100.0, "rail_off", 2500.0, "rail_off"),
    Parameter(("supply", "battery", "voltage"), 11.5, "supply_low", 15.2, "supply_high"),
)
"""Spans beyond which a scan value is no working one (common practice, no published source)."""


def _scan(rows: Rows, _: Place) -> Said:
    tokens, codes = [], set()
    for row in rows:
        name, value = row["parameter"].lower(), float(row["value"])
        spec = next((p for p in SCANNED if any(w in name for w in p.words)), None)
        if spec is None:
            continue
        codes |= {spec.low_code, spec.high_code}
        if value < spec.low or value > spec.high:
            tokens.append(Token(spec.low_code if value < spec.low else spec.high_code))
    return tuple(dict.fromkeys(tokens)), codes, (), set()


_OF_RECORD = {
    "cylinder-drop": _drop,
    "swap": _swap,
    "spark-gap": _gap,
    "resistance": _resistance,
    "voltage": _voltage,
    "meter-sweep": _meter,
    "unplug-one-by-one": _unplug,
    "look-and-move": _look,
    "road-test": _alone,
    "repair": _alone,
    "log": _alone,
    "scan-data": _scan,
}
