"""Coil primary current: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Coil current, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 88,
        "duration_s": 0.8,
        "notes": "All four from the shared fuse, cylinder 1 on the second lane.",
        "tags": (
            ("on", "Dwell: the coil fills with energy. Half of L times the current squared."),
            ("turn_on_ring_a", "Ripple at turn-on: the secondary rings, so it is whole."),
        ),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Coil current, cylinder 3 secondary open",
        "vehicle": "hatchback",
        "part": {"fault": "secondary-open", "severity": 1.0},
        "seed": 89,
        "duration_s": 0.8,
        "notes": "Misfire on 3. Primary good, as it seems.",
        "tags": (
            (
                "turn_on_abnormal",
                "No ripple where the others have it: look at plug, boot and secondary.",
            ),
        ),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Coil current, cylinder 3 dwell short",
        "vehicle": "van",
        "part": {"fault": "short-dwell", "severity": 1.0},
        "seed": 90,
        "duration_s": 0.8,
        "notes": "Misfire under load.",
        "tags": (("short_dwell", "Filled for too short a time: less current, less spark."),),
        "options": {"firing_order": "1-3-4-2"},
    },
)

READY = {
    "sound": "New coils all round. Do they all charge alike?",
    "plain": ("secondary-open", "Misses on one cylinder, worse in the wet."),
    "hard": ("short-dwell", "Weak at high speed only."),
}
