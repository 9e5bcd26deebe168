"""Who and what the demo is about. All names, places and figures are invented."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

SCHOOL = "Saltmarsh Quay Workshops"
PASSWORD = "harbour-light"  # noqa: S105 - meant to be known
"""Sign-in password of every demo account; ./start prints it."""

COURSE = "Evening class 2, Saltmarsh Quay"

ADMINISTRATOR = ("admin", "Workshop office")
INSTRUCTOR = ("instructor", "Wenna Tarrow")
COLLEAGUE = ("colleague", "Jory Pendeen")
"""Marks some of the class a second time."""


@dataclass(frozen=True, slots=True)
class Learner:
    """`able` 0-1 per skill area: setting up, measuring, concluding; `bold` makes confidence outrun it."""

    sign_in: str
    name: str
    setting_up: float
    measuring: float
    concluding: float
    bold: float = 0.0


LEARNERS = (
    Learner("learner", "Pell Arkin", 0.85, 0.8, 0.7),
    Learner("brisa", "Brisa Halloway", 0.95, 0.95, 0.92),
    Learner("corrin", "Corrin Vask", 0.5, 0.7, 0.45, 0.4),
    Learner("dunya", "Dunya Merrit", 0.8, 0.55, 0.8),
    Learner("eskil", "Eskil Thorne", 0.35, 0.4, 0.35, 0.5),
    Learner("fenna", "Fenna Oswick", 0.9, 0.85, 0.55),
    Learner("garrow", "Garrow Lisk", 0.7, 0.9, 0.85),
    Learner("hesper", "Hesper Quoyle", 0.6, 0.6, 0.6, 0.2),
    Learner("idris", "Idra Sennet", 0.75, 0.7, 0.9),
)

VEHICLES = (
    ("Bay 1, grey hatchback", "1.4 petrol, cable throttle", "Bay 1"),
    ("Bay 2, white van", "1.6 petrol, cable throttle", "Bay 2"),
    ("Bench board 3", "Throttle body on a board", "Bench"),
    ("Bay 3, blue pickup", "2.2 diesel, common rail", "Bay 3"),
)

MAKER_LIMITS = [
    {"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker"},
    {"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"},
]


TAUGHT = (
    "Throttle position, sound",
    "Throttle position, worn near idle",
    "Throttle position, sound, van",
    "Throttle position, does not open fully",
    "Throttle position, ground open",
    "Throttle position, closed level low",
    "Throttle position, probe slipped",
)
"""References that the class is at, by their titles; cards name them by their place here."""


READINGS = ("closed_v", "open_v", "opening_s", "dropout_depth_v")
COMPARED = ("closed_v", "open_v")
PROVED = ("closed_v", "open_v", "open_spread_v", "opening_s", "closing_s", "sweeps_count")
"""Readings of cards on which a part may well be sound: a call by luck leaves more to read."""

PROMPTS = {
    "closed_v": "What is the level with the throttle closed?",
    "open_v": "What is the level held wide open?",
    "open_spread_v": "By how much do the sweeps differ, held wide open?",
    "opening_s": "How long does the slowest opening take, from 10 to 90 %?",
    "closing_s": "And the slowest closing, from 90 to 10 %?",
    "dropout_depth_v": "Does the signal leave its path anywhere? How deep is the deepest fall?",
    "sweeps_count": "How many complete sweeps does the record hold?",
}

SHOWN = {"unshown": 0.0, "instant": 0.25, "no_peg": 0.25}
"""Rubric of the demo's cards: a call counts as far as it is shown, a value little without its peg."""


@dataclass(frozen=True, slots=True)
class DemoCard:
    title: str
    brief: str
    source: dict[str, Any]
    reference: int
    due_days: int
    attempts: int
    began_days_ago: int
    readings: tuple[str, ...] = READINGS


CARDS = (
    DemoCard(
        "Hesitates pulling away",
        "The owner says it stumbles just off idle, warm or cold. No codes. Scan data look normal. Sweep the throttle "
        "slowly with the key on and the engine off, find out whether the sensor is to blame, and say what you would "
        "do next.",
        {"kind": "trainer", "fault": "worn-idle", "severity": 1.0, "vehicle": "Bay 1, grey hatchback"}
        | {"instead": ["none", "high-closed"]},
        0,
        -21,
        2,
        27,
    ),
    DemoCard(
        "After the repair",
        "The throttle sensor has just been renewed by a colleague. Prove the repair with a capture under the same "
        "conditions as before.",
        {"kind": "trainer", "fault": "none", "severity": 0.9, "vehicle": "Bay 1, grey hatchback"}
        | {"instead": ["short-travel", "worn-mid"]},
        0,
        -12,
        1,
        17,
        PROVED,
    ),
    DemoCard(
        "Lacks top speed",
        "Pulls well but will not rev out. The air filter is new. Is full throttle reaching the controller?",
        {"kind": "trainer", "fault": "short-travel", "severity": 0.8, "vehicle": "Bay 2, white van"}
        | {"instead": ["none", "worn-mid"]},
        2,
        3,
        2,
        8,
    ),
    DemoCard(
        "Your own capture",
        "On a vehicle of your own choice, or one in the bays: two slow sweeps, key on, engine off. Bring the file "
        "from your scope.",
        {"kind": "upload"},
        0,
        10,
        3,
        5,
        PROVED,
    ),
)

