"""Other sensors, supplies and charging: sittings with the marks of two passes."""

from functools import partial

from tests.marked import drawings as drawn
from tests.marked.sitting import (
    ABSENT,
    AIRFLOW,
    ALL,
    CHARGING,
    CRANK,
    MANIFOLD,
    OXYGEN,
    PEDAL,
    RAIL,
    SUPPLY,
    TEMPERATURE,
    Sitting,
    call,
    state,
    value,
)

SENSOR_SITTINGS = (
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
)
