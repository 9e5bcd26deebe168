"""Injectors, coils, sparks and the module on the bench: sittings with the marks of two passes."""

from functools import partial

from tests.marked import drawings as drawn
from tests.marked.sitting import (
    ALL,
    COIL_A,
    COIL_V,
    FOUR,
    INJ_A,
    INJ_V,
    MODULE,
    NOTHING,
    PARADE,
    SPARK,
    Sitting,
    call,
    state,
    value,
)

EVENT_SITTINGS = (
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
