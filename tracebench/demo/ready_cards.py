"""Ready-made job cards: every circuit at three levels, made from its tables and a scenario of one sentence each.

Level 1 proves a sound part and names what is seen; level 2 has a fault that shows plainly, and limits; level 3 a fault
that takes looking for, all readings of the circuit, and the odd one where there are several.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from tracebench.bench.circuits import source
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.circuit import Circuit
from tracebench.demo import cast

COURSE = "Ready cards, three levels"


@dataclass(frozen=True, slots=True)
class Ready:
    """One circuit's scenarios, and the faults of its second and third level."""

    sound: str
    plain: tuple[str, str]
    hard: tuple[str, str]
    severity: float = 1.0
    """Of the third level's fault, 0 to 1."""


READY: dict[str, Ready] = {
    "throttle-position": Ready(
        "Renewed last week by an apprentice. The owner wants it in writing that it is right.",
        ("worn-mid", "Jerks at a steady country-road speed, always at the same pedal."),
        ("short-travel", "Tops out early on the motorway. Air filter and fuel pump are new."),
    ),
    "pedal-position": Ready(
        "A trade-in before sale: show that both tracks of the pedal agree.",
        ("reference-lost", "Limps home with the warning lamp on since a radio was fitted."),
        ("disagree", "Reduced power now and then on rough roads, then fine for days."),
    ),
    "manifold-pressure": Ready(
        "After a new inlet gasket: prove that the manifold holds its vacuum and the sensor follows.",
        ("leak", "Idles high and hunts when cold; somebody has already cleaned the throttle."),
        ("slow-hose", "Hesitates when the pedal is stabbed and recovers at once."),
    ),
    "airflow-voltage": Ready(
        "The heated element was cleaned. Does it still tell the truth at every speed?",
        ("contaminated", "Flat above half throttle; an oiled air filter was fitted last year."),
        ("no-surge", "Dull off the line, though every steady value looks right on the scan tool."),
    ),
    "airflow-frequency": Ready(
        "A used airflow meter from a breaker: sound enough to sell on?",
        ("missing-pulses", "Surges on the motorway about once a minute."),
        ("low-swing", "Runs on its emergency map; the plug has been apart before."),
    ),
    "oxygen-switching": Ready(
        "Emissions were borderline at the test. Show that the sensor is not why.",
        ("lazy", "Fails the test by a little, warm and at fast idle."),
        ("no-drop", "Drinks fuel on long descents."),
    ),
    "oxygen-wideband": Ready(
        "New sensor, learnt values cleared. Does the controller hold its mixture?",
        ("slow-fuel", "Smells rich after every change of gear."),
        ("lean", "Pings under load since the exhaust was mended."),
    ),
    "rail-pressure": Ready(
        "Long cranking was cured with a new filter. Prove it over start, load and stop.",
        ("hunting", "Idles like a tractor with the windows up, and smooths out when driven."),
        ("slow-build", "Cranks for four seconds when hot, one when cold."),
    ),
    "crank-position": Ready(
        "A flywheel was changed. Is every tooth where it should be?",
        ("damaged-tooth", "Misfire counted on two cylinders that change places. Plugs and coils are new."),
        ("runout", "Stumbles in a rhythm that follows the engine's own speed."),
    ),
    "wheel-speed": Ready(
        "New bearing with its ring. Show that the wheel tells its speed evenly.",
        ("damaged-tooth", "The brake lamp comes on at walking pace and goes out above it."),
        ("dropout", "The brake lamp blinks once on rough roads, and no code stays."),
    ),
    "temperature": Ready(
        "Warm-up from cold after a new thermostat.",
        ("open", "The fan runs from the moment the key is turned."),
        ("dropout", "The gauge falls to nothing for a blink, twice a week."),
    ),
    "supply-ground": Ready(
        "Before a controller is condemned: prove its feeds.",
        ("high-ground", "Several sensors read a little high, all at once, since a battery was changed."),
        ("low-reference", "Three codes for three sensors that share a plug."),
    ),
    "charging": Ready(
        "Battery renewed. Does the alternator keep it through lights, heater and load?",
        ("regulator", "Bulbs burn out, the battery smells."),
        ("diode", "Flat after a long weekend; the charging voltage looks right on a meter."),
    ),
    "injector-voltage": Ready(
        "Injectors back from cleaning: show that this one opens and closes.",
        ("stuck", "One cylinder does nothing; its plug stays dry."),
        ("weak-ground", "Runs lean on every cylinder of one bank, worse when hot."),
    ),
    "injector-current": Ready(
        "A used injector on the bench board: good enough to fit?",
        ("stuck", "Clicks on the bench and delivers nothing."),
        ("high-resistance", "A rough idle that no balance test explains."),
    ),
    "injector-current-group": Ready(
        "All of a bank through one clamp: does each of them take its share?",
        ("shorted", "The bank's fuse blew once, on a hot day."),
        ("shorted", "Down on power on one bank when hot; no code."),
        severity=0.5,
    ),
    "injector-current-parade": Ready(
        "After a new loom: all cylinders in one record, each like the others.",
        ("high-resistance", "One cylinder weak since the loom was mended."),
        ("missing-once", "A single misfire every few minutes at idle."),
    ),
    "injector-peak-hold": Ready(
        "A direct injector after a new seal: boost and hold as they should be?",
        ("no-boost", "Will not start cold; turns over cleanly."),
        ("no-hold", "Starts and dies."),
    ),
    "injector-piezo": Ready(
        "A refurbished piezo injector: charge, discharge, and every event there?",
        ("low-charge", "Knocks under load on one cylinder."),
        ("no-discharge", "Shut down by itself and will not start again."),
    ),
    "coil-primary-current": Ready(
        "New coils all round. Do they all charge alike?",
        ("secondary-open", "Misses on one cylinder, worse in the wet."),
        ("short-dwell", "Weak at high speed only."),
    ),
    "coil-primary-voltage": Ready(
        "A coil from another engine, said to be the same. Does it burn as it should?",
        ("open", "One cylinder dead after a jump start."),
        ("short-burn", "Hesitates on a pull, cleans out when cruising."),
    ),
    "secondary-voltage": Ready(
        "New plugs and leads. Show each cylinder's firing and burn.",
        ("fouled", "Oil on one plug; it was cleaned and put back."),
        ("weak-coil", "Misses only when pulling hard in a high gear."),
    ),
    "igniter-bench": Ready(
        "An igniter from stock: what does a short run on the bench say of one that is blamed when warm?",
        ("misses", "The engine cuts out for an instant when warm."),
        ("unstable", "The spark on the tester wanders in strength."),
    ),
}