PRACTICE_CARD = DemoCard(
    "Practice: a sweep against the clock",
    "For practice only: nobody settles it, and you see at once how you did. Two slow sweeps, read the levels, and say "
    "whether this sensor is sound. Everybody has another sensor, and each attempt is a new one.",
    {"kind": "trainer", "fault": "high-closed", "severity": 0.9, "vehicle": "Bench board 1"}
    | {"varied": True, "instead": ["none", "worn-idle", "short-travel"]},
    0,
    30,
    10,
    1,
)

GIVEN_CARD = DemoCard(
    "A trace from another workshop",
    "A colleague at another workshop sends a record and asks what you make of it: it stumbles just off idle, no codes. "
    "Nothing else is known. Read it, and say what you would answer.",
    {"kind": "shelf"},
    0,
    13,
    1,
    2,
)
GIVEN = 1
"""Which reference's capture it gives."""

LOOM_CARD = DemoCard(
    "Three wires without a diagram",
    "A van with a loom that somebody has repaired before: the colours are no help. Tell the wires of the throttle "
    "sensor apart with a meter, set the scope up, take two slow sweeps, and explain what you found to the owner.",
    {"kind": "trainer", "fault": "none", "severity": 0.9, "vehicle": "Bay 2, white van"}
    | {"instead": ["worn-mid", "short-travel"]},
    2,
    12,
    2,
    2,
)
LOOM_STEPS: tuple[dict[str, Any], ...] = (
    {"kind": "cautions", "prompt": "Read before you begin."},
    {
        "kind": "connect",
        "prompt": "Key on, engine off: which wire is which, and what goes where?",
        "asks": ["ground", "probe"],
        "wires": [
            {"label": "Brown", "seen": "5.01 V, stays as the pedal moves", "lane": "reference"},
            {"label": "Grey", "seen": "0.62 V, rises to 4.1 V as the pedal moves", "lane": "signal"},
            {"label": "White", "seen": "0.02 V, stays as the pedal moves", "lane": "ground"},
        ],
    },
    {
        "kind": "set_up",
        "prompt": "Two slow sweeps, 4 s or more each way: range, length and rate?",
        "highest": 5.0,
        "lasts_s": 20.0,
        "sees_s": 0.01,
    },
    {"kind": "capture", "prompt": "Two slow sweeps, 4 s or more each way, key on, engine off."},
    {"kind": "name", "prompt": "Put each name on its part.", "names": ["closed", "opening", "open", "closing"]},
    {"kind": "reading", "reading": "closed_v", "prompt": "What is the level with the throttle closed?"},
    {"kind": "reading", "reading": "open_v", "prompt": "And held fully open?"},
    {
        "kind": "work_out",
        "calculation": "transfer",
        "prompt": "0.60 V stands for 0 %, 4.20 V for 100 % of the travel. What does your open level stand for?",
        "figures": {"low_v": 0.6, "low": 0.0, "high_v": 4.2, "high": 100.0},
        "readings": {"volts": "open_v"},
    },
    {
        "kind": "record",
        "of": "voltage",
        "least": 2,
        "prompt": "Check supply and ground at the plug, loaded: write down what the meter says.",
    },
    {
        "kind": "record",
        "of": "meter-sweep",
        "least": 5,
        "prompt": "What did the meter on the signal's wire show meanwhile? What could it not have shown?",
    },
    {"kind": "compare", "reading": "open_v", "prompt": "Hold your reading against the limit."},
    {
        "kind": "compare",
        "reading": "closed_v",
        "against": "reference",
        "within_pct": 10,
        "prompt": "Is it like the sound sensor of a van like this?",
    },
    {"kind": "spot", "among": "lane", "prompt": "Is one of the three lanes not as it should be?"},
    {
        "kind": "call",
        "prompt": "Sound, faulty, or cannot tell yet? Say what shows it.",
        "asks": ["ruled_out", "otherwise"],
    },
    {
        "kind": "explain",
        "prompt": "The owner has been told that the sensor is worn. What do you tell them?",
        "phrases": ["no gap in either sweep", "both levels inside the limits", "what was not looked at"],
    },
)
"""Every kind of step on one card."""

