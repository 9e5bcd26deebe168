"""Secondary voltage: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Secondary, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 94,
        "duration_s": 2.5,
        "notes": "Idle and a snap. Pickup with its factor told.",
        "tags": (
            ("firing", "Firing line: what the gap needs at this pressure."),
            ("burn", "Spark line: steady, a millisecond or more."),
            ("snap_burn_ms", "Under load it burns shorter, and must still burn."),
        ),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Secondary, cylinder 3 fails under load",
        "vehicle": "van",
        "part": {"fault": "weak-coil", "severity": 1.0},
        "seed": 95,
        "duration_s": 2.5,
        "notes": "Bucks on hills, idles well.",
        "tags": (
            (
                "burn_collapses_on_snap",
                "At idle no different from the others; in the snap the burn collapses.",
            ),
        ),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Secondary, cylinder 3 plug fouled",
        "vehicle": "hatchback",
        "part": {"fault": "fouled", "severity": 1.0},
        "seed": 96,
        "manoeuvre": "idle",
        "duration_s": 0.6,
        "notes": "Oil burner.",
        "tags": (("low_firing", "Fires far too easily: over soot, not over the gap."),),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Secondary, cylinder 3 gap too wide",
        "vehicle": "van",
        "part": {"fault": "wide-gap", "severity": 1.0},
        "seed": 97,
        "manoeuvre": "idle",
        "duration_s": 0.6,
        "notes": "Worn plugs.",
        "tags": (("high_firing", "Needs twice what the others need."),),
        "options": {"firing_order": "1-3-4-2"},
    },
)

READY = {
    "sound": "New plugs and leads. Show each cylinder's firing and burn.",
    "plain": ("fouled", "Oil on one plug; it was cleaned and put back."),
    "hard": ("weak-coil", "Misses only when pulling hard in a high gear."),
}