LEVELS = (1, 2, 3)

THERE: dict[str, tuple[str, ...]] = {
    "crank-position": ("teeth_per_rev", "gap_teeth", "amplitude_v", "rpm"),
    "wheel-speed": ("amplitude_v", "tooth_spread_pct"),
}
"""Readings in place of those that a new card begins with, which an inductive sensor has none of: *none here* would be
had without looking."""

TOLD: dict[str, dict[str, str]] = {"injector-current-group": {"injectors": "4"}}
"""What no trace says of itself, by circuit."""


def ready_cards() -> Iterator[tuple[str, int, dict[str, Any]]]:
    """Circuit, level and document of every ready card."""
    for code, ready in READY.items():
        for level, (fault, brief) in zip(LEVELS, (("none", ready.sound), ready.plain, ready.hard), strict=True):
            severity = ready.severity if level == 3 else 1.0
            # Every level deals out all three parts in turn: a complaint is no proof, and a neighbour's call none.
            others = [f for f in ("none", ready.plain[0], ready.hard[0]) if f != fault]
            yield code, level, _document(CIRCUITS[code], level, fault, others, brief, severity)


def _document(
    kind: Circuit, level: int, fault: str, others: Sequence[str], brief: str, severity: float
) -> dict[str, Any]:
    made_by = source(kind.code)
    readings = THERE.get(kind.code, kind.asked)[: 2 if level == 1 else 4]
    compared = [r for r in readings if any(limit.reading == r for limit in kind.limits)]
    steps: list[dict[str, Any]] = [
        {"kind": "cautions", "prompt": "Read before you begin."},
        {"kind": "capture", "prompt": f"{made_by.manoeuvres[0].title}."},
    ]
    if level == 1 and kind.phases:
        steps.append({"kind": "name", "names": [p.name for p in kind.phases][:4], "prompt": "Name the parts."})
    steps += [{"kind": "reading", "reading": r, "prompt": ""} for r in readings]
    if level > 1:
        steps += [{"kind": "compare", "reading": r, "prompt": ""} for r in compared]
    if level == 3 and made_by.by_cylinder:
        steps.append({"kind": "spot", "among": "cylinder", "prompt": "Which cylinder is the odd one?"})
    steps.append({"kind": "call", "prompt": "Sound, faulty, or cannot tell yet? Say what shows it."})
    return {
        "circuit": kind.code,
        "title": f"{kind.title}, level {level}",
        "brief": brief,
        "options": TOLD.get(kind.code, {}),
        "source": {
            "kind": "trainer",
            "fault": fault,
            "severity": severity,
            "vehicle": "Bench board 3",
            "varied": True,
            "instead": list(dict.fromkeys(others)),
        },
        "attempts": 3,
        "due": None,
        "reference_version_id": None,
        "steps": steps,
        "rubric": cast.SHOWN,
    }
