"""Sittings with the marks of two markers: what learners answered on drawn captures, and what each answer is worth.

The marks were set by the rules of marking from what is drawn, before the code that is held against them, in two passes
of one author: two figures where the second differs. One sitting has another answer since. `slips` names the mistakes
that must be told, by criterion.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from tests.marked import drawings as drawn
from tracebench.core.capture import Capture

Mark = float | tuple[float, float]


@dataclass(frozen=True)
class Sitting:
    name: str
    circuit: str
    capture: Callable[[], Capture]
    answers: Mapping[str, Any]
    marks: Mapping[str, Mark]
    slips: Mapping[str, str] = field(default_factory=dict)
    card: Mapping[str, Any] = field(default_factory=dict)
    """What the card says besides its steps: limits, options, complaint."""

    @property
    def document(self) -> dict[str, Any]:
        """The card: its steps are those that are answered or marked."""
        steps: list[dict[str, Any]] = [{"kind": "capture"}]
        for key in self.answers:
            kind, _, rest = key.partition("-")
            reading, at, cylinder = rest.partition("@")
            if kind in ("reading", "compare"):
                steps.append({"kind": kind, "reading": reading, **({"cylinder": int(cylinder)} if at else {})})
        steps.append({"kind": "call"})
        base = {"circuit": self.circuit, "title": self.name, "source": {"kind": "upload"}, "steps": steps}
        return {**base, **self.card}


def call(verdict: str, cause: str, evidence: list[list[float]], next_test: str, sure: float = 80) -> dict[str, Any]:
    return {"verdict": verdict, "cause": cause, "evidence": evidence, "next_test": next_test, "confidence": sure}


def value(number: float, *pegs: float) -> dict[str, Any]:
    return {"value": number, "pegs": list(pegs)} if pegs else {"value": number}


def state(word: str) -> dict[str, str]:
    return {"state": word}


ABSENT = {"absent": True}
ALL = {"capture_quality": 1, "evidence": 1, "call": 1, "cause": 1, "next_test": 1}
NOTHING = {"evidence": 0, "call": 0, "cause": 0, "next_test": 0}
MAKER = {
    "limits": [
        {"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker"},
        {"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"},
    ]
}
FOUR = {"options": {"firing_order": "1-3-4-2"}}
THROTTLE, PEDAL, MANIFOLD, AIRFLOW = "throttle-position", "pedal-position", "manifold-pressure", "airflow-voltage"
OXYGEN, RAIL, CRANK, TEMPERATURE = "oxygen-switching", "rail-pressure", "crank-position", "temperature"
SUPPLY, CHARGING, INJ_V, INJ_A = "supply-ground", "charging", "injector-voltage", "injector-current"
PARADE, COIL_A, COIL_V, SPARK = (
    "injector-current-parade",
    "coil-primary-current",
    "coil-primary-voltage",
    "secondary-voltage",
)
MODULE = "igniter-bench"
SOUND_SWEEP = call("sound", "none", [[1.0, 6.5]], "none")

SITTINGS = (
    # --- throttle position: 0.7 V closed, 4.2 V open, 10 to 90 % in 4.4 s ---
    Sitting(
        "sound, read right",
        THROTTLE,
        drawn.throttle,
        {
            "reading-closed_v": value(0.70, 0.5),
            "reading-opening_s": value(4.4, 1.55, 5.95),
            "compare-open_v": state("inside"),
            "call": SOUND_SWEEP,
        },
        {**ALL, "reading:closed_v": 1, "reading:opening_s": 1, "compare:open_v": 1},
    ),
    Sitting(
        "sound, condemned",
        THROTTLE,
        drawn.throttle,
        {"call": call("faulty", "worn-track", [[3.0, 3.2]], "compare-part")},
        {**NOTHING, "capture_quality": 1},
        {"call": "over_called"},
    ),
    Sitting(
        "sound, millivolts typed, compared by them",
        THROTTLE,
        drawn.throttle,
        {"reading-closed_v": value(700, 0.5), "compare-closed_v": state("outside"), "call": SOUND_SWEEP},
        {**ALL, "reading:closed_v": 0.25, "compare:closed_v": 1},
        {"reading:closed_v": "factor_1000", "compare:closed_v": "follow_through"},
    ),
    Sitting(
        "sound, number without a peg, one instant as evidence",
        THROTTLE,
        drawn.throttle,
        {"reading-closed_v": value(0.70), "call": call("sound", "none", [[3.0]], "none")},
        {**ALL, "reading:closed_v": 0.5, "evidence": 0.5},
        {"reading:closed_v": "no_peg"},
    ),
    Sitting(
        "sound, held back",
        THROTTLE,
        drawn.throttle,
        {"call": call("inconclusive", "not-shown", [], "recapture-condition", 50)},
        {"capture_quality": 1, "evidence": 0, "call": 0.4, "cause": 0, "next_test": 0},
        {"call": "held_back"},
    ),
    Sitting(
        "sound, open level read where it is closed, whole stroke for 10 to 90 %",
        THROTTLE,
        drawn.throttle,
        {"reading-open_v": value(0.70, 13.5), "reading-opening_s": value(5.5, 1.0, 6.5), "call": SOUND_SWEEP},
        {**ALL, "reading:open_v": 0.25, "reading:opening_s": 0.25},
        {"reading:open_v": "wrong_phase", "reading:opening_s": "wrong_edge"},
    ),
    Sitting(
        "worn, found in the second sweep, wires next",
        THROTTLE,
        drawn.worn,
        {
            "reading-dropout_depth_v": value(1.2, 14.77),
            "call": call("faulty", "worn-track", [[14.6, 14.9]], "wiring", 95),
        },
        {**ALL, "reading:dropout_depth_v": 1},
        card=MAKER,
    ),
    Sitting(
        "worn, the whole record as evidence, part renewed at once",
        THROTTLE,
        drawn.worn,
        {"call": call("faulty", "worn-track", [[0.0, 27.0]], "compare-part")},
        {**ALL, "evidence": 0, "next_test": 0.5},
        {"next_test": "supply_not_shown"},
        MAKER,
    ),
    Sitting(
        "worn, wires beside it shown good, part renewed",
        THROTTLE,
        partial(drawn.worn, wires=True),
        {"call": call("faulty", "worn-track", [[1.7, 1.9]], "compare-part")},
        ALL,
        card=MAKER,
    ),
    Sitting(
        "worn, passed; the stretch holds the fall that was denied",
        THROTTLE,
        drawn.worn,
        {"reading-dropout_depth_v": ABSENT, "call": call("sound", "none", [[1.0, 6.5]], "none")},
        {**NOTHING, "capture_quality": 1, "reading:dropout_depth_v": 0},
        {"call": "over_passed", "reading:dropout_depth_v": "overlooked"},
        MAKER,
    ),
    Sitting(
        "worn, two places right and one not",
        THROTTLE,
        drawn.worn,
        {"call": call("faulty", "worn-track", [[1.7, 1.9], [12.1, 12.3], [9.0, 9.2]], "supply-ground")},
        {**ALL, "evidence": (0.67, 0.75)},
        card=MAKER,
    ),
    Sitting(
        "one sweep only, cannot tell",
        THROTTLE,
        partial(drawn.throttle, sweeps=1),
        {"call": call("inconclusive", "not-shown", [], "recapture-manoeuvre")},
        {**ALL, "capture_quality": 0},
    ),
    Sitting(
        "one sweep only, passed",
        THROTTLE,
        partial(drawn.throttle, sweeps=1),
        {"call": call("sound", "none", [[1.0, 6.5]], "none", 100)},
        {**NOTHING, "capture_quality": 0},
        {"call": "over_passed"},
    ),
    Sitting(
        "3.77 V open under a maker's 3.6 V, held against common practice",
        THROTTLE,
        partial(drawn.throttle, open_v=3.77),
        {
            "reading-open_v": value(3.77, 7.0),
            "compare-open_v": state("marginal"),
            "call": call("sound", "none", [[14.0, 19.5]], "none"),
        },
        {**ALL, "reading:open_v": 1, "compare:open_v": 0.5},
        {"compare:open_v": "lower_basis"},
        MAKER,
    ),
    Sitting(
        "sweeps of 2 s under the slow school",
        THROTTLE,
        partial(drawn.throttle, way_s=2.0),
        {
            "reading-opening_s": value(1.6, 1.2, 2.8),
            "compare-opening_s": state("outside"),
            "call": call("sound", "none", [[1.0, 3.0]], "none"),
        },
        {**ALL, "capture_quality": 0.75, "reading:opening_s": 1, "compare:opening_s": 1},
    ),
    Sitting(
        "opens to 3.2 V by common practice alone: look it up",
        THROTTLE,
        partial(drawn.throttle, open_v=3.2),
        {
            "reading-open_v": value(3.2, 20.0),
            "compare-open_v": state("outside"),
            "call": call("faulty", "short-travel", [[19.6, 20.4]], "look-up"),
        },
        {**ALL, "reading:open_v": 1, "compare:open_v": 1},
    ),
    Sitting(
        "opens to 3.2 V, misread, the rest follows",
        THROTTLE,
        partial(drawn.throttle, open_v=3.2),
        {"reading-open_v": value(3.9, 7.0), "compare-open_v": state("inside"), "call": SOUND_SWEEP},
        {**NOTHING, "capture_quality": 1, "reading:open_v": 0, "compare:open_v": 1},
        {"compare:open_v": "follow_through", "call": "over_passed"},
    ),
    Sitting(
        "a hot complaint, captured cold, and passed",
        THROTTLE,
        drawn.throttle,
        {"call": SOUND_SWEEP},
        {**NOTHING, "capture_quality": 0},
        {"call": "over_passed"},
        {"complaint": "hot"},
    ),
    Sitting(
        "a hot complaint, captured cold, kept open",
        THROTTLE,
        drawn.throttle,
        {"call": call("inconclusive", "not-shown", [], "recapture-condition")},
        {**ALL, "capture_quality": 0},
        card={"complaint": "hot"},
    ),
    Sitting(
        "a hot complaint; the fault shows all the same",
        THROTTLE,
        drawn.worn,
        {"call": call("faulty", "worn-track", [[25.1, 25.4]], "wiring")},
        ALL,
        card={"complaint": "hot", **MAKER},
    ),
    # --- pedal ---
    Sitting(
        "reference lost with its track: the supply",
        PEDAL,
        drawn.pedal_without_reference,
        {"call": call("faulty", "supply", [[4.0, 4.6]], "controller-feeds")},
        ALL,
    ),
    Sitting(
        "reference lost, the pedal blamed and renewed",
        PEDAL,
        drawn.pedal_without_reference,
        {"call": call("faulty", "pedal", [[4.0, 4.6]], "compare-part")},
        {"capture_quality": 1, "evidence": 1, "call": 1, "cause": (0, 0.5), "next_test": 0.5},
        {"next_test": "supply_not_shown"},
    ),
    # --- manifold pressure ---
    Sitting(
        "sound, levels read, snap shown",
        MANIFOLD,
        drawn.manifold,
        {
            "reading-idle_v": value(1.3, 5.0),
            "reading-key_on_v": value(4.5, 1.0),
            "compare-idle_v": state("inside"),
            "call": call("sound", "none", [[7.9, 8.8]], "none"),
        },
        {**ALL, "reading:idle_v": 1, "reading:key_on_v": 1, "compare:idle_v": 1},
    ),
    Sitting(
        "slow rise, the exhaust next",
        MANIFOLD,
        partial(drawn.manifold, rise_s=0.35),
        {
            "reading-rise_ms": value(280, 8.035, 8.315),
            "compare-rise_ms": state("outside"),
            "call": call("faulty", "breathing", [[8.0, 8.5]], "exhaust"),
        },
        {**ALL, "reading:rise_ms": 1, "compare:rise_ms": 1},
    ),
    Sitting(
        "no snap in the record, cannot tell; the peak is not there",
        MANIFOLD,
        partial(drawn.manifold_cut, 7.5),
        {"reading-snap_peak_v": ABSENT, "call": call("inconclusive", "not-shown", [], "recapture-manoeuvre")},
        {**ALL, "capture_quality": 0, "reading:snap_peak_v": 1},
    ),
    # --- airflow ---
    Sitting(
        "element contaminated: idle good, load low; wires were shown good",
        AIRFLOW,
        partial(drawn.airflow, v_2500=1.25, v_4000=1.4, surge=1.7, dip=1.3, top=1.5),
        {
            "reading-idle_v": value(1.05, 5.0),
            "call": call("faulty", "contaminated", [[10.8, 12.8]], "compare-part"),
        },
        {**ALL, "reading:idle_v": 1, "next_test": (1, 0.5)},
    ),
    Sitting(
        "key-on level read at idle",
        AIRFLOW,
        drawn.airflow,
        {"reading-key_on_v": value(1.05, 5.0), "call": call("sound", "none", [[10.6, 13.0]], "none")},
        {**ALL, "reading:key_on_v": 0.25},
        {"reading:key_on_v": "wrong_phase"},
    ),
    # --- oxygen ---
    Sitting(
        "sound, period given for frequency",
        OXYGEN,
        drawn.switching,
        {"reading-crossings_hz": value(0.67), "call": call("sound", "none", [[3.0, 8.0]], "none")},
        {**ALL, "reading:crossings_hz": 0.25, "evidence": (1, 1)},
        {"reading:crossings_hz": "period_for_frequency"},
    ),
    Sitting(
        "lazy, the sensor renewed at once",
        OXYGEN,
        partial(drawn.switching, tau_s=0.2, hertz=0.7),
        {"call": call("faulty", "sensor", [[2.0, 6.0]], "compare-part")},
        {**ALL, "next_test": 0.5},
        {"next_test": "supply_not_shown"},
    ),
    # --- rail ---
    Sitting(
        "builds slowly: fuel supply first",
        RAIL,
        partial(drawn.rail, build_s=2.4),
        {"call": call("faulty", "fuel", [[2.0, 4.4]], "fuel-supply")},
        ALL,
    ),
    # --- crank ---
    Sitting(
        "a damaged tooth, shown in the third turn",
        CRANK,
        partial(drawn.crank, drop=21),
        {
            "reading-rpm": value(900),
            "reading-teeth_per_rev": value(60),
            "call": call("faulty", "wheel", [[0.1555, 0.1595]], "inspect-wheel"),
        },
        {**ALL, "reading:rpm": 1, "reading:teeth_per_rev": 1},
    ),
    Sitting(
        "a sound wheel, two turns shown, teeth counted without the gap",
        CRANK,
        drawn.crank,
        {"reading-teeth_per_rev": value(58), "call": call("sound", "none", [[0.10, 0.24]], "none")},
        {**ALL, "reading:teeth_per_rev": 0},
    ),
    # --- temperature ---
    Sitting(
        "a loose wire's leap",
        TEMPERATURE,
        partial(drawn.temperature, 2.0, loose=True),
        {"reading-volts": value(2.0, 3.0), "call": call("faulty", "wiring", [[6.9, 7.2]], "wiring")},
        {**ALL, "reading:volts": 1},
    ),
    # --- supplies ---
    Sitting(
        "ground at 0.25 V",
        SUPPLY,
        partial(drawn.feeds, ground=0.25),
        {
            "reading-ground_v": value(0.25, 1.0),
            "compare-ground_v": state("outside"),
            "call": call("faulty", "ground-drop", [[0.5, 1.0]], "supply-ground"),
        },
        {**ALL, "reading:ground_v": 1, "compare:ground_v": 1},
    ),
    Sitting(
        "ground at 0.103 V is marginal, called outside and condemned",
        SUPPLY,
        partial(drawn.feeds, ground=0.103),
        {
            "reading-ground_v": value(0.103, 1.0),
            "compare-ground_v": state("outside"),
            "call": call("faulty", "ground-drop", [[0.5, 1.0]], "look-up"),
        },
        {
            "capture_quality": 1,
            "reading:ground_v": 1,
            "compare:ground_v": 0.5,
            "evidence": 0.5,
            "call": 0,
            "cause": 0,
            "next_test": 1,
        },
        {"call": "over_called"},
    ),
    # --- charging ---
    Sitting(
        "overcharge with the command at rest: the regulator, evidence in the event",
        CHARGING,
        partial(drawn.charging, event=1.6),
        {
            "reading-sense_max_v": value(15.7, 6.0),
            "call": call("faulty", "regulator", [[5.2, 7.8]], "supply-ground"),
        },
        {**ALL, "reading:sense_max_v": 1},
    ),
    Sitting(
        "sound charging, one second of it shown",
        CHARGING,
        drawn.charging,
        {"reading-sense_v": value(14.1, 3.0), "call": call("sound", "none", [[2.0, 4.0]], "none")},
        {**ALL, "reading:sense_v": 1},
    ),
    # --- injectors ---
    Sitting(
        "sound wire, on-time to the bump",
        INJ_V,
        drawn.injector_wire,
        {"reading-on_ms": value(4.1, 0.095, 0.0991), "call": call("sound", "none", [[0.09, 0.26]], "none")},
        {**ALL, "reading:on_ms": 0.25},
        {"reading:on_ms": "wrong_edge"},
    ),
    Sitting(
        "needle does not move: shown in the fourth pulse, driver's ground next",
        INJ_V,
        partial(drawn.injector_wire, bump_ms=None),
        {"reading-kick_v": value(68, 0.0981), "call": call("faulty", "needle", [[0.243, 0.252]], "supply-ground")},
        {**ALL, "reading:kick_v": 1},
    ),
    Sitting(
        "clamp factor ten times too large, put right by the tool, called on the right values",
        INJ_A,
        partial(drawn.injector_amps, scale=10.0),
        {"reading-on_ms": value(3.0, 0.095, 0.098), "call": call("sound", "none", [[0.09, 0.26]], "none")},
        {**ALL, "capture_quality": 0, "reading:on_ms": 1},
    ),
    Sitting(
        "clamp factor ten times too large, to be captured again",
        INJ_A,
        partial(drawn.injector_amps, scale=10.0),
        {"call": call("inconclusive", "connection", [], "recapture-secure")},
        {**ALL, "capture_quality": 0},
    ),
    Sitting(
        "one injector weak, its current read on another",
        PARADE,
        partial(drawn.parade, 0.5),
        {
            "reading-peak_a@3": value(0.83, 0.0229),
            "call": call("faulty", "winding", [[0.2045, 0.2090]], "resistance"),
        },
        {**ALL, "reading:peak_a@3": 0.25},
        {"reading:peak_a@3": "wrong_cylinder"},
        FOUR,
    ),
    # --- coils and sparks ---
    Sitting(
        "sound coil, dwell measured to the end of the burn",
        COIL_V,
        drawn.coil_wire,
        {"reading-dwell_ms": value(4.4, 0.095, 0.0994), "call": call("sound", "none", [[0.09, 0.26]], "none")},
        {**ALL, "reading:dwell_ms": 0.25},
        {"reading:dwell_ms": "wrong_edge"},
    ),
    Sitting(
        "burn of 0.5 ms, the driver blamed and renewed",
        COIL_V,
        partial(drawn.coil_wire, burn_ms=0.5),
        {
            "reading-burn_ms": value(0.5, 0.098, 0.0985),
            "compare-burn_ms": state("outside"),
            "call": call("faulty", "driver", [[0.097, 0.100]], "compare-part"),
        },
        {**ALL, "reading:burn_ms": 1, "compare:burn_ms": 1, "cause": 0, "next_test": 0.5},
        {"next_test": "controller_before_grounds"},
    ),
    Sitting(
        "cylinder 3 needs 18 kV, shown in its third firing",
        SPARK,
        partial(drawn.secondary, peak=18.0),
        {
            "reading-firing_kv@3": value(18.0, 0.057),
            "call": call("faulty", "secondary", [[0.3525, 0.3545]], "inspect-plug"),
        },
        {**ALL, "reading:firing_kv@3": 1},
        card=FOUR,
    ),
    Sitting(
        "cylinder 3 needs 18 kV, passed on cylinder 1",
        SPARK,
        partial(drawn.secondary, peak=18.0),
        {
            "reading-firing_kv@3": value(10.0, 0.020),
            "call": call("sound", "none", [[0.015, 0.075]], "none", 100),
        },
        {**NOTHING, "capture_quality": 1, "reading:firing_kv@3": 0.25},
        {"reading:firing_kv@3": "wrong_cylinder", "call": "over_passed"},
        FOUR,
    ),
    Sitting(
        "a coil that peaks low, supply before the swap",
        COIL_A,
        partial(drawn.coil_amps, peak=4.5),
        {
            "reading-peak_a@3": value(4.5, 0.0599),
            "call": call("faulty", "coil", [[0.2050, 0.2085]], "supply-ground"),
        },
        {**ALL, "reading:peak_a@3": 1, "cause": (1, 1)},
        card=FOUR,
    ),
    # --- module on the bench ---
    Sitting(
        "passes cold on the bench: cannot tell when hot",
        MODULE,
        drawn.module,
        {
            "reading-output_low_ms": value(3.4),
            "call": call("inconclusive", "not-shown", [], "heat"),
        },
        {**ALL, "capture_quality": 1, "reading:output_low_ms": 0.5},
        {"reading:output_low_ms": "no_peg"},
    ),
    Sitting(
        "passes cold on the bench, passed",
        MODULE,
        drawn.module,
        {"call": call("sound", "none", [[0.2, 1.5]], "none", 100)},
        {**NOTHING, "capture_quality": 1},
        {"call": "over_passed"},
    ),
    Sitting(
        "misses two triggers",
        MODULE,
        partial(drawn.module, (3, 7)),
        {
            "reading-misses_count": value(2),
            "call": call("faulty", "module", [[1.7, 2.1]], "driver-ground"),
        },
        {**ALL, "reading:misses_count": 1},
    ),
)
