"""Wheel speed: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Wheel speed, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 62,
        "notes": "Front left, lifted and spun by hand: pulled once, then let run down.",
        "tags": (("turning", "Every tooth alike: height and rate fall together as it runs down."),),
        "options": {"teeth": "48"},
    },
    {
        "title": "Wheel speed, gap too wide",
        "vehicle": "hatchback",
        "part": {"fault": "weak", "severity": 1.0},
        "seed": 63,
        "notes": "Front right of the same car, after a bearing was renewed. Lamp comes on at walking pace.",
        "tags": (("turning", "Even teeth, a seventh as high as on the other side: the gap, not the ring."),),
        "options": {"teeth": "48"},
    },
    {
        "title": "Wheel speed, ring damaged",
        "vehicle": "van",
        "part": {"fault": "damaged-tooth", "severity": 1.0},
        "seed": 61,
        "notes": "Warning lamp and a pulsing pedal just before it stands. Wheel lifted and spun by hand.",
        "tags": (
            ("turning", "Pulled up and let run down: height and rate fall together."),
            ("tooth_damaged", "One tooth gone at the same place each turn: the ring, not the wire."),
        ),
        "options": {"teeth": "48"},
    },
)

READY = {
    "sound": "New bearing with its ring. Show that the wheel tells its speed evenly.",
    "plain": ("damaged-tooth", "The brake lamp comes on at walking pace and goes out above it."),
    "hard": ("dropout", "The brake lamp blinks once on rough roads, and no code stays."),
    "readings": ("amplitude_v", "tooth_spread_pct"),
}