SLOW_CARD = DemoCard(
    "Hesitates, then goes",
    "Since the intake was off it hesitates when the pedal goes down and then pulls as it should. No codes. Take the "
    "manifold pressure from key on through idle and a snap, and find out what is late.",
    {"kind": "trainer", "fault": "slow-hose", "severity": 1.0, "vehicle": "Bay 1, grey hatchback"}
    | {"instead": ["leak", "none", "restricted-exhaust"]},
    0,
    11,
    2,
    2,
)
SLOW_CIRCUIT, SLOW_REFERENCE = "manifold-pressure", "Manifold pressure, sound"
SLOW_STEPS: tuple[dict[str, Any], ...] = (
    {"kind": "cautions", "prompt": "Read before you begin."},
    {"kind": "capture", "prompt": "From key on through idle and a snap into the overrun, 2,000 samples a second."},
    {"kind": "reading", "reading": "idle_v", "prompt": "What does it show at idle?"},
    {
        "kind": "work_out",
        "calculation": "response",
        "comes_to": "rise_ms",
        "prompt": "How long does the pressure take from 10 to 90 % of its rise in the snap?",
    },
    {
        "kind": "compare",
        "reading": "idle_v",
        "against": "reference",
        "prompt": "Is the idle like that of the sound engine?",
    },
    {
        "kind": "compare",
        "reading": "rise_ms",
        "against": "reference",
        "within_pct": 25,
        "prompt": "And does it rise as fast?",
    },
    {
        "kind": "call",
        "prompt": "Sound, faulty, or cannot tell yet? Say what shows it.",
        "asks": ["otherwise"],
    },
)
"""A response timed by hand, and two readings held beside a sound engine's."""

EVENT_CARD = DemoCard(
    "Rough on wet mornings",
    "One coil and a distributor. It runs rough on wet mornings and evens out once it is dry. Take the secondary with "
    "the pickup over all leads and the trigger on cylinder 1, and say what you see.",
    {
        "kind": "trainer",
        "fault": "short-burn",
        "severity": 1.0,
        "layout": "distributor",
        "vehicle": "Bay 3, red estate",
    },
    0,
    4,
    2,
    4,
)
EVENT_RECORD = (
    "spark-gap",
    [{"tower": tower, "gap_mm": gap} for tower, gap in (("1", "13"), ("3", "6"), ("4", "12"), ("2", "13"))],
)
"""What the learners measured with a gap tester besides: the lead of cylinder 3 jumps half as far."""


@dataclass(frozen=True, slots=True)
class OtherCard:
    """A card on another circuit than the throttle's. A reading of one cylinder is written burn_ms@3.

    `sat_by` are the places in the class of those who did it: the first one's is released, the others' wait.
    """

    card: DemoCard
    circuit: str
    reference: str
    prompt: str
    readings: tuple[str, ...]
    compared: tuple[str, ...]
    manoeuvre: str
    duration_s: float
    sat_by: tuple[int, ...]
    complaint: str = "always"
    schools: dict[str, str] = field(default_factory=dict)
    record: tuple[str, list[dict[str, str]]] | None = None
    points: dict[str, float] = field(default_factory=dict)


OTHER_CARDS = (
    OtherCard(
        DemoCard(
            "Stalls when hot",
            "Stalls at the lights after half an hour on the road, starts again once it has stood. It is cold now: it "
            "was towed in yesterday. Take crank and cam at idle and say what you can say.",
            {"kind": "trainer", "fault": "none", "vehicle": "Bay 2, white van"},
            0,
            6,
            2,
            6,
        ),
        "crank-position",
        "Crank and cam, sound",
        "A second at idle, 100,000 samples a second, 10 V.",
        ("teeth_per_rev", "gap_teeth", "amplitude_v", "tooth_spread_pct", "rpm"),
        (),
        "idle",
        1.0,
        (1, 5),
        complaint="hot",
        # What would show it is not in the record: nothing needs be pointed at, and that should earn little.
        points={"evidence": 1.0},
    ),
    OtherCard(
        DemoCard(
            "Shakes at idle",
            "Shakes at idle and is smooth on the road. The misfire counter names cylinder 3. Clamp the feed of all "
            "injectors, trigger on cylinder 1.",
            {"kind": "trainer", "fault": "high-resistance", "cylinder": 3, "vehicle": "Bay 1, grey hatchback"},
            0,
            8,
            2,
            4,
        ),
        "injector-current-parade",
        "Injector parade, sound",
        "Two seconds at idle, 100,000 samples a second. Zero the clamp first.",
        ("peak_a@3", "peak_a@1", "on_ms"),
        (),
        "idle",
        1.5,
        (2, 6),
        schools={"dead-cylinder": "swap"},
    ),
    OtherCard(
        DemoCard(
            "No power uphill",
            "Idles well, starts well, will not pull uphill. The air filter and the fuel filter are new. Manifold "
            "pressure through a snap, throttle beside it.",
            {"kind": "trainer", "fault": "restricted-exhaust", "severity": 1.0, "vehicle": "Bay 1, grey hatchback"}
            | {"instead": ["slow-hose", "none"]},
            0,
            9,
            2,
            3,
        ),
        "manifold-pressure",
        "Manifold pressure, sound",
        "From key on through idle and a snap into the overrun, 2,000 samples a second.",
        ("idle_v", "snap_peak_v", "rise_ms"),
        ("rise_ms",),
        "snap",
        19.0,
        (3, 7),
        complaint="load",
    ),
    OtherCard(
        EVENT_CARD,
        "secondary-voltage",
        "Secondary, sound",
        "Idle, 500,000 samples a second, 50 kV.",
        ("firing_kv", "burn_ms"),
        (),
        "idle",
        1.5,
        (0, 1),
        record=EVENT_RECORD,
    ),
)
