"""Manifold pressure: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Manifold pressure, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 34,
        "notes": "Throttle and oxygen beside it: the three explain each other.",
        "tags": (
            ("key_on", "Key on: the sensor is a barometer. Hold it against the day's air pressure."),
            ("snap", "The pressure follows the throttle at once, to nearly the air outside."),
            ("overrun", "Throttle shut at speed: lower than idle. Rings, valves and gaskets seal."),
        ),
    },
    {
        "title": "Manifold pressure, vacuum leak",
        "vehicle": "hatchback",
        "part": {"fault": "leak", "severity": 1.0},
        "seed": 35,
        "notes": "Hose off the brake servo. Idle hunts and is too fast.",
        "tags": (
            (
                "high_idle_pressure",
                "Idle is far too near the air outside: air comes in that nobody asked for.",
            ),
            ("overrun", "Even the overrun gains less than it should."),
        ),
    },
    {
        "title": "Manifold pressure, blocked hose",
        "vehicle": "van",
        "part": {"fault": "slow-hose", "severity": 1.0},
        "seed": 36,
        "notes": "Carbon in the hose to the sensor.",
        "tags": (
            (
                "slow_rise",
                "The throttle is open long before the pressure knows: the sensor hears through a straw.",
            ),
        ),
    },
)

READY = {
    "sound": "After a new inlet gasket: prove that the manifold holds its vacuum and the sensor follows.",
    "plain": ("leak", "Idles high and hunts when cold; somebody has already cleaned the throttle."),
    "hard": ("slow-hose", "Hesitates when the pedal is stabbed and recovers at once."),
}
